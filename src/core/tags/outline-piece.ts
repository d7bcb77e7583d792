import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';
import type { Inlaid, InlaidState } from '../relief/inlaid.ts';
import type { OutlineEdge, SharedOutlines } from '../relief/smooth-outlines.ts';
import type { FlushFace } from '../stack/flush.ts';
import { arrange } from './arrangement.ts';
import { cutCells, type Cells } from './cells.ts';
import { UNITS_PER_MM, type Box, type Ring } from './rings.ts';

/**
 * What a shape does where it lies, in the order of the list: a *plate* is there up to a layer; *raise* brings what is there up to a
 * layer, *sink* down to one; a *hole* takes all away. Layers are counted from the bed. An *inlay* is of another filament in the lowest
 * layers, up to that of the piece.
 */
export const SHAPE_WAYS = ['plate', 'raise', 'sink', 'hole', 'inlay'] as const;
export type ShapeWay = (typeof SHAPE_WAYS)[number];

/** A part of a piece made of outlines. */
export interface PieceShapeOf {
  readonly way: ShapeWay;
  /** Of an inlay its number, from 1. */
  readonly layers: number;
  /** Neither crossing nor overlapping each other; see `ringsOf`. */
  readonly rings: readonly Ring[];
}

/** A piece whose layers are outlines. Plain data: it decides heights, solids and lines alone. */
export interface OutlinePiece {
  readonly shapes: readonly PieceShapeOf[];
  /** The rectangle around it, mm. */
  readonly box: Box;
  /** Parts in filaments of their own on the bed; missing where there are none. */
  readonly inlays?: FlushFace | undefined;
}

/** Heights of a piece on samples, and its outlines as they are. */
export interface OutlineRelief {
  readonly heights: HeightMap;
  readonly outlines: SharedOutlines;
  readonly inlaid?: Inlaid | undefined;
}

/** Layers of a place that lies in some shapes, by their order. */
export function layersIn(shapes: readonly PieceShapeOf[], members: readonly number[]): number {
  let layers = 0;
  for (const member of members) {
    const { way, layers: own } = shapes[member] as PieceShapeOf;
    if (way === 'plate') layers = Math.max(layers, own);
    else if (way === 'hole') layers = 0;
    else if (way !== 'inlay' && layers > 0) layers = way === 'raise' ? Math.max(layers, own) : own;
  }
  return layers;
}

/** The inlay of a place that lies in some shapes: the foremost; 0 where there is none, or nothing over it that would hold it. */
function inlayIn(
  { shapes, inlays }: OutlinePiece,
  members: readonly number[],
  layers: number,
): number {
  if (!inlays || layers <= inlays.layers) return 0;
  const own = members.filter((member) => shapes[member]?.way === 'inlay').at(-1);
  return own === undefined ? 0 : (shapes[own] as PieceShapeOf).layers;
}

/** Half the width of what is laid where a layer touches itself in a point, units: 0.02 mm across. */
const JOINT_UNITS = 10;

/** Rounds of joints until none is wanted: each can only touch what lies beside it. */
const MOST_JOINTS = 8;

/** What is laid over a point; of no inlay of its own it leaves the one that is there. */
interface Joint {
  readonly x: number;
  readonly y: number;
  readonly layers: number;
  readonly inlay?: number;
}

/**
 * The heights of a piece and its outlines, from one arrangement of all its shapes. Where a layer would touch itself in a point
 * alone, a joint of 0.02 mm is laid, for else four walls would share one edge.
 * @param columns and rows of square samples, the first at the top left of the piece's box
 * @throws Cancelled
 */
export function outlineRelief(
  piece: OutlinePiece,
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
  const { shapes, box, inlays } = piece;
  let rings = shapes.map((shape) => shape.rings);
  const joints: Joint[] = [];
  for (let round = 0; ; round += 1) {
    const arrangement = arrange(rings, partOf(checkpoint, 0.1 * round, 0.1 * round + 0.05));
    const cells = cutCells(arrangement);
    const statesOf = Array.from({ length: arrangement.sets.count }, (_, set) =>
      stateIn(piece, arrangement.sets.members(set), joints),
    );
    const heights = Uint8Array.from(cells.sets, (set) => (statesOf[set] as InlaidState).layers);
    const inlay = Uint8Array.from(cells.sets, (set) => (statesOf[set] as InlaidState).inlay);
    const touching = touchingPoints(cells, heights, inlays ? inlay : undefined);
    if (touching.length === 0 || round === MOST_JOINTS) {
      checkpoint(1);
      const grid = { columns, rows, sampleMm };
      return {
        heights: onSamples(cells, heights, box, grid),
        outlines: outlinesOfCells(cells, heights, box, grid),
        ...(inlays ? { inlaid: inlaidOf(cells, heights, inlay, inlays, box, grid) } : {}),
      };
    }
    joints.push(...touching);
    rings = rings.concat(touching.map(({ x, y }) => [octagon(x, y)]));
  }
}

/** What a place is that lies in some shapes and joints. */
function stateIn(
  piece: OutlinePiece,
  members: readonly number[],
  joints: readonly Joint[],
): InlaidState {
  const { shapes } = piece;
  const plain = members.filter((member) => member < shapes.length);
  const over = members.slice(plain.length).map((member) => joints[member - shapes.length] as Joint);
  const layers = over.reduce(
    (most, joint) => Math.max(most, joint.layers),
    layersIn(shapes, plain),
  );
  const own = over.filter((joint) => joint.inlay !== undefined).at(-1)?.inlay;
  return { layers, inlay: own ?? inlayIn(piece, plain, layers) };
}

/** Inlays with the lines between all areas of a piece; each state has one number. */
function inlaidOf(
  cells: Cells,
  heights: Uint8Array,
  inlay: Uint8Array,
  { layers, filaments }: FlushFace,
  box: Box,
  grid: Grid,
): Inlaid {
  const states: InlaidState[] = [{ layers: 0, inlay: 0 }];
  const numbers = new Map<string, number>([['0 0', 0]]);
  const areas = heights.map((own, n) => {
    const key = `${own} ${inlay[n] as number}`;
    let number = numbers.get(key);
    if (number === undefined) {
      numbers.set(key, (number = states.length));
      states.push({ layers: own, inlay: inlay[n] as number });
    }
    return number;
  });
  return {
    layers,
    filaments,
    map: onSamples(cells, inlay, box, grid),
    outlines: outlinesOfCells(cells, areas, box, grid),
    states,
  };
}

function octagon(x: number, y: number): Ring {
  const [a, b] = [JOINT_UNITS, Math.round(JOINT_UNITS * Math.tan(Math.PI / 8))];
  return [
    ...[x + a, y - b, x + a, y + b, x + b, y + a, x - b, y + a],
    ...[x - a, y + b, x - a, y - b, x - b, y - a, x + b, y - a],
  ];
}

/** Corners at which some layer, inlay or body touches itself alone, with the least that joins it. */
function touchingPoints(
  { points, triangles, twins }: Cells,
  heights: Uint8Array,
  inlay: Uint8Array | undefined,
): Joint[] {
  const touching: Joint[] = [];
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
      around.push(n);
      at = twins[3 * n + ((at + 2) % 3)] as number;
    } while (at >= 0 && at !== side);
    if (at < 0) continue;
    const [x, y] = [points[2 * point] as number, points[2 * point + 1] as number];
    const tall = around.map((n) => heights[n] as number);
    const peaks = peaksOf(tall);
    if (peaks.length >= 2) {
      const [, second] = peaks.sort((a, b) => b - a);
      touching.push({ x, y, layers: second as number });
    } else if (inlay) {
      // Nothing printed is of no part.
      const parts = around.map((n, k) => ((tall[k] as number) > 0 ? (inlay[n] as number) : -1));
      // Inlays first: what parts the body is an inlay that runs together.
      const parted = [...new Set(parts)]
        .filter((part) => part >= 0 && runsOf(parts, part) >= 2)
        .sort((a, b) => b - a)[0];
      if (parted !== undefined) touching.push({ x, y, layers: Math.max(...tall), inlay: parted });
    }
  }
  return touching;
}

/** How many times one comes into a part, going round. */
function runsOf(parts: readonly number[], part: number): number {
  return parts.filter((own, n) => own === part && parts.at(n - 1) !== part).length;
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
  { rows, sampleMm }: Grid,
): SharedOutlines {
  const placed = new Float64Array(points.length);
  for (let n = 0; n < points.length; n += 2) {
    placed[n] = ((points[n] as number) / UNITS_PER_MM - box.left) / sampleMm;
    placed[n + 1] = (box.top - (points[n + 1] as number) / UNITS_PER_MM) / sampleMm;
  }
  const edges: OutlineEdge[] = [];
  for (let side = 0; side < triangles.length; side += 1) {
    const twin = twins[side] as number;
    if (twin < side) continue;
    const n = Math.floor(side / 3);
    const [left, right] = [heights[n] as number, heights[Math.floor(twin / 3)] as number];
    if (left === right) continue;
    // A triangle that runs counter-clockwise with y up lies on the left hand there, and still does as it is seen in the picture.
    edges.push({
      from: triangles[side] as number,
      to: triangles[3 * n + ((side + 1) % 3)] as number,
      left,
      right,
    });
  }
  return { points: placed, edges, areas: { points: placed, triangles, twins, heights, rows } };
}

interface Grid {
  readonly columns: number;
  readonly rows: number;
  readonly sampleMm: number;
}

/** Where a row crosses a side; NaN where it does not, or runs along it. */
function crossingAt(row: number, x0: number, y0: number, x1: number, y1: number): number {
  if (y0 === y1 || (row < y0 && row < y1) || (row > y0 && row > y1)) return Number.NaN;
  return x0 + ((x1 - x0) * (row - y0)) / (y1 - y0);
}

/** Heights (or other numbers of areas) at the middles of samples. */
function onSamples(
  { points, triangles }: Cells,
  heights: Uint8Array,
  box: Box,
  { columns, rows, sampleMm }: Grid,
): HeightMap {
  const data = new Uint8Array(columns * rows);
  // Places in samples, once for each corner: triangles share them.
  const xs = new Float64Array(points.length / 2);
  const ys = new Float64Array(points.length / 2);
  for (let n = 0; n < xs.length; n += 1) {
    xs[n] = ((points[2 * n] as number) / UNITS_PER_MM - box.left) / sampleMm - 0.5;
    ys[n] = (box.top - (points[2 * n + 1] as number) / UNITS_PER_MM) / sampleMm - 0.5;
  }
  for (let n = 0; n < heights.length; n += 1) {
    const layers = heights[n] as number;
    if (layers === 0) continue;
    const a = triangles[3 * n] as number;
    const b = triangles[3 * n + 1] as number;
    const c = triangles[3 * n + 2] as number;
    const [ya, yb, yc] = [ys[a] as number, ys[b] as number, ys[c] as number];
    const [xa, xb, xc] = [xs[a] as number, xs[b] as number, xs[c] as number];
    const first = Math.max(0, Math.ceil(Math.min(ya, yb, yc)));
    const last = Math.min(rows - 1, Math.floor(Math.max(ya, yb, yc)));
    for (let row = first; row <= last; row += 1) {
      // Where the row crosses the three sides.
      const ab = crossingAt(row, xa, ya, xb, yb);
      const bc = crossingAt(row, xb, yb, xc, yc);
      const ca = crossingAt(row, xc, yc, xa, ya);
      let from = Infinity;
      let to = -Infinity;
      if (ab < from) from = ab;
      if (ab > to) to = ab;
      if (bc < from) from = bc;
      if (bc > to) to = bc;
      if (ca < from) from = ca;
      if (ca > to) to = ca;
      const left = row * columns + Math.max(0, Math.ceil(from));
      const right = row * columns + Math.min(columns - 1, Math.floor(to));
      for (let at = left; at <= right; at += 1) data[at] = layers;
    }
  }
  return { width: columns, height: rows, data };
}
