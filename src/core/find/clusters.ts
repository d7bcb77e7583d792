import type { ColourCells } from '../artwork/colour-cells.ts';
import { labOfLinear } from '../colour/lab.ts';
import { linearOfOklab } from '../colour/oklab.ts';

/** The colours of a picture, how often each occurs, and how much they matter where that was painted. */
export interface FindCells extends Pick<ColourCells, 'colour' | 'count'> {
  /** Mean importance of the samples of each cell, above 0; 1 is as usual. */
  readonly importance?: ArrayLike<number> | undefined;
}

/** A picture as few colours with weights, darkest first: what a search looks at in place of every pixel. */
export interface Clusters {
  /** L*, a*, b* of each colour. */
  readonly lab: Float64Array;
  /** Share of each colour; they sum to 1. */
  readonly weight: Float64Array;
}

/** Rounds of the clustering; later ones move next to nothing. */
const ROUNDS = 6;

/**
 * Reduces the cells of a picture to `most` colours: k-means on the rule's colour scale (S. P. Lloyd, "Least squares
 * quantization in PCM", IEEE Transactions on Information Theory 28 (1982)), begun with the commonest colour and then always
 * with the one that is worst served so far. The same picture always gives the same colours.
 * @param weights how much each cell counts
 * @param lightnessScale above 1 keeps colours of different lightness apart: a tone curve can only tell those
 */
export function clusterCells(
  cells: Pick<ColourCells, 'colour'>,
  weights: Float64Array,
  most: number,
  lightnessScale = 1,
): Clusters {
  const colour = cells.colour.map((value, i) => (i % 3 === 0 ? value * lightnessScale : value));
  const count = Math.min(most, weights.length);
  const centres = firstCentres(colour, weights, count);
  const found = centres.length / 3;
  const owner = new Int32Array(weights.length);
  const sums = new Float64Array(4 * found);
  for (let round = 0; round < ROUNDS; round += 1) {
    assignCells(colour, centres, owner);
    sums.fill(0);
    for (let n = 0; n < weights.length; n += 1) {
      const at = 4 * (owner[n] as number);
      const weight = weights[n] as number;
      sums[at] = (sums[at] as number) + weight;
      for (let i = 0; i < 3; i += 1)
        sums[at + 1 + i] = (sums[at + 1 + i] as number) + weight * (colour[3 * n + i] as number);
    }
    for (let k = 0; k < found; k += 1) {
      const weight = sums[4 * k] as number;
      if (weight === 0) continue;
      for (let i = 0; i < 3; i += 1) centres[3 * k + i] = (sums[4 * k + 1 + i] as number) / weight;
    }
  }
  for (let k = 0; k < found; k += 1) centres[3 * k] = (centres[3 * k] as number) / lightnessScale;
  return sortedClusters(centres, sums);
}

/** Cells closer than this on the rule's scale become one: far less than any plan is off. */
const MERGE_STEP = 1.5;

/**
 * Merges cells that look alike: a picture's few thousand become about a thousand, at the mean of their colours. What is
 * worked out per cell gets that much cheaper, and nothing that is decided by changes.
 */
export function mergeCells({ colour, count, importance }: FindCells): {
  readonly colour: Float32Array;
  readonly count: Float64Array;
  readonly importance: Float64Array;
} {
  const places = new Map<number, number>();
  const sums: number[] = [];
  for (let n = 0; n < count.length; n += 1) {
    const weight = count[n] as number;
    if (weight === 0) continue;
    const [l, a, b] = [0, 1, 2].map((i) => Math.round((colour[3 * n + i] as number) / MERGE_STEP));
    const key = ((l ?? 0) * 1024 + ((a ?? 0) + 512)) * 1024 + ((b ?? 0) + 512);
    let at = places.get(key);
    if (at === undefined) {
      at = sums.length;
      places.set(key, at);
      sums.push(0, 0, 0, 0, 0);
    }
    sums[at] = (sums[at] as number) + weight;
    sums[at + 4] = (sums[at + 4] as number) + weight * (importance?.[n] ?? 1);
    for (let i = 0; i < 3; i += 1)
      sums[at + 1 + i] = (sums[at + 1 + i] as number) + weight * (colour[3 * n + i] as number);
  }
  const total = sums.length / 5;
  return {
    colour: Float32Array.from({ length: 3 * total }, (_, i) => {
      const at = 5 * Math.floor(i / 3);
      return (sums[at + 1 + (i % 3)] as number) / (sums[at] as number);
    }),
    count: Float64Array.from({ length: total }, (_, n) => sums[5 * n] as number),
    importance: Float64Array.from(
      { length: total },
      (_, n) => (sums[5 * n + 4] as number) / (sums[5 * n] as number),
    ),
  };
}

/** Every cell as a colour of its own. */
export function cellsAsClusters(
  { colour }: Pick<ColourCells, 'colour'>,
  weights: Float64Array,
): Clusters {
  const sums = new Float64Array(4 * weights.length);
  weights.forEach((weight, n) => {
    sums[4 * n] = weight;
  });
  return sortedClusters(Float64Array.from(colour), sums);
}

/**
 * How much each cell counts: as often as it occurs, or rather by a lower power of that, so that small and rare colours
 * count for more.
 * @param rare 0 counts pixels, 1 counts every colour alike
 * @param importance a factor for each cell
 */
export function cellWeights(
  count: ArrayLike<number>,
  rare = 0,
  importance?: ArrayLike<number>,
): Float64Array {
  return Float64Array.from(
    { length: count.length },
    (_, n) => (count[n] as number) ** (1 - rare) * (importance?.[n] ?? 1),
  );
}

function sortedClusters(centres: Float64Array, sums: Float64Array): Clusters {
  const rows: { readonly lab: readonly number[]; readonly weight: number }[] = [];
  let total = 0;
  for (let k = 0; k < centres.length / 3; k += 1) {
    const weight = sums[4 * k] as number;
    if (weight <= 0) continue;
    total += weight;
    const [l, a, b] = [centres[3 * k], centres[3 * k + 1], centres[3 * k + 2]] as number[];
    const linear = linearOfOklab([(l ?? 0) / 100, (a ?? 0) / 200, (b ?? 0) / 200]);
    rows.push({ lab: labOfLinear(linear), weight });
  }
  rows.sort((one, other) => (one.lab[0] ?? 0) - (other.lab[0] ?? 0));
  return {
    lab: Float64Array.from(rows.flatMap(({ lab }) => lab)),
    weight: Float64Array.from(rows, ({ weight }) => weight / total),
  };
}

/** Nearest centre of each cell. */
function assignCells(colour: Float32Array, centres: Float64Array, owner: Int32Array): void {
  const found = centres.length / 3;
  for (let n = 0; n < owner.length; n += 1) {
    const l = colour[3 * n] as number;
    const a = colour[3 * n + 1] as number;
    const b = colour[3 * n + 2] as number;
    let best = 0;
    let least = Infinity;
    for (let k = 0; k < found; k += 1) {
      const dl = l - (centres[3 * k] as number);
      const da = a - (centres[3 * k + 1] as number);
      const db = b - (centres[3 * k + 2] as number);
      const square = dl * dl + da * da + db * db;
      if (square < least) {
        least = square;
        best = k;
      }
    }
    owner[n] = best;
  }
}

function firstCentres(colour: Float32Array, weights: Float64Array, count: number): Float64Array {
  let next = 0;
  for (let n = 1; n < weights.length; n += 1)
    if ((weights[n] as number) > (weights[next] as number)) next = n;
  const centres = new Float64Array(3 * count);
  const served = new Float64Array(weights.length).fill(Infinity);
  let found = 0;
  while (found < count && next >= 0) {
    for (let i = 0; i < 3; i += 1) centres[3 * found + i] = colour[3 * next + i] as number;
    const l = centres[3 * found] as number;
    const a = centres[3 * found + 1] as number;
    const b = centres[3 * found + 2] as number;
    found += 1;
    next = -1;
    let worst = 0;
    for (let n = 0; n < weights.length; n += 1) {
      const dl = l - (colour[3 * n] as number);
      const da = a - (colour[3 * n + 1] as number);
      const db = b - (colour[3 * n + 2] as number);
      const square = dl * dl + da * da + db * db;
      if (square < (served[n] as number)) served[n] = square;
      const price = (served[n] as number) * Math.sqrt(weights[n] as number);
      if (price > worst) {
        worst = price;
        next = n;
      }
    }
  }
  return centres.slice(0, 3 * found);
}
