import { strFromU8, strToU8 } from 'fflate';
import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import { OWN_MARK } from './weave.ts';
import { eachChunk, type ByteSource, type Change } from './source.ts';

/** What of our own stands in a file. */
export interface OwnLines {
  /** What takes it out, byte for byte. */
  readonly cuts: readonly Change[];
  readonly blocks: number;
  readonly off: number;
  /** Stamps that the blocks carry. */
  readonly stamps: readonly string[];
}

const AT = 64;
const LF = 10;
const MARK = strToU8(OWN_MARK);
/** Bytes that are looked at behind a mark; no line of ours that begins or ends a block is longer. */
const LONGEST_MARK = 400;

/**
 * Finds all that was put into a file. It looks for one rare byte, so it is faster than reading lines.
 * @returns `broken-block` where one begins that never ends, or ends without a beginning: someone changed it by hand
 */
export async function findOwnLines(
  source: ByteSource,
  checkpoint: Checkpoint = noCheckpoint,
): Promise<Result<OwnLines, Fault<'broken-block'>>> {
  const starts = await markStarts(source, checkpoint);
  const cuts: Change[] = [];
  const stamps = new Set<string>();
  let blocks = 0;
  let off = 0;
  let open: { readonly at: number; readonly name: string } | null = null;
  for (const at of starts) {
    const bytes = await source.read(at, Math.min(source.size, at + LONGEST_MARK));
    const end = bytes.indexOf(LF);
    const length = end < 0 ? bytes.length : end + 1;
    const line = strFromU8(bytes.subarray(0, length), true).trimEnd();
    const [, word = '', name = ''] = /^;@strata (\w+) ?(\w+ \d+)?/.exec(line) ?? [];
    if (word === 'off' && !open) {
      off += 1;
      cuts.push({ at, cut: MARK.length + 'off '.length });
    } else if (word === 'begin' && !open) {
      open = { at, name };
      const stamp = /stamp (\S+)/.exec(line)?.[1];
      if (stamp !== undefined) stamps.add(stamp);
    } else if (word === 'end' && open?.name === name) {
      cuts.push({ at: open.at, cut: at + length - open.at });
      blocks += 1;
      open = null;
    } else return fail('broken-block', undefined, line.slice(0, 80));
  }
  if (open) return fail('broken-block', undefined, `${OWN_MARK}begin ${open.name}`);
  return succeed({ cuts, blocks, off, stamps: [...stamps] });
}

/** First bytes of the lines that begin with our mark. */
async function markStarts(source: ByteSource, checkpoint: Checkpoint): Promise<number[]> {
  const starts: number[] = [];
  // A mark may lie across two chunks: the last bytes of each are looked at again with the next.
  let tail: Uint8Array = new Uint8Array(0);
  let read = 0;
  const look = (bytes: Uint8Array, before: number, most: number): void => {
    for (let at = bytes.indexOf(AT); at >= 0 && at < most; at = bytes.indexOf(AT, at + 1)) {
      const start = at - 1;
      if (start < 0 || start + MARK.length > bytes.length) continue;
      if (!MARK.every((byte, i) => bytes[start + i] === byte)) continue;
      if (before + start === 0 || (start > 0 && bytes[start - 1] === LF))
        starts.push(before + start);
    }
  };
  await eachChunk(source, (chunk, upTo) => {
    checkpoint(Math.min(1, upTo / source.size));
    const reach = MARK.length + 2;
    const seam = new Uint8Array(tail.length + Math.min(reach, chunk.length));
    seam.set(tail);
    seam.set(chunk.subarray(0, seam.length - tail.length), tail.length);
    // In the seam count those that the tail alone or the chunk alone could not show.
    const found = new Set(starts);
    look(seam, read - tail.length, seam.length);
    const fresh = starts.filter((start) => !found.has(start));
    look(chunk, read, chunk.length);
    for (const start of fresh) {
      const twice = starts.lastIndexOf(start);
      if (twice !== starts.indexOf(start)) starts.splice(twice, 1);
    }
    read += chunk.length;
    const kept = chunk.length >= reach ? chunk : seam;
    tail = kept.slice(Math.max(0, kept.length - reach));
  });
  return [...new Set(starts)].sort((a, b) => a - b);
}
