import Constrainautor from '@kninnug/constrainautor';
import Delaunator from 'delaunator';
import { turnedTriangles } from '../relief/turned-triangles.ts';
import type { Arrangement } from './arrangement.ts';

/** The plane cut into triangles along outlines. */
export interface Cells {
  /** x and y of each corner, units, y up; the last four are those of a frame around all. */
  readonly points: Float64Array;
  /** Three corners for each triangle, counter-clockwise. */
  readonly triangles: Uint32Array;
  /** The neighbour of each side as a place in `triangles`, or -1; side k goes from corner k to the next. */
  readonly twins: Int32Array;
  /** The set of shapes that each triangle lies in. */
  readonly sets: Int32Array;
}

/** How far the frame lies around everything, units. */
const FRAME = 4096;

/**
 * Cuts the plane into triangles along an arrangement: a Delaunay triangulation (`delaunator`) in which all its pieces are forced to
 * be sides (`constrainautor`; S. W. Sloan, Computers & Structures 47, 1993). From the frame inward each side that is a piece
 * changes the set by its own; that both ways round a corner come to the same is made sure of.
 */
export function cutCells({ points: inner, edges, sets: table }: Arrangement): Cells {
  let [left, right, low, high] = [0, 0, 0, 0];
  for (let n = 0; n < inner.length; n += 2) {
    left = Math.min(left, inner[n] as number);
    right = Math.max(right, inner[n] as number);
    low = Math.min(low, inner[n + 1] as number);
    high = Math.max(high, inner[n + 1] as number);
  }
  const points = new Float64Array(inner.length + 8);
  points.set(inner);
  points.set(
    [
      ...[left - FRAME, low - FRAME, right + FRAME, low - FRAME],
      ...[right + FRAME, high + FRAME, left - FRAME, high + FRAME],
    ],
    inner.length,
  );
  const net = new Delaunator(points);
  const keyOf = (from: number, to: number): number =>
    Math.min(from, to) * 2 ** 26 + Math.max(from, to);
  const pieces = new Map<number, number>();
  const forced: [number, number][] = [];
  for (let n = 0; n < edges.length; n += 3) {
    const [from, to] = [edges[n] as number, edges[n + 1] as number];
    pieces.set(keyOf(from, to), edges[n + 2] as number);
    forced.push([from, to]);
  }
  // Changes the triangulation itself.
  new Constrainautor(net, forced);
  const { triangles: corners, halfedges } = net;
  const count = corners.length / 3;
  const sets = new Int32Array(count).fill(-1);
  const waiting: number[] = [];
  for (let side = 0; side < corners.length; side += 1)
    if (halfedges[side] === -1) {
      const n = Math.floor(side / 3);
      if (sets[n] === -1) waiting.push(n);
      sets[n] = 0;
    }
  for (let n = waiting.pop(); n !== undefined; n = waiting.pop())
    for (let k = 0; k < 3; k += 1) {
      const twin = halfedges[3 * n + k] as number;
      if (twin < 0) continue;
      const key = keyOf(corners[3 * n + k] as number, corners[3 * n + ((k + 1) % 3)] as number);
      const set = table.xor(sets[n] as number, pieces.get(key) ?? 0);
      const other = Math.floor(twin / 3);
      if (sets[other] === -1) {
        sets[other] = set;
        waiting.push(other);
      } else if (sets[other] !== set) throw new Error('outlines that do not close');
    }
  return { points, ...turnedTriangles(points, corners, halfedges, 'up'), sets };
}
