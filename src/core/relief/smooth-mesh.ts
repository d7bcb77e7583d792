import Constrainautor from '@kninnug/constrainautor';
import Delaunator from 'delaunator';
import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import type { Reach } from './inlaid.ts';
import type { Mesh } from './terrace-mesh.ts';
import type { SharedOutlines, SmoothAreas } from './smooth-outlines.ts';
import { turnedTriangles } from './turned-triangles.ts';

/** Points around the picture, so far off that no outline comes near them. */
const FRAME = 4;

/** Two numbers below this make one that is exact. */
const MOST_POINTS = 2 ** 26;

/**
 * Cuts the picture into triangles along outlines: a Delaunay triangulation (`delaunator`) in which the outlines
 * are forced to be sides (`constrainautor`; S. W. Sloan, "A fast algorithm for generating constrained Delaunay
 * triangulations", Computers & Structures 47 (1993)). All areas share the points of their outlines, so the solids that are
 * raised from them fit each other without a gap, whichever bands they are of.
 * @param outlines in samples, of a picture of so many; areas that come with them are taken as they are
 */
export function cutAreas(
  { points: inner, edges, areas }: SharedOutlines,
  { width, height }: { readonly width: number; readonly height: number },
): SmoothAreas {
  if (areas) return areas;
  const points = new Float64Array(inner.length + 8);
  points.set(inner);
  points.set(
    [
      ...[-FRAME, -FRAME, width + FRAME, -FRAME],
      ...[width + FRAME, height + FRAME, -FRAME, height + FRAME],
    ],
    inner.length,
  );
  const net = new Delaunator(points);
  // What lies left and right of a piece of outline, by the points that it joins.
  const keyOf = (from: number, to: number): number => from * MOST_POINTS + to;
  const sides = new Map<number, number>();
  for (const { from, to, left, right } of edges) {
    sides.set(keyOf(from, to), left);
    sides.set(keyOf(to, from), right);
  }
  // Changes the triangulation itself.
  new Constrainautor(
    net,
    edges.map(({ from, to }) => [from, to] as const),
  );
  const { triangles: corners, halfedges } = net;
  const count = corners.length / 3;
  // Known beside an outline; from there it spreads over sides that are none.
  const known = new Int16Array(count).fill(-1);
  const waiting: number[] = [];
  const isLeft = (from: number, to: number, third: number): boolean => {
    const ax = points[2 * from] as number;
    const ay = points[2 * from + 1] as number;
    const bx = (points[2 * to] as number) - ax;
    const by = (points[2 * to + 1] as number) - ay;
    const cx = (points[2 * third] as number) - ax;
    const cy = (points[2 * third + 1] as number) - ay;
    // y points down: what lies on the left hand turns the other way.
    return bx * cy - by * cx < 0;
  };
  for (let side = 0; side < corners.length; side += 1) {
    const triangle = Math.floor(side / 3);
    const from = corners[side] as number;
    const to = corners[3 * triangle + ((side + 1) % 3)] as number;
    let own = sides.get(keyOf(from, to));
    if (own !== undefined) {
      const third = corners[3 * triangle + ((side + 2) % 3)] as number;
      if (!isLeft(from, to, third)) own = sides.get(keyOf(to, from)) ?? own;
    } else if (halfedges[side] === -1)
      // Beyond the frame there is nothing.
      own = 0;
    else continue;
    if (known[triangle] === -1) waiting.push(triangle);
    known[triangle] = own;
  }
  for (let triangle = waiting.pop(); triangle !== undefined; triangle = waiting.pop())
    for (let k = 0; k < 3; k += 1) {
      const side = 3 * triangle + k;
      const twin = halfedges[side] as number;
      const from = corners[side] as number;
      const to = corners[3 * triangle + ((k + 1) % 3)] as number;
      if (twin < 0 || sides.has(keyOf(from, to))) continue;
      const other = Math.floor(twin / 3);
      if (known[other] !== -1) continue;
      known[other] = known[triangle] as number;
      waiting.push(other);
    }
  return {
    points,
    ...turnedTriangles(points, corners, halfedges, 'down'),
    heights: Uint8Array.from(known),
    rows: height,
  };
}

/** Reach of areas in which the solid has nothing. */
const NOTHING: Reach = [0, 0];

/**
 * Raises areas to a closed solid: flat tops exactly at layer heights, upright walls along the outlines, flat undersides.
 * @param reachOf from above which level up to which the solid reaches in areas of a height (or of another number that they have)
 * @param sampleMm side of a sample, mm
 * @param levelMm z of each level, mm: element 0 is the underside, element n the top of n layers
 * @returns a mesh in which every directed edge occurs once and its reverse once; empty when nothing is printed
 */
export function raiseAreas(
  { points, triangles, twins, heights, rows }: SmoothAreas,
  reachOf: (height: number) => Reach,
  sampleMm: number,
  levelMm: Float64Array,
  checkpoint: Checkpoint = noCheckpoint,
): Mesh {
  const reaches = Array.from({ length: 256 }, (_, height): Reach => {
    const [low, high] = reachOf(height);
    return high > low ? [low, high] : NOTHING;
  });
  const reachAt = (n: number): Reach => reaches[heights[n] as number] as Reach;
  const count = heights.length;
  // The levels at each point: those at which the solid begins and ends in the areas around it.
  const levels: number[][] = Array.from({ length: points.length / 2 }, () => []);
  for (let n = 0; n < count; n += 1) {
    const reach = reachAt(n);
    if (reach === NOTHING) continue;
    for (let k = 0; k < 3; k += 1) {
      const at = levels[triangles[3 * n + k] as number] as number[];
      for (const level of reach) if (!at.includes(level)) at.push(level);
    }
  }
  const start = new Int32Array(levels.length);
  const positions: number[] = [];
  levels.forEach((at, p) => {
    start[p] = positions.length / 3;
    at.sort((a, b) => a - b);
    for (const level of at)
      positions.push(
        (points[2 * p] as number) * sampleMm,
        (rows - (points[2 * p + 1] as number)) * sampleMm,
        levelMm[level] as number,
      );
  });
  const corner = (p: number, level: number): number =>
    (start[p] as number) + (levels[p] as number[]).indexOf(level);
  const out: number[] = [];
  for (let n = 0; n < count; n += 1) {
    if (n % 4096 === 0) checkpoint(n / count);
    const reach = reachAt(n);
    if (reach === NOTHING) continue;
    const [low, high] = reach;
    const a = triangles[3 * n] as number;
    const b = triangles[3 * n + 1] as number;
    const c = triangles[3 * n + 2] as number;
    out.push(corner(a, high), corner(b, high), corner(c, high));
    out.push(corner(a, low), corner(c, low), corner(b, low));
    for (let k = 0; k < 3; k += 1) {
      const twin = twins[3 * n + k] as number;
      const [from, to] = twin < 0 ? NOTHING : reachAt(Math.floor(twin / 3));
      // Seen from outside, a side that runs counter-clockwise runs from left to right.
      const left = triangles[3 * n + k] as number;
      const right = triangles[3 * n + ((k + 1) % 3)] as number;
      // What the neighbour covers has no wall: it may begin above this one, and end below it.
      if (to <= low || from >= high) addWall(left, right, low, high);
      else {
        if (from > low) addWall(left, right, low, from);
        if (to < high) addWall(left, right, to, high);
      }
    }
  }
  checkpoint(1);
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(out) };

  /** An upright wall between two levels, divided at either end where other areas have theirs. */
  function addWall(left: number, right: number, low: number, high: number): void {
    const within = (p: number): number[] =>
      (levels[p] as number[]).filter((level) => level >= low && level <= high);
    const [ls, rs] = [within(left), within(right)];
    let l = 0;
    let r = 0;
    while (l < ls.length - 1 || r < rs.length - 1) {
      const leftNext = ls[l + 1] ?? Infinity;
      const rightNext = rs[r + 1] ?? Infinity;
      const [here, there] = [corner(left, ls[l] as number), corner(right, rs[r] as number)];
      if (leftNext <= rightNext) {
        out.push(here, there, corner(left, leftNext));
        l += 1;
      } else {
        out.push(here, there, corner(right, rightNext));
        r += 1;
      }
    }
  }
}
