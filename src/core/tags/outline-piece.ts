import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';
import type { OutlineEdge, SharedOutlines } from '../relief/smooth-outlines.ts';
import { arrange } from './arrangement.ts';
import { cutCells, type Cells } from './cells.ts';
import { UNITS_PER_MM, type Box, type Ring } from './rings.ts';

/**
 * What a shape does where it lies, in the order of the list: a *plate* is there up to a layer; *raise* brings what is there up to a
 * layer, *sink* down to one; a *hole* takes all away. Layers are counted from the bed.
 */
export const SHAPE_WAYS = ['plate', 'raise', 'sink', 'hole'] as const;
export type ShapeWay = (typeof SHAPE_WAYS)[number];

/** A part of a piece made of outlines. */
export interface PieceShapeOf {
  readonly way: ShapeWay;
  readonly layers: number;
  /** Neither crossing nor overlapping each other; see `ringsOf`. */
  readonly rings: readonly Ring[];
}

/** A piece whose layers are outlines. Plain data: it decides heights, solids and lines alone. */
export interface OutlinePiece {
  readonly shapes: readonly PieceShapeOf[];
  /** The rectangle around it, mm. */
  readonly box: Box;
}

/** Heights of a piece on samples, and its outlines as they are. */
export interface OutlineRelief {
  readonly heights: HeightMap;
  readonly outlines: SharedOutlines;
}

/** Layers of a place that lies in some shapes, by their order. */
export function layersIn(shapes: readonly PieceShapeOf[], members: readonly number[]): number {
  let layers = 0;
  for (const member of members) {
    const { way, layers: own } = shapes[member] as PieceShapeOf;
    if (way === 'plate') layers = Math.max(layers, own);
    else if (way === 'hole') layers = 0;
    else if (layers > 0) layers = way === 'raise' ? Math.max(layers, own) : own;
  }
  return layers;
}

/** Half the width of what is laid where a layer touches itself in a point, units: 0.02 mm across. */
const JOINT_UNITS = 10;

/** Rounds of joints until none is wanted: each can only touch what lies beside it. */
const MOST_JOINTS = 8;

/**
 * The heights of a piece and its outlines, from one arrangement of all its shapes. Where a layer would touch itself in a point
 * alone, a joint of 0.02 mm is laid, for else four walls would share one edge.
 * @param columns and rows of square samples, the first at the top left of the piece's box
 * @throws Cancelled
 */
export function outlineRelief(
  { shapes, box }: OutlinePiece,
  {
    columns,
    rows,
    sampleMm,
  }: {
    readonly columns: number;
    readonly rows: number;
    readonly sampleMm: number;
  },
  checkpoint: Checkpoint = noCheckpoint,
): OutlineRelief {
  let rings = shapes.map((shape) => shape.rings);
  const joints: number[] = [];
  for (let round = 0; ; round += 1) {
    const arrangement = arrange(rings, partOf(checkpoint, 0.1 * round, 0.1 * round + 0.05));
    const cells = cutCells(arrangement);
    const layersOf = Array.from({ length: arrangement.sets.count }, (_, set) => {
      const members = arrangement.sets.members(set);
      const plain = layersIn(
        shapes,
        members.filter((member) => member < shapes.length),
      );
      return members.reduce(
        (most, member) =>
          member < shapes.length ? most : Math.max(most, joints[member - shapes.length] as number),
        plain,
      );
    });
    const heights = Uint8Array.from(cells.sets, (set) => layersOf[set] as number);
    const touching = touchingPoints(cells, heights);
    if (touching.length === 0 || round === MOST_JOINTS) {
      checkpoint(1);
      return {
        heights: onSamples(cells, heights, box, columns, rows, sampleMm),
        outlines: outlinesOfCells(cells, heights, box, sampleMm),
      };
    }
    for (const { layers } of touching) joints.push(layers);
    rings = rings.concat(touching.map(({ x, y }) => [octagon(x, y)]));
  }
}

function octagon(x: number, y: number): Ring {
  const [a, b] = [JOINT_UNITS, Math.round(JOINT_UNITS * Math.tan(Math.PI / 8))];
  return [
    ...[x + a, y - b, x + a, y + b, x + b, y + a, x - b, y + a],
    ...[x - a, y + b, x - a, y - b, x - b, y - a, x + b, y - a],
  ];
}

/** Corners at which some layer touches itself alone, with the least height that joins it. */
function touchingPoints(
  { points, triangles, twins }: Cells,
  heights: Uint8Array,
): { readonly x: number; readonly y: number; readonly layers: number }[] {
  const touching: { x: number; y: number; layers: number }[] = [];
  const seen = new Uint8Array(points.length / 2);
  for (let side = 0; side < triangles.length; side += 1) {
    const point = triangles[side] as number;
    if (seen[point] === 1) continue;
    seen[point] = 1;
    const around: number[] = [];
    // Round the corner: over the side before this one to the next triangle.
    let at = side;
    do {
      const n = Math.floor(at / 3);
      around.push(heights[n] as number);
      at = twins[3 * n + ((at + 2) % 3)] as number;
    } while (at >= 0 && at !== side);
    if (at < 0) continue;
    const peaks = peaksOf(around);
    if (peaks.length < 2) continue;
    const [, second] = peaks.sort((a, b) => b - a);
    touching.push({
      x: points[2 * point] as number,
      y: points[2 * point + 1] as number,
      layers: second as number,
    });
  }
  return touching;
}

/** Heights of all tops that one passes going round, each once. */
function peaksOf(around: readonly number[]): number[] {
  const steps = around.filter((height, n) => height !== around.at(n - 1));
  return steps.filter((height, n) => {
    const [before, after] = [steps.at(n - 1), steps[(n + 1) % steps.length]];
    return steps.length > 1 && height > (before as number) && height > (after as number);
  });
}

/** The sides between triangles of different height, in samples from the top left, y down. */
function outlinesOfCells(
  { points, triangles, twins }: Cells,
  heights: Uint8Array,
  box: Box,
  sampleMm: number,
): SharedOutlines {
  const numbers = new Map<number, number>();
  const placed: number[] = [];
  const numberOf = (point: number): number => {
    const known = numbers.get(point);
    if (known !== undefined) return known;
    const number = numbers.size;
    numbers.set(point, number);
    placed.push(
      ((points[2 * point] as number) / UNITS_PER_MM - box.left) / sampleMm,
      (box.top - (points[2 * point + 1] as number) / UNITS_PER_MM) / sampleMm,
    );
    return number;
  };
  const edges: OutlineEdge[] = [];
  for (let side = 0; side < triangles.length; side += 1) {
    const twin = twins[side] as number;
    if (twin < side) continue;
    const n = Math.floor(side / 3);
    const [left, right] = [heights[n] as number, heights[Math.floor(twin / 3)] as number];
    if (left === right) continue;
    // A triangle that runs counter-clockwise with y up lies on the left hand there, and still does as it is seen in the picture.
    edges.push({
      from: numberOf(triangles[side] as number),
      to: numberOf(triangles[3 * n + ((side + 1) % 3)] as number),
      left,
      right,
    });
  }
  return { points: Float64Array.from(placed), edges };
}

/** Heights at the middles of samples. */
function onSamples(
  { points, triangles }: Cells,
  heights: Uint8Array,
  box: Box,
  columns: number,
  rows: number,
  sampleMm: number,
): HeightMap {
  const data = new Uint8Array(columns * rows);
  const across = (point: number): number =>
    ((points[2 * point] as number) / UNITS_PER_MM - box.left) / sampleMm - 0.5;
  const down = (point: number): number =>
    (box.top - (points[2 * point + 1] as number) / UNITS_PER_MM) / sampleMm - 0.5;
  for (let n = 0; n < heights.length; n += 1) {
    const layers = heights[n] as number;
    if (layers === 0) continue;
    const [a, b, c] = [0, 1, 2].map((k) => triangles[3 * n + k] as number) as [
      number,
      number,
      number,
    ];
    const xs = [across(a), across(b), across(c)] as const;
    const ys = [down(a), down(b), down(c)] as const;
    const first = Math.max(0, Math.ceil(Math.min(...ys)));
    const last = Math.min(rows - 1, Math.floor(Math.max(...ys)));
    for (let row = first; row <= last; row += 1) {
      let [from, to] = [Infinity, -Infinity];
      for (let k = 0; k < 3; k += 1) {
        const m = (k + 1) % 3;
        const [y0, y1] = [ys[k] as number, ys[m] as number];
        if (y0 === y1 || row < Math.min(y0, y1) || row > Math.max(y0, y1)) continue;
        const x =
          (xs[k] as number) + (((xs[m] as number) - (xs[k] as number)) * (row - y0)) / (y1 - y0);
        from = Math.min(from, x);
        to = Math.max(to, x);
      }
      const left = Math.max(0, Math.ceil(from));
      const right = Math.min(columns - 1, Math.floor(to));
      for (let column = left; column <= right; column += 1) data[row * columns + column] = layers;
    }
  }
  return { width: columns, height: rows, data };
}
