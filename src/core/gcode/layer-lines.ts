import { strFromU8 } from 'fflate';
import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import { Machine, MOVE, type MachineListener } from './machine.ts';
import type { GcodeReport } from './report.ts';
import { LineScanner } from './scanner.ts';
import { eachChunk, type ByteSource } from './source.ts';

/** Most stretches of way that are drawn at once. */
export const MOST_STRETCHES = 400_000;

/** The ways of some layers, in the order of the file. Arcs are divided into short lines. */
export interface LayerLines {
  /** For each stretch: from x, y to x, y, mm. */
  readonly points: Float32Array;
  /** Line of the file, counted from 1; layer, counted from 1; and whether plastic is laid. */
  readonly line: Uint32Array;
  readonly layer: Uint32Array;
  readonly laid: Uint8Array;
  /** Whether there are more than can be drawn. */
  readonly cut: boolean;
}

/** Longest chord of an arc that is drawn, radians. */
const ARC_STEP = 0.2;

/**
 * Reads the ways of layers from their place in the file, from the state that the printer has there.
 * @param first layer, counted from 1, and last one, that included
 */
export async function readLayerLines(
  source: ByteSource,
  report: GcodeReport,
  first: number,
  last: number,
  checkpoint: Checkpoint = noCheckpoint,
): Promise<LayerLines> {
  const begin = report.layers[first - 1];
  const taker = new Stretches(report, first);
  if (begin) {
    const machine = new Machine(taker, report.meaning);
    machine.state.set(begin.place.state);
    const scanner = new LineScanner(machine);
    scanner.begin(begin.place.offset, begin.place.line - 1);
    const end = report.layers[last]?.place.offset ?? source.size;
    await eachChunk(
      source,
      (chunk, read) => {
        checkpoint(Math.min(1, read / Math.max(1, end - begin.place.offset)));
        scanner.feed(chunk);
      },
      { from: begin.place.offset, to: end },
    );
    scanner.end();
  }
  return taker.lines();
}

class Stretches implements MachineListener {
  #points: number[] = [];
  #line: number[] = [];
  #layer: number[] = [];
  #laid: number[] = [];
  #cut = false;
  #at: number;

  constructor(
    private readonly report: GcodeReport,
    first: number,
  ) {
    this.#at = first;
  }

  before(): void {
    // Only moves are drawn.
  }

  other(): void {
    // Only moves are drawn.
  }

  move({ move }: Machine, { lineNumber }: LineScanner): void {
    const planar = move[MOVE.planar] as number;
    if (planar === 0) return;
    for (let next = this.report.layers[this.#at]; next; next = this.report.layers[this.#at]) {
      if (lineNumber < next.place.line) break;
      this.#at += 1;
    }
    const laid = (move[MOVE.strand] as number) > 0 ? 1 : 0;
    const angle = move[MOVE.angle] as number;
    const steps = angle === 0 ? 1 : Math.max(1, Math.ceil(Math.abs(angle) / ARC_STEP));
    let x = move[MOVE.x0] as number;
    let y = move[MOVE.y0] as number;
    const mx = move[MOVE.middleX] as number;
    const my = move[MOVE.middleY] as number;
    const radius = Math.hypot(x - mx, y - my);
    const from = Math.atan2(y - my, x - mx);
    for (let step = 1; step <= steps; step += 1) {
      if (this.#line.length >= MOST_STRETCHES) {
        this.#cut = true;
        return;
      }
      const last = step === steps;
      const a = from + (angle * step) / steps;
      const nextX = last ? (move[MOVE.x1] as number) : mx + radius * Math.cos(a);
      const nextY = last ? (move[MOVE.y1] as number) : my + radius * Math.sin(a);
      this.#points.push(x, y, nextX, nextY);
      this.#line.push(lineNumber);
      this.#layer.push(this.#at);
      this.#laid.push(laid);
      x = nextX;
      y = nextY;
    }
  }

  lines(): LayerLines {
    return {
      points: Float32Array.from(this.#points),
      line: Uint32Array.from(this.#line),
      layer: Uint32Array.from(this.#layer),
      laid: Uint8Array.from(this.#laid),
      cut: this.#cut,
    };
  }
}

/** A line of the file as it stands. */
export interface TextLine {
  readonly line: number;
  readonly text: string;
}

/** Longest part of a line that is shown. */
const LONGEST_SHOWN = 200;

/** Some lines around one, read from the nearest layer before it: the whole file is never at hand. */
export async function readLinesAround(
  source: ByteSource,
  { layers }: GcodeReport,
  line: number,
  { before, after }: { readonly before: number; readonly after: number },
): Promise<TextLine[]> {
  const first = Math.max(1, line - before);
  const nearest = layers.filter(({ place }) => place.line <= first).at(-1)?.place;
  const found: TextLine[] = [];
  const past = { end: false };
  const scanner = new LineScanner({
    line: (own) => {
      if (own.lineNumber > line + after) past.end = true;
      else if (own.lineNumber >= first) found.push({ line: own.lineNumber, text: textOf(own) });
    },
  });
  scanner.begin(nearest?.offset ?? 0, (nearest?.line ?? 1) - 1);
  const chunkBytes = 1 << 16;
  for (let at = nearest?.offset ?? 0; at < source.size && !past.end; at += chunkBytes)
    scanner.feed(await source.read(at, Math.min(source.size, at + chunkBytes)));
  if (!past.end) scanner.end();
  return found;
}

/** A whole line, with what stands before its remark as well. */
function textOf({ bytes, from, to }: LineScanner): string {
  let begin = from;
  while (begin > 0 && bytes[begin - 1] !== 10) begin -= 1;
  return strFromU8(bytes.subarray(begin, Math.min(to, begin + LONGEST_SHOWN)));
}
