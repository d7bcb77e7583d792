import { noCheckpoint, partOf, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap } from '../base/raster.ts';
import { DEAREST_STEP, pullsOf, sweep, type CalmInput, type Pulls } from './calm.ts';

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
    const beside = { before: y > 0, after: y + 1 < height, across: width };
    lines.settle(y * width, 1, width, beside, pulls.right, pulls.down);
    if ((y & 31) === 31) checkpoint(0.3 + (0.35 * y) / height);
  }
  for (let x = 0; x < width; x += 1) {
    const beside = { before: x > 0, after: x + 1 < width, across: 1 };
    lines.settle(x, width, height, beside, pulls.down, pulls.right);
    if ((x & 31) === 31) checkpoint(0.65 + (0.35 * x) / width);
  }
  return { width, height, data };
}

/** The lines beside one: whether there are any, and how far a sample's neighbours on them are. */
interface Beside {
  readonly before: boolean;
  readonly after: boolean;
  readonly across: number;
}

/**
 * Settles lines of a picture one after the other, in place. Of each sample only those heights are looked at that can be the best: one
 * that costs more than another by itself than all its neighbours can take never is.
 */
class Lines {
  /** Least price of the line so far for each height of each sample. */
  private readonly rows: Float64Array;
  /** Least price with which each height of each sample is reached from the sample before. */
  private readonly reached: Float64Array;
  /** The lowest and the highest of the heights looked at, of each class and of each sample of the line. */
  private readonly ends: { readonly low: Uint8Array; readonly high: Uint8Array };
  private readonly low: Uint8Array;
  private readonly high: Uint8Array;
  /** Prices of steps by the difference of two heights, from {@link MOST_APART} below to as many above. */
  private readonly apart: Float64Array;
  private readonly stride: number;

  constructor(
    private readonly input: CalmInput,
    private readonly data: Uint8Array | Uint8ClampedArray,
    private readonly pulls: Pulls,
  ) {
    const { width, height } = input.heights;
    const longest = Math.max(width, height);
    this.stride = input.layers + 1;
    this.rows = new Float64Array(longest * this.stride);
    this.reached = new Float64Array(this.rows.length);
    this.low = new Uint8Array(longest);
    this.high = new Uint8Array(longest);
    this.apart = Float64Array.from(
      { length: 2 * MOST_APART + 1 },
      (_, i) => pulls.steps[Math.abs(i - MOST_APART)] as number,
    );
    this.ends = endsOfClasses(input, 4 * (pulls.steps[DEAREST_STEP] as number));
  }

  /**
   * @param start index of the first sample
   * @param step from one sample of the line to the next
   * @param along pull to the next sample of the line
   * @param aside pull to the neighbour on the next line
   */
  settle(
    start: number,
    step: number,
    length: number,
    beside: Beside,
    along: Uint8Array,
    aside: Uint8Array,
  ): void {
    const { data } = this;
    for (let from = 0; from < length;) {
      // Only what hangs together is one piece of line.
      while (from < length && data[start + from * step] === 0) from += 1;
      let to = from;
      while (to < length && data[start + to * step] !== 0) to += 1;
      if (to > from) this.piece(start + from * step, step, to - from, beside, along, aside);
      from = to;
    }
  }

  private piece(
    start: number,
    step: number,
    length: number,
    { before, after, across }: Beside,
    along: Uint8Array,
    aside: Uint8Array,
  ): void {
    const { data, rows, reached, apart, stride, ends, low, high } = this;
    const { classes, costs } = this.input;
    const { steps } = this.pulls;
    const cap = steps[DEAREST_STEP] as number;
    for (let n = 0; n < length; n += 1) {
      const i = start + n * step;
      const row = n * stride;
      // A neighbour on another line, where there is one: beside the first and the last line there is none.
      const left = before ? (data[i - across] as number) : 0;
      const right = after ? (data[i + across] as number) : 0;
      const pullLeft = left === 0 ? 0 : (aside[i - across] as number) / 255;
      const pullRight = right === 0 ? 0 : (aside[i] as number) / 255;
      const pullBack = n === 0 ? 0 : (along[i - step] as number) / 255;
      const pullOn = n + 1 === length ? 0 : (along[i] as number) / 255;
      const own = classes[i] as number;
      const at = own * stride;
      let from = ends.low[own] as number;
      let to = ends.high[own] as number;
      const fromLeft = MOST_APART - left;
      const fromRight = MOST_APART - right;
      let least = Infinity;
      for (let layer = from; layer <= to; layer += 1) {
        const price =
          (costs[at + layer] as number) +
          pullLeft * (apart[layer + fromLeft] as number) +
          pullRight * (apart[layer + fromRight] as number);
        rows[row + layer] = price;
        if (price < least) least = price;
      }
      const most = least + (pullBack + pullOn) * cap;
      while ((rows[row + from] as number) > most) from += 1;
      while ((rows[row + to] as number) > most) to -= 1;
      low[n] = from;
      high[n] = to;
      if (n === 0) continue;
      reach(
        rows,
        row - stride,
        low[n - 1] as number,
        high[n - 1] as number,
        reached,
        row,
        from,
        to,
        pullBack,
        steps,
      );
      for (let layer = from; layer <= to; layer += 1)
        rows[row + layer] = (rows[row + layer] as number) + (reached[row + layer] as number);
    }
    const last = (length - 1) * stride;
    let layer = low[length - 1] as number;
    for (let other = layer + 1; other <= (high[length - 1] as number); other += 1)
      if ((rows[last + other] as number) < (rows[last + layer] as number)) layer = other;
    for (let n = length - 1; n >= 0; n -= 1) {
      const i = start + n * step;
      data[i] = layer;
      if (n === 0) break;
      const row = (n - 1) * stride;
      const from = low[n - 1] as number;
      const to = high[n - 1] as number;
      // Mostly from the same height.
      const stays = layer >= from && layer <= to;
      if (stays && rows[row + layer] === reached[row + stride + layer]) continue;
      // From where it was reached otherwise: the same question once more costs less than to note it for all heights.
      const pull = (along[i - step] as number) / 255;
      let source = from;
      let price = Infinity;
      for (let other = from; other <= to; other += 1) {
        const here =
          (rows[row + other] as number) + pull * (apart[layer - other + MOST_APART] as number);
        if (here >= price) continue;
        price = here;
        source = other;
      }
      layer = source;
    }
  }
}

/** Heights differ by no more. */
const MOST_APART = 255;

/** The lowest and the highest height of each class that cost no more than `most` above its cheapest. */
function endsOfClasses(
  { costs, layers }: CalmInput,
  most: number,
): { readonly low: Uint8Array; readonly high: Uint8Array } {
  const stride = layers + 1;
  const count = Math.floor(costs.length / stride);
  const low = new Uint8Array(count);
  const high = new Uint8Array(count);
  for (let own = 0; own < count; own += 1) {
    const at = own * stride;
    let least = Infinity;
    for (let layer = 1; layer <= layers; layer += 1)
      if ((costs[at + layer] as number) < least) least = costs[at + layer] as number;
    let from = 1;
    let to = layers;
    while (from < to && (costs[at + from] as number) > least + most) from += 1;
    while (to > from && (costs[at + to] as number) > least + most) to -= 1;
    low[own] = from;
    high[own] = to;
  }
  return { low, high };
}

/**
 * For each height of a sample the least price with which it is reached from the sample before: a forward and a backward pass for the
 * price that grows with the step, and the dearest step from the best of all.
 * @param low lowest height that the sample before may have, and `high` the highest
 * @param from lowest height that is asked for, and `to` the highest
 */
function reach(
  rows: Float64Array,
  row: number,
  low: number,
  high: number,
  reached: Float64Array,
  next: number,
  from: number,
  to: number,
  pull: number,
  steps: Float64Array,
): void {
  const step = pull * (steps[1] as number);
  let best = Infinity;
  let price = Infinity;
  for (let layer = from; layer < low; layer += 1) reached[next + layer] = Infinity;
  for (let layer = low; layer <= high; layer += 1) {
    const own = rows[row + layer] as number;
    price = own < price + step ? own : price + step;
    if (own < best) best = own;
    reached[next + layer] = price;
  }
  for (let layer = high + 1; layer <= to; layer += 1) {
    price += step;
    reached[next + layer] = price;
  }
  const dearest = best + pull * (steps[DEAREST_STEP] as number);
  price = dearest;
  for (let layer = to > high ? to : high; layer >= from; layer -= 1) {
    const own = reached[next + layer] as number;
    price = own < price + step ? own : price + step;
    if (price > dearest) price = dearest;
    reached[next + layer] = price;
  }
}
