import type { ColourCells } from '../artwork/colour-cells.ts';
import { gatherPositions } from '../artwork/gather-positions.ts';
import { labOfLinear } from '../colour/lab.ts';
import { linearOfOklab } from '../colour/oklab.ts';

/** The colours of a picture, how often each occurs, and how much they matter where that was painted. */
export interface FindCells extends Pick<ColourCells, 'colour' | 'count'> {
  /** Mean importance of the samples of each cell, above 0; 1 is as usual. */
  readonly importance?: ArrayLike<number> | undefined;
  /** Index of the zone of each cell, where the picture is parted; cells of two zones may have one colour. */
  readonly zone?: ArrayLike<number> | undefined;
}

/** A picture as few colours with weights, darkest first: what a search looks at in place of every pixel. */
export interface Clusters {
  /** L*, a*, b* of each colour. */
  readonly lab: Float64Array;
  /** Share of each colour; they sum to 1. */
  readonly weight: Float64Array;
  /** Index of the zone of each colour, where the picture is parted. */
  readonly zone?: Uint8Array | undefined;
}

/** Zones have at least so many colours, however small they are. */
const LEAST_OF_ZONE = 4;

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
  const { centres, sums } = gatherPositions(colour, weights, most, ROUNDS);
  const found = centres.length / 3;
  for (let k = 0; k < found; k += 1) centres[3 * k] = (centres[3 * k] as number) / lightnessScale;
  return sortedClusters(centres, sums);
}

/** Cells closer than this on the rule's scale become one: far less than any plan is off. */
const MERGE_STEP = 1.5;

/**
 * Merges cells that look alike: a picture's few thousand become about a thousand, at the mean of their colours. What is
 * worked out per cell gets that much cheaper, and nothing that is decided by changes.
 */
export function mergeCells({ colour, count, importance, zone }: FindCells): {
  readonly colour: Float32Array;
  readonly count: Float64Array;
  readonly importance: Float64Array;
  readonly zone: Uint8Array | undefined;
} {
  const zones: number[] = [];
  const places = new Map<number, number>();
  const sums: number[] = [];
  for (let n = 0; n < count.length; n += 1) {
    const weight = count[n] as number;
    if (weight === 0) continue;
    const [l, a, b] = [0, 1, 2].map((i) => Math.round((colour[3 * n + i] as number) / MERGE_STEP));
    const own = zone?.[n] ?? 0;
    const key = (((l ?? 0) * 1024 + ((a ?? 0) + 512)) * 1024 + ((b ?? 0) + 512)) * 8 + own;
    let at = places.get(key);
    if (at === undefined) {
      at = sums.length;
      places.set(key, at);
      sums.push(0, 0, 0, 0, 0);
      zones.push(own);
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
    zone: zone ? Uint8Array.from(zones) : undefined,
  };
}

/**
 * As {@link clusterCells}, each zone by itself: `most` colours in all, about, shared out by the root of what zones weigh, so
 * that small ones have some too. Cells that are in no zone are clustered together.
 */
export function clusterByZone(
  cells: Pick<ColourCells, 'colour'> & { readonly zone?: Uint8Array | undefined },
  weights: Float64Array,
  most: number,
  lightnessScale = 1,
): Clusters {
  const { zone, colour } = cells;
  if (!zone) return clusterCells(cells, weights, most, lightnessScale);
  const zones = Array.from({ length: Math.max(-1, ...zone) + 1 }, (_, own) => {
    const members = [...weights.keys()].filter((n) => zone[n] === own);
    const shares = Float64Array.from(members, (n) => weights[n] as number);
    return {
      colour: Float32Array.from(members.flatMap((n) => [...colour.subarray(3 * n, 3 * n + 3)])),
      weights: shares,
      total: shares.reduce((sum, one) => sum + one, 0),
    };
  });
  const all = zones.reduce((sum, { total }) => sum + total, 0);
  const roots = zones.reduce((sum, { total }) => sum + Math.sqrt(total), 0);
  const parts = zones.map(({ total, ...own }) =>
    total > 0
      ? clusterCells(
          own,
          own.weights,
          Math.max(LEAST_OF_ZONE, Math.round((most * Math.sqrt(total)) / roots)),
          lightnessScale,
        )
      : undefined,
  );
  return {
    lab: Float64Array.from(parts.flatMap((part) => [...(part?.lab ?? [])])),
    weight: Float64Array.from(
      parts.flatMap((part, own) =>
        [...(part?.weight ?? [])].map((share) => (share * (zones[own]?.total ?? 0)) / all),
      ),
    ),
    zone: Uint8Array.from(parts.flatMap((part, own) => [...(part?.weight ?? [])].map(() => own))),
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
