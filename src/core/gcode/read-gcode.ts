import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import { LayerBook, MOST_EVENTS } from './layers.ts';
import { Machine, STATE, type Meaning } from './machine.ts';
import { makeReport, type GcodeReport } from './report.ts';
import { LineScanner } from './scanner.ts';
import { eachChunk, type ByteSource } from './source.ts';

export type GcodeFault = Fault<
  | 'empty'
  | 'blank'
  | 'zip'
  | 'picture'
  | 'binary'
  | 'no-lines'
  | 'no-moves'
  | 'nothing-laid'
  | 'no-layers'
  | 'too-many-events'
>;

/** Bytes without a single line end after which a file is no text of lines. */
const MOST_WITHOUT_LINES = 4 << 20;
/** Bytes at the beginning that are looked at before anything is read. */
const HEAD_BYTES = 4096;

export interface ReadOptions {
  /** Of the printer, mm/s2; Infinity (as by default) gives way over speed. */
  readonly accelerationMmS2?: number;
  /** See `Motion`. */
  readonly cornerMmS?: number | undefined;
  readonly chunkBytes?: number;
}

/**
 * Reads a sliced file of any size in one pass (a second one where it turns out that filament is meant otherwise than taken).
 * Memory does not grow with the file, only with its layers.
 * @throws Cancelled
 */
export async function readGcode(
  source: ByteSource,
  { accelerationMmS2 = Infinity, cornerMmS, chunkBytes }: ReadOptions = {},
  checkpoint: Checkpoint = noCheckpoint,
): Promise<Result<GcodeReport, GcodeFault>> {
  const head = await source.read(0, Math.min(source.size, HEAD_BYTES));
  const foreign = isBlank(head) && source.size <= HEAD_BYTES ? 'empty' : whatElse(head);
  if (foreign) return fail(foreign);
  let meaning: Meaning = { gSetsFilament: false, relativeFromStart: false };
  for (let pass = 0; ; pass += 1) {
    const book = new LayerBook({ accelerationMmS2, cornerMmS });
    const machine = new Machine(book, meaning);
    const scanner = new LineScanner(machine);
    const state = { endless: false };
    await eachChunk(
      source,
      (chunk, read) => {
        if (state.endless) return;
        checkpoint(Math.min(1, read / source.size));
        scanner.feed(chunk);
        state.endless = read > MOST_WITHOUT_LINES && scanner.lineNumber === 0;
      },
      chunkBytes === undefined ? {} : { chunkBytes },
    );
    if (state.endless) return fail('no-lines');
    const openEnd = scanner.waiting;
    scanner.end();
    book.end();
    const other = machine.otherMeaning();
    if (other && pass === 0) {
      meaning = other;
      continue;
    }
    if (book.tooManyHeights) return fail('no-layers');
    if (book.tooManyEvents) return fail('too-many-events', undefined, String(MOST_EVENTS));
    if (!book.moved)
      return isBlank(head)
        ? fail('blank', undefined, String(scanner.lineNumber))
        : fail('no-moves');
    if (book.records.length === 0) return fail('nothing-laid');
    return succeed(
      makeReport(book, {
        bytes: source.size,
        crlf: scanner.crlf,
        openEnd,
        meaning,
        relative: machine.state[STATE.absoluteE] === 0,
      }),
    );
  }
}

const isBlank = (bytes: Uint8Array): boolean =>
  bytes.every((byte) => byte === 32 || byte === 9 || byte === 10 || byte === 13);

/** What a file is, where its beginning says that it is no G-code. */
function whatElse(head: Uint8Array): GcodeFault['code'] | null {
  if (head.length === 0) return 'empty';
  const begins = (...bytes: number[]): boolean => bytes.every((byte, i) => head[i] === byte);
  if (begins(0x50, 0x4b, 3, 4) || begins(0x1f, 0x8b)) return 'zip';
  const picture =
    begins(0x89, 0x50, 0x4e, 0x47) ||
    begins(0xff, 0xd8, 0xff) ||
    begins(0x47, 0x49, 0x46, 0x38) ||
    begins(0x42, 0x4d) ||
    (begins(0x52, 0x49, 0x46, 0x46) && head[8] === 0x57);
  if (picture && head.some((byte) => byte === 0)) return 'picture';
  const control = head.reduce((sum, b) => sum + (b < 9 || (b > 13 && b < 32) ? 1 : 0), 0);
  return control > head.length / 100 ? 'binary' : null;
}
