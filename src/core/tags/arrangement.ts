import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import type { Ring } from './rings.ts';
import { XorSets } from './xor-sets.ts';

/** Outlines cut at all their crossings: each piece once, with the shapes whose inside ends there. */
export interface Arrangement {
  /** x and y in whole units. */
  readonly points: readonly number[];
  /** From, to, and the set of shapes that one passes into or out of there (see `XorSets`), three numbers for each piece. */
  readonly edges: readonly number[];
  readonly sets: XorSets;
}

/**
 * Corners nearer to a line than this become corners of it: half the diagonal of a unit, the least at which none that was rounded to
 * whole units lies on the wrong side. With a little more (0.75) lines pull each other along without an end.
 */
const SNAP_SQUARED = 0.5;

/** Rounds until nothing crosses: a handful in practice. */
const MOST_ROUNDS = 60;

/** Side of the squares in which is looked for lines that may meet, units. */
const BUCKET = 512;

/** Points in whole units, each once. */
class Points {
  readonly flat: number[] = [];
  readonly #places = new Map<number, number>();

  add(x: number, y: number): number {
    const key = (x + 2 ** 24) * 2 ** 26 + (y + 2 ** 24);
    const known = this.#places.get(key);
    if (known !== undefined) return known;
    const place = this.flat.length / 2;
    this.#places.set(key, place);
    this.flat.push(x, y);
    return place;
  }
}

/**
 * The one arrangement of all outlines of a piece: snap rounding (J. D. Hobby, "Practical segment intersection with finite precision
 * output", Computational Geometry 13, 1999) by rounds. Lines that lie on each other become one with both shapes, so two areas
 * that meet share their border exactly.
 * @param shapes rings of each shape
 * @throws Cancelled
 */
export function arrange(
  shapes: readonly (readonly Ring[])[],
  checkpoint: Checkpoint = noCheckpoint,
): Arrangement {
  const points = new Points();
  // From, to and shape of each line.
  let lines: number[] = [];
  shapes.forEach((rings, shape) => {
    for (const ring of rings)
      for (let n = 0; n < ring.length; n += 2) {
        const m = (n + 2) % ring.length;
        const from = points.add(ring[n] as number, ring[n + 1] as number);
        const to = points.add(ring[m] as number, ring[m + 1] as number);
        if (from !== to) lines.push(from, to, shape);
      }
  });
  for (let round = 0; ; round += 1) {
    if (round === MOST_ROUNDS) throw new Error('outlines could not be parted');
    checkpoint(round / MOST_ROUNDS);
    const cuts = crossings(points, lines);
    if (cuts.size === 0) break;
    lines = cut(points, lines, cuts);
  }
  return merged(points, lines);
}

/** Corners that come onto lines, by line. */
function crossings(points: Points, lines: readonly number[]): Map<number, Set<number>> {
  const cuts = new Map<number, Set<number>>();
  const add = (line: number, point: number): void => {
    const own = cuts.get(line);
    if (own) own.add(point);
    else cuts.set(line, new Set([point]));
  };
  const { flat } = points;
  const count = lines.length / 3;
  const buckets = new Map<number, number[]>();
  for (let line = 0; line < count; line += 1)
    eachBucket(flat, lines[3 * line] as number, lines[3 * line + 1] as number, (bucket) => {
      const own = buckets.get(bucket);
      if (own) own.push(line);
      else buckets.set(bucket, [line]);
    });
  for (const own of buckets.values())
    for (let i = 0; i < own.length; i += 1)
      for (let j = i + 1; j < own.length; j += 1)
        meet(points, lines, own[i] as number, own[j] as number, add);
  return cuts;
}

/** Calls for each square that a line comes within a unit of. */
function eachBucket(
  flat: readonly number[],
  from: number,
  to: number,
  call: (bucket: number) => void,
): void {
  const [ax, ay, bx, by] = [
    flat[2 * from] as number,
    flat[2 * from + 1] as number,
    flat[2 * to] as number,
    flat[2 * to + 1] as number,
  ];
  const low = Math.floor((Math.min(ay, by) - 1) / BUCKET);
  const high = Math.floor((Math.max(ay, by) + 1) / BUCKET);
  for (let row = low; row <= high; row += 1) {
    let [left, right] = ax < bx ? [ax, bx] : [bx, ax];
    if (low !== high && ay !== by) {
      // Only the part of the line that lies in this row of squares.
      const at = (y: number): number => ax + ((bx - ax) * (y - ay)) / (by - ay);
      const ends = [at(row * BUCKET - 1), at((row + 1) * BUCKET + 1)];
      left = Math.max(left, Math.min(...ends));
      right = Math.min(right, Math.max(...ends));
    }
    for (
      let column = Math.floor((left - 1) / BUCKET);
      column <= Math.floor((right + 1) / BUCKET);
      column += 1
    )
      call((column + 2 ** 15) * 2 ** 17 + row + 2 ** 15);
  }
}

/** Where two lines meet: corners near the other line, and the crossing. */
function meet(
  points: Points,
  lines: readonly number[],
  one: number,
  other: number,
  add: (line: number, point: number) => void,
): void {
  const { flat } = points;
  const [a, b] = [lines[3 * one] as number, lines[3 * one + 1] as number];
  const [c, d] = [lines[3 * other] as number, lines[3 * other + 1] as number];
  const [ax, ay, bx, by] = [
    flat[2 * a] as number,
    flat[2 * a + 1] as number,
    flat[2 * b] as number,
    flat[2 * b + 1] as number,
  ];
  const [cx, cy, dx, dy] = [
    flat[2 * c] as number,
    flat[2 * c + 1] as number,
    flat[2 * d] as number,
    flat[2 * d + 1] as number,
  ];
  if (
    Math.max(ax, bx) + 1 < Math.min(cx, dx) ||
    Math.max(cx, dx) + 1 < Math.min(ax, bx) ||
    Math.max(ay, by) + 1 < Math.min(cy, dy) ||
    Math.max(cy, dy) + 1 < Math.min(ay, by)
  )
    return;
  // Twice the area that each end of a line spans with the other line: its sign tells the side.
  const abc = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  const abd = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax);
  const cda = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx);
  const cdb = (dx - cx) * (by - cy) - (dy - cy) * (bx - cx);
  const ab2 = (bx - ax) ** 2 + (by - ay) ** 2;
  const cd2 = (dx - cx) ** 2 + (dy - cy) ** 2;
  const touches = (
    line: number,
    point: number,
    ends: readonly [number, number],
    area: number,
    length2: number,
  ): boolean => {
    if (point === ends[0] || point === ends[1] || area * area >= SNAP_SQUARED * length2)
      return false;
    const [px, py] = [flat[2 * point] as number, flat[2 * point + 1] as number];
    const [ex, ey] = [flat[2 * ends[0]] as number, flat[2 * ends[0] + 1] as number];
    const [fx, fy] = [flat[2 * ends[1]] as number, flat[2 * ends[1] + 1] as number];
    const along = (px - ex) * (fx - ex) + (py - ey) * (fy - ey);
    if (along <= 0 || along >= length2) return false;
    add(line, point);
    return true;
  };
  const near = [
    touches(one, c, [a, b], abc, ab2),
    touches(one, d, [a, b], abd, ab2),
    touches(other, a, [c, d], cda, cd2),
    touches(other, b, [c, d], cdb, cd2),
  ].some(Boolean);
  if (near || a === c || a === d || b === c || b === d) return;
  if (abc > 0 === abd > 0 || cda > 0 === cdb > 0) return;
  const t = cda / (cda - cdb);
  const crossing = points.add(Math.round(ax + t * (bx - ax)), Math.round(ay + t * (by - ay)));
  if (crossing !== a && crossing !== b) add(one, crossing);
  if (crossing !== c && crossing !== d) add(other, crossing);
}

/** Divides lines at the corners that came onto them. */
function cut(
  { flat }: Points,
  lines: readonly number[],
  cuts: ReadonlyMap<number, ReadonlySet<number>>,
): number[] {
  const out: number[] = [];
  for (let line = 0; line < lines.length / 3; line += 1) {
    const [from, to, shape] = lines.slice(3 * line, 3 * line + 3) as [number, number, number];
    const own = cuts.get(line);
    if (!own) {
      out.push(from, to, shape);
      continue;
    }
    const [x, y] = [flat[2 * from] as number, flat[2 * from + 1] as number];
    const [dx, dy] = [(flat[2 * to] as number) - x, (flat[2 * to + 1] as number) - y];
    const along = (point: number): number =>
      ((flat[2 * point] as number) - x) * dx + ((flat[2 * point + 1] as number) - y) * dy;
    let before = from;
    for (const point of [...own].sort((p, q) => along(p) - along(q)).concat(to)) {
      if (point !== before) out.push(before, point, shape);
      before = point;
    }
  }
  return out;
}

/** Each piece once, with the shapes that it bounds an odd number of times; points that are left, numbered anew. */
function merged({ flat }: Points, lines: readonly number[]): Arrangement {
  const sets = new XorSets();
  const pieces = new Map<number, number>();
  for (let n = 0; n < lines.length; n += 3) {
    const [from, to] = [lines[n] as number, lines[n + 1] as number];
    const key = Math.min(from, to) * 2 ** 26 + Math.max(from, to);
    pieces.set(key, sets.xor(pieces.get(key) ?? 0, sets.only(lines[n + 2] as number)));
  }
  const numbers = new Map<number, number>();
  const points: number[] = [];
  const numberOf = (point: number): number => {
    const known = numbers.get(point);
    if (known !== undefined) return known;
    const number = points.length / 2;
    numbers.set(point, number);
    points.push(flat[2 * point] as number, flat[2 * point + 1] as number);
    return number;
  };
  const edges: number[] = [];
  for (const [key, set] of pieces)
    if (set !== 0) edges.push(numberOf(Math.floor(key / 2 ** 26)), numberOf(key % 2 ** 26), set);
  return { points, edges, sets };
}
