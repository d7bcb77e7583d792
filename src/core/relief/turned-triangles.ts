/** Triangles of a net with their neighbours. */
export interface TriangleNet {
  /** Three corners for each, counter-clockwise as seen from above. */
  readonly triangles: Uint32Array;
  /** The neighbour of each side as a place in `triangles`, or -1; side k goes from corner k to the next. */
  readonly twins: Int32Array;
}

/**
 * Turns all triangles of a net counter-clockwise as seen from above, with their neighbours; `delaunator` makes no promise of that.
 * @param points x and y of each corner
 * @param corners three for each triangle
 * @param halfedges the neighbour of each side as a place in `corners`, or -1
 * @param y whether it grows upward or downward
 */
export function turnedTriangles(
  points: Float64Array,
  corners: Uint32Array,
  halfedges: Int32Array,
  y: 'up' | 'down',
): TriangleNet {
  const triangles = new Uint32Array(corners.length);
  const twins = new Int32Array(corners.length);
  const wrong = y === 'up' ? -1 : 1;
  const flips = new Uint8Array(corners.length / 3);
  for (let n = 0; n < flips.length; n += 1) {
    const a = corners[3 * n] as number;
    const b = corners[3 * n + 1] as number;
    const c = corners[3 * n + 2] as number;
    const ax = points[2 * a] as number;
    const ay = points[2 * a + 1] as number;
    const area =
      ((points[2 * b] as number) - ax) * ((points[2 * c + 1] as number) - ay) -
      ((points[2 * b + 1] as number) - ay) * ((points[2 * c] as number) - ax);
    if (wrong * area > 0) flips[n] = 1;
  }
  // Side k of a triangle whose corners 1 and 2 change places becomes side 2 - k.
  const placeOf = (side: number): number => {
    const n = Math.floor(side / 3);
    return flips[n] === 1 ? 3 * n + 2 - (side % 3) : side;
  };
  for (let side = 0; side < corners.length; side += 1) {
    const n = Math.floor(side / 3);
    const k = side % 3;
    // Corners 1 and 2 change places.
    const to = flips[n] === 1 && k > 0 ? 3 - k : k;
    triangles[3 * n + to] = corners[side] as number;
    const twin = halfedges[side] as number;
    twins[placeOf(side)] = twin < 0 ? -1 : placeOf(twin);
  }
  return { triangles, twins };
}
