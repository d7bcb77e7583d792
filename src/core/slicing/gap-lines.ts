import { simplifyLine } from '../relief/simplify-line.ts';
import { lengthOf, type LinePath } from './line-path.ts';
import type { CellGrid } from './swept.ts';

/** How narrow and how wide a line in a gap may be, in lines: 0.3 and 0.59 mm for one of 0.42 mm. */
const NARROWEST = 0.6;
const WIDEST = 1.4;
/** What rows and outlines leave open is filled where it is this wide, in lines; narrower than that, it closes by itself. */
const WORTH_LINES = 0.3;
/** A line shorter than this holds to nothing, mm. */
const LEAST_MM = 0.12;
/** How far a line in a gap may move by being simplified, in cells. */
const SIMPLIFY_CELLS = 0.6;

/** What lies open in a layer. */
export interface OpenCells {
  /** 0 where a line goes over a cell, or where it does not belong to the layer. */
  readonly cells: Uint8Array;
  readonly grid: CellGrid;
  /** Whether a cell lies in a sample whose middle is in a part too fine for a whole line. Such a part always gets one. */
  readonly isFine: (cell: number) => boolean;
}

/**
 * Lines through what outlines and rows left open: each part is thinned to its middle line (T. Y. Zhang, C. Y. Suen, Communications of
 * the ACM 27 (1984)), which is drawn as wide as the part is. What is narrower than a third of a line closes by itself; what is too fine
 * for a whole line is drawn however narrow it is, so that fine lettering keeps its layer.
 */
export function gapLines(open: OpenCells, lineMm: number): LinePath[] {
  const { grid } = open;
  const { width, height, cellMm } = grid;
  const cells = open.cells.slice();
  const lines: LinePath[] = [];
  const part: number[] = [];
  const leastCells = (WORTH_LINES * lineMm * LEAST_MM) / cellMm ** 2;
  for (let start = 0; start < cells.length; start += 1) {
    if (cells[start] === 0) continue;
    part.length = 0;
    part.push(start);
    cells[start] = 0;
    let fine = false;
    // The part grows while it is gone through.
    for (const cell of part) {
      fine ||= open.isFine(cell);
      const x = cell % width;
      const y = (cell - x) / width;
      const up = y > 0 ? -width : 0;
      const down = y + 1 < height ? width : 0;
      for (let row = up; row <= down; row += width)
        for (let beside = cell + row - (x > 0 ? 1 : 0); ; beside += 1) {
          if (cells[beside] !== 0) {
            cells[beside] = 0;
            part.push(beside);
          }
          if (beside >= cell + row + (x + 1 < width ? 1 : 0)) break;
        }
    }
    if (fine || part.length >= leastCells) new Part(part, open).linesTo(lines, lineMm);
  }
  return lines;
}

/** Neighbours of a cell from above clockwise, as steps in a field. */
const around = (wide: number): Int32Array =>
  Int32Array.of(-wide, 1 - wide, 1, wide + 1, wide, wide - 1, -1, -wide - 1);

/** One open part, worked on in a small field of its own with a rim of two cells. */
class Part {
  readonly #wide: number;
  readonly #left: number;
  readonly #top: number;
  readonly #ring: Int32Array;
  /** 1 in the part; what is left of it in the end is its middle line. */
  readonly #field: Uint8Array;
  /** How deep a cell lies in the part: 1 at its rim; diagonal ways count as one and a half. */
  readonly #depth: Float32Array;
  readonly #places: Int32Array;

  constructor(
    part: readonly number[],
    private readonly open: OpenCells,
  ) {
    const { width } = open.grid;
    let [left, right, top, bottom] = [width, 0, Infinity, 0];
    for (const cell of part) {
      const x = cell % width;
      const y = (cell - x) / width;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      if (y > bottom) bottom = y;
    }
    const wide = right - left + 5;
    this.#wide = wide;
    this.#left = left - 2;
    this.#top = top - 2;
    this.#ring = around(wide);
    this.#field = new Uint8Array(wide * (bottom - top + 5));
    this.#depth = new Float32Array(this.#field.length);
    this.#places = Int32Array.from(part, (cell) => {
      const x = cell % width;
      return ((cell - x) / width - this.#top) * wide + x - this.#left;
    }).sort();
    for (const place of this.#places) this.#field[place] = 1;
    this.#measure();
  }

  /** Adds the lines of the part. */
  linesTo(lines: LinePath[], lineMm: number): void {
    const { cellMm, width } = this.open.grid;
    const wide = this.#wide;
    for (const chain of this.#chains(this.#thin())) {
      let sum = 0;
      for (const place of chain) sum += 2 * (this.#depth[place] as number) - 1;
      const own = (sum / chain.length) * cellMm;
      const line = new Float64Array(2 * chain.length);
      let fine = false;
      for (let n = 0; n < chain.length; n += 1) {
        const place = chain[n] as number;
        const x = (place % wide) + this.#left;
        const y = Math.floor(place / wide) + this.#top;
        fine ||= this.open.isFine(y * width + x);
        line[2 * n] = (x + 0.5) * cellMm;
        line[2 * n + 1] = (y + 0.5) * cellMm;
      }
      if (!fine && own < WORTH_LINES * lineMm) continue;
      const widthMm = Math.min(WIDEST * lineMm, Math.max(NARROWEST * lineMm, own));
      const points = long(simplifyLine(line, SIMPLIFY_CELLS * cellMm));
      lines.push({ kind: 'gap', points, closed: false, widthMm });
    }
  }

  /** Two sweeps with weights 1 and 1.5 (G. Borgefors, Computer Vision, Graphics and Image Processing 34 (1986), scaled). */
  #measure(): void {
    const depth = this.#depth;
    const places = this.#places;
    for (const place of places) depth[place] = 1e6;
    for (const way of [1, -1]) {
      const row = way * this.#wide;
      for (let n = 0; n < places.length; n += 1) {
        const place = places[way === 1 ? n : places.length - 1 - n] as number;
        depth[place] = Math.min(
          depth[place] as number,
          (depth[place - way] as number) + 1,
          (depth[place - row] as number) + 1,
          (depth[place - row - way] as number) + 1.5,
          (depth[place - row + way] as number) + 1.5,
        );
      }
    }
  }

  /** Thins the field to lines one cell wide. @returns the places left; at least one */
  #thin(): Int32Array {
    const field = this.#field;
    const ring = this.#ring;
    let rest = this.#places;
    const gone = new Int32Array(rest.length);
    for (;;) {
      const before = rest.length;
      for (let step = 0; step < 2; step += 1) {
        let count = 0;
        for (const place of rest) {
          let near = 0;
          let rises = 0;
          let last = field[place + (ring[7] as number)] as number;
          for (let n = 0; n < 8; n += 1) {
            const one = field[place + (ring[n] as number)] as number;
            near += one;
            rises += one & (1 - last);
            last = one;
          }
          if (near < 2 || near > 6 || rises !== 1) continue;
          const up = field[place + (ring[0] as number)] as number;
          const east = field[place + (ring[2] as number)] as number;
          const down = field[place + (ring[4] as number)] as number;
          const west = field[place + (ring[6] as number)] as number;
          if (step === 0 ? (east & down & (up | west)) !== 0 : (up & west & (east | down)) !== 0)
            continue;
          gone[count] = place;
          count += 1;
        }
        // A square of four would vanish whole.
        if (count === rest.length) count -= 1;
        for (let n = 0; n < count; n += 1) field[gone[n] as number] = 0;
        if (count > 0) rest = rest.filter((place) => field[place] === 1);
      }
      if (rest.length === before) return rest;
    }
  }

  /** Neighbours along a middle line; a corner that a straight neighbour leads to as well is none. */
  #besides(place: number): number[] {
    const field = this.#field;
    const ring = this.#ring;
    const found: number[] = [];
    for (let n = 0; n < 8; n += 1) {
      const beside = place + (ring[n] as number);
      if (field[beside] !== 1) continue;
      if (
        n % 2 === 1 &&
        (field[place + (ring[n - 1] as number)] === 1 ||
          field[place + (ring[(n + 1) % 8] as number)] === 1)
      )
        continue;
      found.push(beside);
    }
    return found;
  }

  /** Chains of neighbouring cells between ends and forks; rings are opened somewhere. */
  #chains(middle: Int32Array): number[][] {
    const chains: number[][] = [];
    /** Cells inside a chain that was followed; ends and forks belong to several. */
    const used = new Set<number>();
    const pairs = new Set<number>();
    const pair = (a: number, b: number): number =>
      Math.min(a, b) * this.#field.length + Math.max(a, b);
    const follow = (from: number, to: number): void => {
      const chain = [from];
      let before = from;
      let at = to;
      for (;;) {
        pairs.add(pair(before, at));
        chain.push(at);
        const beside = this.#besides(at);
        if (beside.length !== 2 || used.has(at)) break;
        used.add(at);
        const next = beside[0] === before ? beside[1] : beside[0];
        if (next === undefined || pairs.has(pair(at, next))) break;
        before = at;
        at = next;
      }
      chains.push(chain);
    };
    for (const rings of [false, true])
      for (const place of middle) {
        if (used.has(place)) continue;
        const beside = this.#besides(place);
        if (rings !== (beside.length === 2)) continue;
        if (beside.length === 0) chains.push([place]);
        for (const next of beside) if (!pairs.has(pair(place, next))) follow(place, next);
      }
    return chains;
  }
}

/** A line of at least the least length, about the same middle. */
function long(points: Float64Array): Float64Array {
  if (points.length > 2 && lengthOf({ points, closed: false }) >= LEAST_MM) return points;
  const [x0 = 0, y0 = 0] = points;
  const x1 = points[points.length - 2] as number;
  const y1 = points[points.length - 1] as number;
  const ends = Math.hypot(x1 - x0, y1 - y0);
  const [ux, uy] = ends > 0 ? [(x1 - x0) / ends, (y1 - y0) / ends] : [1, 0];
  const [mx, my] = [(x0 + x1) / 2, (y0 + y1) / 2];
  const half = LEAST_MM / 2;
  return Float64Array.of(mx - ux * half, my - uy * half, mx + ux * half, my + uy * half);
}
