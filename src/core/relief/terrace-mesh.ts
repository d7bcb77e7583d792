import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';

/** A triangle mesh with shared corners. Triangles turn counter-clockwise seen from outside. */
export interface Mesh {
  /** x, y, z of each corner, mm. */
  readonly positions: Float32Array;
  /** Three corner numbers for each triangle. */
  readonly triangles: Uint32Array;
}

/** Meshes as one: solids beside each other, which share no corner. */
export function joinMeshes(meshes: readonly Mesh[]): Mesh {
  const positions = new Float32Array(meshes.reduce((sum, one) => sum + one.positions.length, 0));
  const triangles = new Uint32Array(meshes.reduce((sum, one) => sum + one.triangles.length, 0));
  let corners = 0;
  let sides = 0;
  for (const one of meshes) {
    positions.set(one.positions, 3 * corners);
    triangles.set(
      one.triangles.map((corner) => corner + corners),
      sides,
    );
    corners += one.positions.length / 3;
    sides += one.triangles.length;
  }
  return { positions, triangles };
}

/** A list of numbers that grows by doubling: the size of a mesh is known only once it is made. */
class GrowingList {
  private data = new Uint32Array(1 << 16);
  private length = 0;

  addTriangle(a: number, b: number, c: number): void {
    if (this.length + 3 > this.data.length) {
      const larger = new Uint32Array(this.data.length * 2);
      larger.set(this.data);
      this.data = larger;
    }
    this.data[this.length] = a;
    this.data[this.length + 1] = b;
    this.data[this.length + 2] = c;
    this.length += 3;
  }

  toArray(): Uint32Array {
    return this.data.slice(0, this.length);
  }
}

/**
 * The corners of the sample grid at which something bends, each with the levels present there.
 *
 * A grid corner matters unless the samples left and right of it are equal both in the row above and in the row below:
 * then every edge along x runs straight through it. At a corner that matters there is one mesh corner for each
 * different height among the four samples around it (0, the underside, included where one of them is empty). Every face
 * that touches the corner at one of these levels uses the same mesh corner, and every wall that passes it is divided
 * there, so neighbouring faces always share whole edges.
 */
interface Corners {
  readonly columns: number;
  /** Number of the first mesh corner of each grid corner, or -1. */
  readonly start: Int32Array;
  /** Up to four ascending levels of each grid corner, a byte each, lowest first; see `count`. */
  readonly levels: Uint32Array;
  readonly count: Uint8Array;
  readonly positions: Float32Array;
}

function findCorners(heights: HeightMap, sampleMm: number, levelMm: Float64Array): Corners {
  const { width, height, data } = heights;
  const columns = width + 1;
  const total = columns * (height + 1);
  const start = new Int32Array(total).fill(-1);
  const levels = new Uint32Array(total);
  const count = new Uint8Array(total);
  let corners = 0;
  for (let j = 0; j <= height; j += 1) {
    const above = (j - 1) * width;
    const below = j * width;
    for (let i = 0; i <= width; i += 1) {
      const hasLeft = i > 0;
      const hasRight = i < width;
      const aboveLeft = j > 0 && hasLeft ? (data[above + i - 1] as number) : 0;
      const aboveRight = j > 0 && hasRight ? (data[above + i] as number) : 0;
      const belowLeft = j < height && hasLeft ? (data[below + i - 1] as number) : 0;
      const belowRight = j < height && hasRight ? (data[below + i] as number) : 0;
      if (aboveLeft === aboveRight && belowLeft === belowRight) continue;
      const at = j * columns + i;
      let packed = 0;
      let n = 0;
      let last = -1;
      // Four passes that each pick the next larger value: cheaper than sorting four numbers in an array.
      for (;;) {
        let next = 256;
        if (aboveLeft > last && aboveLeft < next) next = aboveLeft;
        if (aboveRight > last && aboveRight < next) next = aboveRight;
        if (belowLeft > last && belowLeft < next) next = belowLeft;
        if (belowRight > last && belowRight < next) next = belowRight;
        if (next === 256) break;
        packed |= next << (8 * n);
        n += 1;
        last = next;
      }
      start[at] = corners;
      levels[at] = packed;
      count[at] = n;
      corners += n;
    }
  }
  const positions = new Float32Array(corners * 3);
  for (let j = 0, at = 0; j <= height; j += 1) {
    for (let i = 0; i <= width; i += 1, at += 1) {
      for (let n = 0; n < (count[at] as number); n += 1) {
        const p = ((start[at] as number) + n) * 3;
        positions[p] = i * sampleMm;
        positions[p + 1] = (height - j) * sampleMm;
        positions[p + 2] = levelMm[((levels[at] as number) >>> (8 * n)) & 255] as number;
      }
    }
  }
  return { columns, start, levels, count, positions };
}

/** Place of `level` among a grid corner's levels, or -1. */
function placeOf(corners: Corners, at: number, level: number): number {
  const packed = corners.levels[at] as number;
  const n = corners.count[at] as number;
  for (let k = 0; k < n; k += 1) if (((packed >>> (8 * k)) & 255) === level) return k;
  return -1;
}

/**
 * Builds the closed solid of a relief as terraces: flat tops exactly at layer heights, upright walls between them, one
 * flat underside. Tops and underside are merged along rows, walls along x.
 *
 * The relief lies with its lower left corner at the origin, x to the right, y up the picture, z up from the underside,
 * so that seen from above it is not mirrored. The height map must be free of diagonal contacts (see `partDiagonals`).
 *
 * @param sampleMm side of a sample, mm
 * @param levelMm z of each level, mm: element 0 is the underside, element n the top of a sample n layers tall
 * @returns a mesh in which every directed edge occurs once and its reverse once; empty when nothing is printed
 */
export function buildTerraceMesh(
  heights: HeightMap,
  sampleMm: number,
  levelMm: Float64Array,
  checkpoint: Checkpoint = noCheckpoint,
): Mesh {
  const { height } = heights;
  const corners = findCorners(heights, sampleMm, levelMm);
  const out = new GrowingList();
  for (let row = 0; row < height; row += 1) {
    if (row % 16 === 0) checkpoint(row / (height + 1));
    addRowFaces(heights, corners, row, out);
    addWallsAcross(heights, corners, row, out);
  }
  for (let line = 0; line <= height; line += 1) addWallsAlong(heights, corners, line, out);
  checkpoint(1);
  return { positions: corners.positions, triangles: out.toArray() };
}

/** Tops (runs of equal height) and underside (runs of anything printed) of one row of samples. */
function addRowFaces(heights: HeightMap, corners: Corners, row: number, out: GrowingList): void {
  const { width, data } = heights;
  const base = row * width;
  let from = 0;
  while (from < width) {
    const level = data[base + from] as number;
    let to = from + 1;
    while (to < width && data[base + to] === level) to += 1;
    if (level > 0) addStrip(corners, row, from, to, level, true, out);
    from = to;
  }
  from = 0;
  while (from < width) {
    if (data[base + from] === 0) {
      from += 1;
      continue;
    }
    let to = from + 1;
    while (to < width && data[base + to] !== 0) to += 1;
    addStrip(corners, row, from, to, 0, false, out);
    from = to;
  }
}

/**
 * A flat strip one sample deep between grid columns `from` and `to`, at one level, with all mesh corners that lie on its
 * two long edges. Advances along both edges at once, always on the edge that lags behind.
 */
function addStrip(
  corners: Corners,
  row: number,
  from: number,
  to: number,
  level: number,
  facesUp: boolean,
  out: GrowingList,
): void {
  const upperLine = row * corners.columns;
  const lowerLine = upperLine + corners.columns;
  let upperAt = from;
  let lowerAt = from;
  let upper = cornerAt(corners, upperLine + from, level);
  let lower = cornerAt(corners, lowerLine + from, level);
  while (upperAt < to || lowerAt < to) {
    const upperNext = nextOnLine(corners, upperLine, upperAt, to, level);
    const lowerNext = nextOnLine(corners, lowerLine, lowerAt, to, level);
    if (lowerAt >= to || (upperAt < to && upperNext <= lowerNext)) {
      const next = cornerAt(corners, upperLine + upperNext, level);
      if (facesUp) out.addTriangle(upper, lower, next);
      else out.addTriangle(upper, next, lower);
      upper = next;
      upperAt = upperNext;
    } else {
      const next = cornerAt(corners, lowerLine + lowerNext, level);
      if (facesUp) out.addTriangle(upper, lower, next);
      else out.addTriangle(upper, next, lower);
      lower = next;
      lowerAt = lowerNext;
    }
  }
}

function cornerAt(corners: Corners, at: number, level: number): number {
  return (corners.start[at] as number) + placeOf(corners, at, level);
}

/** Next grid column after `from`, at most `to`, whose corner on this line has a mesh corner at `level`. */
function nextOnLine(
  corners: Corners,
  line: number,
  from: number,
  to: number,
  level: number,
): number {
  let at = from + 1;
  while (
    at < to &&
    ((corners.start[line + at] as number) < 0 || placeOf(corners, line + at, level) < 0)
  )
    at += 1;
  return Math.min(at, to);
}

/** Walls that face left or right, between neighbouring samples of one row. */
function addWallsAcross(heights: HeightMap, corners: Corners, row: number, out: GrowingList): void {
  const { width, data } = heights;
  const base = row * width;
  for (let i = 0; i <= width; i += 1) {
    const left = i > 0 ? (data[base + i - 1] as number) : 0;
    const right = i < width ? (data[base + i] as number) : 0;
    if (left === right) continue;
    const upper = row * corners.columns + i;
    const lower = upper + corners.columns;
    // A taller left sample shows a wall that faces right; seen from there the lower grid line is on the left hand.
    if (left > right) addWall(corners, lower, upper, right, left, out);
    else addWall(corners, upper, lower, left, right, out);
  }
}

/** Walls that face up or down the picture, along one grid line, merged as long as nothing bends. */
function addWallsAlong(heights: HeightMap, corners: Corners, line: number, out: GrowingList): void {
  const { width, height, data } = heights;
  const above = (line - 1) * width;
  const below = line * width;
  let from = 0;
  while (from < width) {
    const up = line > 0 ? (data[above + from] as number) : 0;
    const down = line < height ? (data[below + from] as number) : 0;
    let to = from + 1;
    while (to < width && (corners.start[line * corners.columns + to] as number) < 0) to += 1;
    if (up !== down) {
      const left = line * corners.columns + from;
      const right = line * corners.columns + to;
      // A taller upper sample shows a wall that faces down the picture (-y): its left hand is x's low end.
      if (up > down) addWall(corners, left, right, down, up, out);
      else addWall(corners, right, left, up, down, out);
    }
    from = to;
  }
}

/**
 * An upright wall from level `low` to level `high` between two grid corners, `left` and `right` as seen from outside,
 * divided on either side at the levels present there.
 */
function addWall(
  corners: Corners,
  left: number,
  right: number,
  low: number,
  high: number,
  out: GrowingList,
): void {
  const leftStart = corners.start[left] as number;
  const rightStart = corners.start[right] as number;
  let l = placeOf(corners, left, low);
  let r = placeOf(corners, right, low);
  const lEnd = placeOf(corners, left, high);
  const rEnd = placeOf(corners, right, high);
  const leftLevels = corners.levels[left] as number;
  const rightLevels = corners.levels[right] as number;
  while (l < lEnd || r < rEnd) {
    const leftNext = l < lEnd ? (leftLevels >>> (8 * (l + 1))) & 255 : 256;
    const rightNext = r < rEnd ? (rightLevels >>> (8 * (r + 1))) & 255 : 256;
    if (leftNext <= rightNext) {
      out.addTriangle(leftStart + l, rightStart + r, leftStart + l + 1);
      l += 1;
    } else {
      out.addTriangle(leftStart + l, rightStart + r, rightStart + r + 1);
      r += 1;
    }
  }
}
