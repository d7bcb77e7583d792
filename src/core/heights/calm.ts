import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';

/**
 * Price of a step between neighbours at half calm, CIEDE2000 a layer. Beyond {@link DEAREST_STEP} a step costs no more: a cliff is as
 * good as a higher one.
 */
const STEP_PRICE = 0.48;
/** The step of the greatest price, layers. */
export const DEAREST_STEP = 8;

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

/** Pulls and prices of one picture, for all ways to calm it. */
export interface Pulls {
  readonly right: Uint8Array;
  readonly down: Uint8Array;
  /** Price of a step by its layers, at full pull; element 0 is 0. */
  readonly steps: Float64Array;
}

/** What calm weighs steps of a picture with; `calm` as there. */
export function pullsOf(input: CalmInput, calm: number): Pulls {
  const total = input.heights.data.length;
  const right = new Uint8Array(total);
  const down = new Uint8Array(total);
  weighEdges(input, right, down);
  const steps = Float64Array.from(
    { length: 256 },
    (_, apart) => 2 * calm * STEP_PRICE * Math.min(apart, DEAREST_STEP),
  );
  return { right, down, steps };
}

/**
 * What heights cost: their own costs and the price of every step between neighbours, weaker across an edge of the artwork, so that
 * its detail stays. Calm makes this small.
 */
export function energyOf(input: CalmInput, calm: number): number {
  const { width, data } = input.heights;
  const { right, down, steps } = pullsOf(input, calm);
  let sum = 0;
  for (let i = 0; i < data.length; i += 1) {
    const own = data[i] as number;
    if (own === 0) continue;
    sum += input.costs[(input.classes[i] as number) * (input.layers + 1) + own] as number;
    const east = i % width < width - 1 ? (data[i + 1] as number) : 0;
    const south = i + width < data.length ? (data[i + width] as number) : 0;
    sum += priceOf(own, east, right[i] as number, steps);
    sum += priceOf(own, south, down[i] as number, steps);
  }
  return sum;
}

/**
 * Pulls neighbouring heights together, quickly: each sample in turn takes, out of its own height and those of its four
 * neighbours, the one that costs least with the price of differing from the neighbours (iterated conditional modes).
 * Source: J. Besag, "On the statistical analysis of dirty pictures", Journal of the Royal Statistical Society B 48 (1986).
 * @param calm 0 leaves everything as it is, 1 pulls most
 */
export function calmQuickly(
  input: CalmInput,
  calm: number,
  checkpoint: Checkpoint = noCheckpoint,
): HeightMap {
  const { width, height } = input.heights;
  const data = input.heights.data.slice();
  if (calm <= 0) return { width, height, data };
  sweep(input, data, pullsOf(input, calm), checkpoint);
  return { width, height, data };
}

/** Sweeps over heights, in place, until none changes or the sweeps are done. */
export function sweep(
  input: CalmInput,
  data: Uint8Array | Uint8ClampedArray,
  pulls: Pulls,
  checkpoint: Checkpoint,
): void {
  const { width, height } = input.heights;
  for (let round = 0; round < SWEEPS; round += 1) {
    const backwards = round % 2 === 1;
    const changed = sweepOnce(data, width, height, input, pulls, backwards);
    checkpoint((round + 1) / SWEEPS);
    if (changed === 0) break;
  }
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

function priceOf(a: number, b: number, pull: number, steps: Float64Array): number {
  if (a === b || b === 0) return 0;
  return ((steps[a > b ? a - b : b - a] as number) * pull) / 255;
}

function sweepOnce(
  data: Uint8Array | Uint8ClampedArray,
  width: number,
  height: number,
  { classes, costs, layers }: CalmInput,
  { right, down, steps }: Pulls,
  backwards: boolean,
): number {
  let changed = 0;
  const total = data.length;
  const stride = layers + 1;
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
        priceOf(candidate, west, pullWest, steps) +
        priceOf(candidate, east, pullEast, steps) +
        priceOf(candidate, north, pullNorth, steps) +
        priceOf(candidate, south, pullSouth, steps);
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
