import type { LinePath } from './line-path.ts';

/** Corners of a closed line that it may begin at; more make little difference to the way. */
const MOST_STARTS = 8;
/** Starts in a square of the field that they are looked up in, on average. */
const STARTS_A_SQUARE = 2;

/** Where lines may begin: the first or last corner of an open one, some corners of a closed one. */
interface Starts {
  readonly line: Int32Array;
  readonly corner: Int32Array;
  readonly x: Float64Array;
  readonly y: Float64Array;
}

/**
 * Lines in an order in which each begins near the end of the one before it, turned round where that is nearer.
 * @param from where the nozzle is, mm
 */
export function nearestNext(
  lines: readonly LinePath[],
  from: readonly [number, number],
): LinePath[] {
  if (lines.length === 0) return [];
  const field = new StartField(startsOf(lines));
  const done = new Uint8Array(lines.length);
  const ordered: LinePath[] = [];
  let [x, y] = from;
  for (;;) {
    const start = field.nearest(x, y, done);
    if (start < 0) return ordered;
    const { line, corner } = field.starts;
    done[line[start] as number] = 1;
    const next = begunAt(lines[line[start] as number] as LinePath, corner[start] as number);
    ordered.push(next);
    [x, y] = endOf(next);
  }
}

/** Where the nozzle is when a line is drawn. */
export function endOf({ points, closed }: LinePath): [number, number] {
  const end = closed ? 0 : points.length - 2;
  return [points[end] as number, points[end + 1] as number];
}

function startsOf(lines: readonly LinePath[]): Starts {
  const line: number[] = [];
  const corner: number[] = [];
  const x: number[] = [];
  const y: number[] = [];
  lines.forEach(({ points, closed }, n) => {
    const count = points.length / 2;
    const step = Math.max(1, closed ? Math.ceil(count / MOST_STARTS) : count - 1);
    for (let at = 0; at < count; at += step) {
      line.push(n);
      corner.push(at);
      x.push(points[2 * at] as number);
      y.push(points[2 * at + 1] as number);
    }
  });
  return {
    line: Int32Array.from(line),
    corner: Int32Array.from(corner),
    x: Float64Array.from(x),
    y: Float64Array.from(y),
  };
}

/** Starts sorted into squares; those of lines that are done are thrown out when they are met. */
class StartField {
  readonly starts: Starts;
  readonly #left: number;
  readonly #top: number;
  readonly #side: number;
  readonly #columns: number;
  readonly #rows: number;
  /** Starts square by square, and where each square begins; how many of each are left. */
  readonly #sorted: Int32Array;
  readonly #begins: Int32Array;
  readonly #rest: Int32Array;

  constructor(starts: Starts) {
    this.starts = starts;
    const { x, y } = starts;
    const count = x.length;
    let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
    for (let n = 0; n < count; n += 1) {
      left = Math.min(left, x[n] as number);
      right = Math.max(right, x[n] as number);
      top = Math.min(top, y[n] as number);
      bottom = Math.max(bottom, y[n] as number);
    }
    const area = Math.max(right - left, 0.01) * Math.max(bottom - top, 0.01);
    const side = Math.max(0.05, Math.sqrt((area * STARTS_A_SQUARE) / count));
    this.#left = left;
    this.#top = top;
    this.#side = side;
    this.#columns = Math.floor((right - left) / side) + 1;
    this.#rows = Math.floor((bottom - top) / side) + 1;
    const begins = new Int32Array(this.#columns * this.#rows + 1);
    const squareOf = new Int32Array(count);
    for (let n = 0; n < count; n += 1) {
      const square =
        Math.floor(((y[n] as number) - top) / side) * this.#columns +
        Math.floor(((x[n] as number) - left) / side);
      squareOf[n] = square;
      begins[square + 1] = (begins[square + 1] as number) + 1;
    }
    const rest = begins.slice(1);
    for (let n = 1; n < begins.length; n += 1)
      begins[n] = (begins[n] as number) + (begins[n - 1] as number);
    const sorted = new Int32Array(count);
    const next = begins.slice();
    for (let n = 0; n < count; n += 1) {
      const square = squareOf[n] as number;
      sorted[next[square] as number] = n;
      next[square] = (next[square] as number) + 1;
    }
    this.#sorted = sorted;
    this.#begins = begins;
    this.#rest = rest;
  }

  /** The nearest start of a line that is not done; -1 where all are. */
  nearest(x: number, y: number, done: Uint8Array): number {
    const side = this.#side;
    const columns = this.#columns;
    const rows = this.#rows;
    const i = Math.floor((x - this.#left) / side);
    const j = Math.floor((y - this.#top) / side);
    const most = Math.max(
      Math.abs(i),
      Math.abs(j),
      Math.abs(columns - 1 - i),
      Math.abs(rows - 1 - j),
    );
    // Rings that lie outside of the field hold nothing.
    const first = Math.max(0, -i, i - columns + 1, -j, j - rows + 1);
    let best = -1;
    let least = Infinity;
    for (let ring = first; ring <= most; ring += 1) {
      // What lies farther out than the best one cannot be nearer.
      if (best >= 0 && (ring - 1) * side > Math.sqrt(least)) break;
      const top = Math.max(0, j - ring);
      const bottom = Math.min(rows - 1, j + ring);
      for (let b = top; b <= bottom; b += 1) {
        const whole = Math.abs(b - j) === ring;
        const from = Math.max(0, i - ring);
        const to = Math.min(columns - 1, i + ring);
        const step = whole ? 1 : Math.max(1, 2 * ring);
        for (let a = whole ? from : i - ring; a <= (whole ? to : i + ring); a += step) {
          if (a < 0 || a >= columns) continue;
          const square = b * columns + a;
          let left = this.#rest[square] as number;
          const begin = this.#begins[square] as number;
          for (let n = begin; n < begin + left; n += 1) {
            const start = this.#sorted[n] as number;
            if (done[this.starts.line[start] as number] === 1) {
              left -= 1;
              this.#sorted[n] = this.#sorted[begin + left] as number;
              n -= 1;
              continue;
            }
            const dx = (this.starts.x[start] as number) - x;
            const dy = (this.starts.y[start] as number) - y;
            const distance = dx * dx + dy * dy;
            if (distance < least) {
              least = distance;
              best = start;
            }
          }
          this.#rest[square] = left;
        }
      }
    }
    return best;
  }
}

/** A line that begins at one of its corners: a closed one is turned to it, an open one runs back from its last. */
function begunAt(line: LinePath, corner: number): LinePath {
  if (corner === 0) return line;
  const { points } = line;
  const turned = new Float64Array(points.length);
  if (line.closed) {
    turned.set(points.subarray(2 * corner));
    turned.set(points.subarray(0, 2 * corner), points.length - 2 * corner);
  } else
    for (let n = 0; n < points.length; n += 2) {
      turned[n] = points[points.length - 2 - n] as number;
      turned[n + 1] = points[points.length - 1 - n] as number;
    }
  return { ...line, points: turned };
}
