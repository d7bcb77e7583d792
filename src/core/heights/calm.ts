import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';

/** Prices of a step between neighbours at half calm, on the rule's scale: one layer apart, and more. */
const STEP_PRICE = 2;
const JUMP_PRICE = 4;

/** Sweeps over the picture; later ones change next to nothing. */
const SWEEPS = 4;

/** Difference of two artwork colours at which an edge of the picture halves the pull across it. */
const EDGE_DIFFERENCE = 6;

/** What calm weighs: the class of each sample and what every height costs a class. */
export interface CalmInput {
  readonly heights: HeightMap;
  /** Class of each sample (colour cell or brightness step); beyond the last one where cut away. */
  readonly classes: Uint32Array | Uint16Array;
  /** Price of each height for each class, `layers + 1` numbers a class. */
  readonly costs: Float32Array;
  /** Colour of each class for telling edges, three numbers a class. */
  readonly colours: Float32Array;
  readonly layers: number;
}

/**
 * Pulls neighbouring heights together: each sample in turn takes, out of its own height and those of its four
 * neighbours, the one that costs least with the price of differing from the neighbours (iterated conditional modes).
 * Source: J. Besag, "On the statistical analysis of dirty pictures", Journal of the Royal Statistical Society B 48 (1986).
 * Across an edge of the artwork the pull is weaker, so that its detail stays.
 * @param calm 0 leaves everything as it is, 1 pulls most
 */
export function calmHeights(
  input: CalmInput,
  calm: number,
  checkpoint: Checkpoint = noCheckpoint,
): HeightMap {
  const { width, height } = input.heights;
  const data = input.heights.data.slice();
  if (calm <= 0) return { width, height, data };
  const right = new Uint8Array(data.length);
  const down = new Uint8Array(data.length);
  weighEdges(input, right, down);
  for (let sweep = 0; sweep < SWEEPS; sweep += 1) {
    const changed = sweepOnce(
      data,
      width,
      height,
      input.classes,
      input.costs,
      input.layers + 1,
      right,
      down,
      2 * calm * STEP_PRICE,
      2 * calm * JUMP_PRICE,
      sweep % 2 === 1,
    );
    checkpoint((sweep + 1) / SWEEPS);
    if (changed === 0) break;
  }
  return { width, height, data };
}

/** Pull between each sample and its right and lower neighbour, 0..255. */
function weighEdges(
  { heights: { width, height }, classes, colours }: CalmInput,
  right: Uint8Array,
  down: Uint8Array,
): void {
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const i = y * width + x;
      if (x + 1 < width)
        right[i] = pullBetween(classes[i] as number, classes[i + 1] as number, colours);
      if (y + 1 < height)
        down[i] = pullBetween(classes[i] as number, classes[i + width] as number, colours);
    }
}

function pullBetween(first: number, second: number, colours: Float32Array): number {
  if (first === second) return 255;
  // Classes beyond the table are cut away.
  if (3 * first >= colours.length || 3 * second >= colours.length) return 0;
  const dl = (colours[3 * first] as number) - (colours[3 * second] as number);
  const da = (colours[3 * first + 1] as number) - (colours[3 * second + 1] as number);
  const db = (colours[3 * first + 2] as number) - (colours[3 * second + 2] as number);
  const square = (dl * dl + da * da + db * db) / (EDGE_DIFFERENCE * EDGE_DIFFERENCE);
  return Math.round(255 / (1 + square));
}

function priceOf(a: number, b: number, pull: number, step: number, jump: number): number {
  if (a === b || b === 0) return 0;
  const apart = a > b ? a - b : b - a;
  return ((apart === 1 ? step : jump) * pull) / 255;
}

function sweepOnce(
  data: Uint8Array,
  width: number,
  height: number,
  classes: Uint32Array | Uint16Array,
  costs: Float32Array,
  stride: number,
  right: Uint8Array,
  down: Uint8Array,
  step: number,
  jump: number,
  backwards: boolean,
): number {
  let changed = 0;
  const total = data.length;
  for (let k = 0; k < total; k += 1) {
    const i = backwards ? total - 1 - k : k;
    const own = data[i] as number;
    if (own === 0) continue;
    const x = i % width;
    const y = (i - x) / width;
    const west = x > 0 ? (data[i - 1] as number) : 0;
    const east = x + 1 < width ? (data[i + 1] as number) : 0;
    const north = y > 0 ? (data[i - width] as number) : 0;
    const south = y + 1 < height ? (data[i + width] as number) : 0;
    if (
      (west === own || west === 0) &&
      (east === own || east === 0) &&
      (north === own || north === 0) &&
      (south === own || south === 0)
    )
      continue;
    const pullWest = x > 0 ? (right[i - 1] as number) : 0;
    const pullEast = right[i] as number;
    const pullNorth = y > 0 ? (down[i - width] as number) : 0;
    const pullSouth = down[i] as number;
    const base = (classes[i] as number) * stride;
    let best = own;
    let bestPrice = Infinity;
    for (let c = 0; c < 5; c += 1) {
      const candidate = c === 0 ? own : c === 1 ? west : c === 2 ? east : c === 3 ? north : south;
      if (candidate === 0 || (c > 0 && candidate === own)) continue;
      const price =
        (costs[base + candidate] as number) +
        priceOf(candidate, west, pullWest, step, jump) +
        priceOf(candidate, east, pullEast, step, jump) +
        priceOf(candidate, north, pullNorth, step, jump) +
        priceOf(candidate, south, pullSouth, step, jump);
      if (price < bestPrice) {
        bestPrice = price;
        best = candidate;
      }
    }
    if (best !== own) {
      data[i] = best;
      changed += 1;
    }
  }
  return changed;
}

/** Least area of an island, samples: one square of `smallestMm`. */
export function islandSamples(smallestMm: number, sampleMm: number): number {
  return Math.ceil((smallestMm / sampleMm) ** 2 - 1e-9);
}

/**
 * Takes away what is too small to be printed: at every height, raised spots of fewer than `least` samples are lowered to
 * what is around them, and then sunken ones are filled. Heights only take values that are beside the spot; cut-away parts
 * stay as they are, and pieces that are smaller as a whole stay too.
 * Source: L. Vincent, "Grayscale area openings and closings, their efficient implementation and applications", EURASIP
 * Workshop on Mathematical Morphology (1993); with union-find as in A. Meijster, M. Wilkinson, "A comparison of algorithms
 * for connected set openings and closings", IEEE PAMI 24 (2002).
 */
export function withoutIslands(heights: HeightMap, least: number): HeightMap {
  if (least <= 1) return heights;
  const { width, height } = heights;
  const opened = areaFilter(heights.data, width, least, false);
  return { width, height, data: areaFilter(opened, width, least, true) };
}

const UNSEEN = -2147483648;

/** One opening (from the top down), or closing (from the bottom up). Parents are indices; a root holds minus its area. */
function areaFilter(
  source: Uint8Array,
  width: number,
  least: number,
  closing: boolean,
): Uint8Array {
  const total = source.length;
  const order = sortByHeight(source, closing);
  const parent = new Int32Array(total).fill(UNSEEN);
  const find = (start: number): number => {
    let root = start;
    while ((parent[root] as number) >= 0) root = parent[root] as number;
    let at = start;
    while (at !== root) {
      const next = parent[at] as number;
      parent[at] = root;
      at = next;
    }
    return root;
  };
  for (const i of order) {
    parent[i] = -1;
    const own = source[i] as number;
    const x = i % width;
    for (let side = 0; side < 4; side += 1) {
      const beside =
        side === 0
          ? x > 0
            ? i - 1
            : -1
          : side === 1
            ? x + 1 < width
              ? i + 1
              : -1
            : side === 2
              ? i - width
              : i + width;
      if (beside < 0 || beside >= total || (parent[beside] as number) === UNSEEN) continue;
      const root = find(beside);
      if (root === i) continue;
      // A spot that is still too small is taken in at this height; a larger one keeps its own.
      if ((source[root] as number) === own || -(parent[root] as number) < least) {
        parent[i] = parent[i] + (parent[root] as number);
        parent[root] = i;
      } else parent[i] = -least;
    }
  }
  const out = new Uint8Array(total);
  for (let k = order.length - 1; k >= 0; k -= 1) {
    const i = order[k] as number;
    const up = parent[i] as number;
    out[i] = up >= 0 ? (out[up] as number) : (source[i] as number);
  }
  return out;
}

/** Indices of all printed samples, highest first, or lowest first; counting sort. */
function sortByHeight(source: Uint8Array, ascending: boolean): Uint32Array {
  const starts = new Uint32Array(257);
  for (const value of source) if (value > 0) starts[value + 1] = (starts[value + 1] as number) + 1;
  for (let value = 1; value <= 256; value += 1)
    starts[value] = (starts[value] as number) + (starts[value - 1] as number);
  const printed = starts[256] as number;
  const order = new Uint32Array(printed);
  for (let i = 0; i < source.length; i += 1) {
    const value = source[i] as number;
    if (value === 0) continue;
    const place = starts[value] as number;
    starts[value] = place + 1;
    order[ascending ? place : printed - 1 - place] = i;
  }
  return order;
}
