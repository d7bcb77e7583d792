import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';

/**
 * Price of a step between neighbours at half calm, CIEDE2000 a layer, and the layers beyond which a step costs no more: a cliff is
 * as good as a higher one.
 */
const STEP_PRICE = 0.48;
const DEAREST_STEP = 8;

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
interface Pulls {
  readonly right: Uint8Array;
  readonly down: Uint8Array;
  /** Price of a step by its layers, at full pull; element 0 is 0. */
  readonly steps: Float64Array;
}

function pullsOf(input: CalmInput, calm: number): Pulls {
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

function sweep(
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

/**
 * Pulls neighbouring heights together, a whole line at a time: after a quick calm all rows and then all columns take the heights
 * that are best for the line as a whole, given its neighbours. Exact for a line, by dynamic programming with a distance transform
 * (P. Felzenszwalb, D. Huttenlocher, "Distance transforms of sampled functions", Theory of Computing 8 (2012)), so it gets over
 * what no single sample can. What it weighs never rises.
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
  const pulls = pullsOf(input, calm);
  sweep(input, data, pulls, partOf(checkpoint, 0, 0.3));
  const lines = new Lines(input, data, pulls);
  for (let y = 0; y < height; y += 1) {
    lines.settle(y * width, 1, width, width, pulls.right, pulls.down);
    if ((y & 31) === 31) checkpoint(0.3 + (0.35 * y) / height);
  }
  for (let x = 0; x < width; x += 1) {
    lines.settle(x, width, height, 1, pulls.down, pulls.right);
    if ((x & 31) === 31) checkpoint(0.65 + (0.35 * x) / width);
  }
  return { width, height, data };
}

/** Settles lines of a picture one after the other, in place. */
class Lines {
  /** Least price of the line so far for each height of each sample. */
  private readonly rows: Float64Array;
  private readonly reached: Float64Array;
  /** Prices of steps by the difference of two heights, from {@link MOST_APART} below to as many above. */
  private readonly apart: Float64Array;
  private readonly stride: number;
  private readonly least: number;

  constructor(
    private readonly input: CalmInput,
    private readonly data: Uint8Array | Uint8ClampedArray,
    private readonly pulls: Pulls,
  ) {
    const { width, height } = input.heights;
    this.stride = input.layers + 1;
    this.rows = new Float64Array(Math.max(width, height) * this.stride);
    this.reached = new Float64Array(this.stride);
    this.apart = Float64Array.from(
      { length: 2 * MOST_APART + 1 },
      (_, i) => pulls.steps[Math.abs(i - MOST_APART)] as number,
    );
    this.least = lowestOf(input);
  }

  /**
   * @param start index of the first sample
   * @param step from one sample of the line to the next
   * @param across from a sample to its neighbour on the next line
   * @param along pull to the next sample of the line
   * @param aside pull to the neighbour on the next line
   */
  settle(
    start: number,
    step: number,
    length: number,
    across: number,
    along: Uint8Array,
    aside: Uint8Array,
  ): void {
    const { data } = this;
    for (let from = 0; from < length;) {
      // Only what hangs together is one piece of line.
      while (from < length && data[start + from * step] === 0) from += 1;
      let to = from;
      while (to < length && data[start + to * step] !== 0) to += 1;
      if (to > from) this.piece(start + from * step, step, to - from, across, along, aside);
      from = to;
    }
  }

  private piece(
    start: number,
    step: number,
    length: number,
    across: number,
    along: Uint8Array,
    aside: Uint8Array,
  ): void {
    const { data, rows, reached, apart, stride, least } = this;
    const { classes, costs } = this.input;
    const { steps } = this.pulls;
    const top = stride - 1;
    for (let n = 0; n < length; n += 1) {
      const i = start + n * step;
      const row = n * stride;
      if (n > 0)
        reach(rows, row - stride, reached, least, top, (along[i - step] as number) / 255, steps);
      const before = i - across;
      const after = i + across;
      // A neighbour on another line, where there is one: beside the first and the last line there is none.
      const low = before >= 0 && this.beside(i, before, across) ? (data[before] as number) : 0;
      const high =
        after < data.length && this.beside(i, after, across) ? (data[after] as number) : 0;
      const pullLow = low === 0 ? 0 : (aside[before] as number) / 255;
      const pullHigh = high === 0 ? 0 : (aside[i] as number) / 255;
      const at = (classes[i] as number) * stride;
      for (let layer = least; layer <= top; layer += 1)
        rows[row + layer] =
          (costs[at + layer] as number) +
          (reached[layer] as number) +
          pullLow * (apart[layer - low + MOST_APART] as number) +
          pullHigh * (apart[layer - high + MOST_APART] as number);
    }
    reached.fill(0);
    let layer = least;
    const last = (length - 1) * stride;
    for (let own = least + 1; own <= top; own += 1)
      if ((rows[last + own] as number) < (rows[last + layer] as number)) layer = own;
    for (let n = length - 1; n >= 0; n -= 1) {
      const i = start + n * step;
      data[i] = layer;
      if (n === 0) break;
      // From where this height was reached: the same question once more costs less than to note it for all heights.
      const pull = (along[i - step] as number) / 255;
      const row = (n - 1) * stride;
      let source = least;
      let price = Infinity;
      for (let own = least; own <= top; own += 1) {
        const here =
          (rows[row + own] as number) + pull * (apart[layer - own + MOST_APART] as number);
        if (here >= price) continue;
        price = here;
        source = own;
      }
      layer = source;
    }
  }

  /** Are two samples neighbours? Across rows always; across columns only in the same row. */
  private beside(one: number, other: number, across: number): boolean {
    if (across !== 1) return true;
    const { width } = this.input.heights;
    return Math.floor(one / width) === Math.floor(other / width);
  }
}

/** Heights differ by no more. */
const MOST_APART = 255;

/** The lowest height that any class may have. */
function lowestOf({ costs, layers }: CalmInput): number {
  const stride = layers + 1;
  for (let layer = 1; layer < layers; layer += 1)
    for (let at = layer; at < costs.length; at += stride)
      if ((costs[at] as number) < Infinity) return layer;
  return layers;
}

/**
 * For each height the least price with which it is reached from the sample before: a forward and a backward pass for the price
 * that grows with the step, and the dearest step from the best of all.
 */
function reach(
  rows: Float64Array,
  row: number,
  reached: Float64Array,
  least: number,
  top: number,
  pull: number,
  steps: Float64Array,
): void {
  const step = pull * (steps[1] as number);
  let best = Infinity;
  let price = Infinity;
  for (let layer = least; layer <= top; layer += 1) {
    const own = rows[row + layer] as number;
    price = Math.min(own, price + step);
    best = Math.min(best, own);
    reached[layer] = price;
  }
  const dearest = best + pull * (steps[DEAREST_STEP] as number);
  price = dearest;
  for (let layer = top; layer >= least; layer -= 1) {
    price = Math.min(reached[layer] as number, price + step);
    reached[layer] = Math.min(price, dearest);
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
