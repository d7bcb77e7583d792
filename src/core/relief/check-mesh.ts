import type { Mesh } from './terrace-mesh.ts';

/** What can be wrong with a mesh, worst first for the reader: how many places have it. */
export interface MeshFaults {
  /** Coordinates that are no numbers. */
  readonly notNumbers: number;
  /** Triangles with two equal corners or no area. */
  readonly degenerate: number;
  /** Directed edges whose reverse does not occur just once, or that occur more than once. */
  readonly badEdges: number;
  /** Corners at which the triangles around do not form one fan: two solids touch at a point. */
  readonly pinchedCorners: number;
  /** Places where an edge of one triangle goes through the inside of another. */
  readonly crossings: number;
  /** Volume by the divergence theorem, mm3; negative where the faces look inward. */
  readonly volumeMm3: number;
}

/** True for a closed solid whose faces look outward and cross nowhere. */
export function isSoundMesh(faults: MeshFaults): boolean {
  const { notNumbers, degenerate, badEdges, pinchedCorners, crossings, volumeMm3 } = faults;
  return notNumbers + degenerate + badEdges + pinchedCorners + crossings === 0 && volumeMm3 > 0;
}

/**
 * Looks a mesh over: numbers, degenerate triangles, each directed edge once with its reverse once, one fan at each corner,
 * no crossings, and the volume. Crossings are looked for pair by pair after a sweep along x, which suits meshes of up to some
 * ten thousand triangles.
 */
export function checkMesh(
  { positions: p, triangles: t }: Mesh,
  options: {
    /** False leaves crossings alone, and 0: for larger meshes. */
    readonly crossings?: boolean;
  } = {},
): MeshFaults {
  let notNumbers = 0;
  for (const value of p) if (!Number.isFinite(value)) notNumbers += 1;
  let degenerate = 0;
  let six = 0;
  const edges = new Map<string, number>();
  const around = new Map<number, [number, number][]>();
  for (let i = 0; i < t.length; i += 3) {
    const corners = [t[i], t[i + 1], t[i + 2]] as [number, number, number];
    const [a, b, c] = corners.map((corner) => pointOf(p, corner)) as [Point, Point, Point];
    const normal = cross(minus(b, a), minus(c, a));
    if (Math.hypot(...normal) < 1e-12) degenerate += 1;
    six += dot(a, cross(b, c));
    for (let k = 0; k < 3; k += 1) {
      const [from, to, last] = [corners[k], corners[(k + 1) % 3], corners[(k + 2) % 3]] as [
        number,
        number,
        number,
      ];
      edges.set(`${from} ${to}`, (edges.get(`${from} ${to}`) ?? 0) + 1);
      let fan = around.get(from);
      if (!fan) around.set(from, (fan = []));
      fan.push([to, last]);
    }
  }
  let badEdges = 0;
  for (const [key, count] of edges) {
    const [from, to] = key.split(' ');
    if (count !== 1 || edges.get(`${to} ${from}`) !== 1) badEdges += 1;
  }
  let pinchedCorners = 0;
  for (const fan of around.values()) if (!isOneFan(fan)) pinchedCorners += 1;
  return {
    notNumbers,
    degenerate,
    badEdges,
    pinchedCorners: badEdges > 0 ? 0 : pinchedCorners,
    crossings: options.crossings === false ? 0 : countCrossings(p, t),
    volumeMm3: six / 6,
  };
}

type Point = readonly [number, number, number];

function pointOf(p: Float32Array, corner: number): Point {
  return [p[3 * corner] as number, p[3 * corner + 1] as number, p[3 * corner + 2] as number];
}

function minus([a, b, c]: Point, [x, y, z]: Point): Point {
  return [a - x, b - y, c - z];
}

function cross([a, b, c]: Point, [x, y, z]: Point): Point {
  return [b * z - c * y, c * x - a * z, a * y - b * x];
}

function dot([a, b, c]: Point, [x, y, z]: Point): number {
  return a * x + b * y + c * z;
}

/** Do the triangles around a corner follow one another round in one turn? */
function isOneFan(fan: readonly (readonly [number, number])[]): boolean {
  const next = new Map(fan);
  const [first] = fan;
  if (!first || next.size !== fan.length) return false;
  let at = first[0];
  for (let steps = 1; steps <= fan.length; steps += 1) {
    const to = next.get(at);
    if (to === undefined) return false;
    at = to;
    if (at === first[0]) return steps === fan.length;
  }
  return false;
}

/** Boxes nearer than this may touch, mm: more than what {@link pierces} lets pass. */
const BOX_SLACK_MM = 1e-4;

/** Edges that go through the inside of a triangle of which they touch no corner. */
function countCrossings(p: Float32Array, t: Uint32Array): number {
  const boxes = Array.from({ length: t.length / 3 }, (_, n) => {
    const along = (axis: number): number[] =>
      [0, 1, 2].map((k) => p[3 * (t[3 * n + k] as number) + axis] as number);
    const [x, y, z] = [along(0), along(1), along(2)];
    return {
      n,
      low: [Math.min(...x), Math.min(...y), Math.min(...z)] as const,
      high: [Math.max(...x), Math.max(...y), Math.max(...z)] as const,
    };
  }).sort((a, b) => a.low[0] - b.low[0]);
  let crossings = 0;
  for (let i = 0; i < boxes.length; i += 1) {
    const one = boxes[i];
    if (!one) continue;
    for (let k = i + 1; k < boxes.length; k += 1) {
      const other = boxes[k];
      if (!other || other.low[0] > one.high[0] + BOX_SLACK_MM) break;
      if (
        other.low[1] > one.high[1] + BOX_SLACK_MM ||
        one.low[1] > other.high[1] + BOX_SLACK_MM ||
        other.low[2] > one.high[2] + BOX_SLACK_MM ||
        one.low[2] > other.high[2] + BOX_SLACK_MM
      )
        continue;
      if (pierces(p, t, one.n, other.n) || pierces(p, t, other.n, one.n)) crossings += 1;
    }
  }
  return crossings;
}

/**
 * Does an edge of triangle `one` go through the inside of triangle `other`?
 * Source: T. Möller, B. Trumbore, "Fast, minimum storage ray/triangle intersection", Journal of Graphics Tools 2 (1997).
 */
function pierces(p: Float32Array, t: Uint32Array, one: number, other: number): boolean {
  const cornersOf = (n: number): number[] => [t[3 * n], t[3 * n + 1], t[3 * n + 2]] as number[];
  const others = cornersOf(other);
  const [a, b, c] = others.map((corner) => pointOf(p, corner)) as [Point, Point, Point];
  const [ab, ac] = [minus(b, a), minus(c, a)];
  const ones = cornersOf(one);
  for (let k = 0; k < 3; k += 1) {
    const [from, to] = [ones[k] as number, ones[(k + 1) % 3] as number];
    if (others.includes(from) || others.includes(to)) continue;
    const start = pointOf(p, from);
    const way = minus(pointOf(p, to), start);
    const h = cross(way, ac);
    const det = dot(ab, h);
    if (Math.abs(det) < 1e-12) continue;
    const s = minus(start, a);
    const u = dot(s, h) / det;
    const q = cross(s, ab);
    const v = dot(way, q) / det;
    const along = dot(ac, q) / det;
    // The edge of a triangle counts as part of it; an edge of a sound mesh meets no other triangle between its ends.
    const near = 1e-6;
    const meets = u > -near && v > -near && u + v < 1 + near;
    if (meets && along > near && along < 1 - near) return true;
  }
  return false;
}
