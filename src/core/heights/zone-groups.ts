import type { ColourCells } from '../artwork/colour-cells.ts';
import { ZONE_BINS, type ZoneCosts } from '../zones/curves.ts';

/** Samples of one zone and colour, and of one other zone that they are near to. */
export interface SampleGroups {
  /** Group of each sample; the number of groups where nothing is printed. */
  readonly of: Uint32Array;
  readonly zone: Uint8Array;
  /** Other zone near by, counted from 1; 0: none. */
  readonly other: Uint8Array;
  readonly cell: Uint32Array;
  readonly count: Uint32Array;
}

/** Gathers samples by zone, the zone that they are near to, and colour. */
export function groupSamples(
  { cell, count }: ColourCells,
  labels: Uint8Array,
  others: Uint8Array | undefined,
  zones: number,
): SampleGroups {
  const cells = count.length;
  const numbers = new Int32Array(zones * (others ? zones + 1 : 1) * cells).fill(-1);
  const of = new Uint32Array(labels.length).fill(0xffffffff);
  const zoneOf: number[] = [];
  const otherOf: number[] = [];
  const cellOf: number[] = [];
  const counts: number[] = [];
  for (let i = 0; i < labels.length; i += 1) {
    const label = labels[i] as number;
    if (label === 0) continue;
    const other = others ? (others[i] as number) : 0;
    const own = cell[i] as number;
    const at = (other * zones + label - 1) * cells + own;
    let group = numbers[at] as number;
    if (group < 0) {
      group = counts.length;
      numbers[at] = group;
      counts.push(0);
      zoneOf.push(label - 1);
      otherOf.push(other);
      cellOf.push(own);
    }
    counts[group] = (counts[group] as number) + 1;
    of[i] = group;
  }
  return {
    of,
    zone: Uint8Array.from(zoneOf),
    other: Uint8Array.from(otherOf),
    cell: Uint32Array.from(cellOf),
    count: Uint32Array.from(counts),
  };
}

/** What every height costs the samples of each lightness of each zone. */
export function zoneCosts(
  { zone, cell, count }: Pick<SampleGroups, 'zone' | 'cell' | 'count'>,
  bins: Uint8Array,
  differences: Float32Array,
  zones: number,
  layers: number,
): ZoneCosts {
  const stride = layers + 1;
  const costs = new Float64Array(zones * ZONE_BINS * stride);
  const counts = new Float64Array(zones * ZONE_BINS);
  for (let group = 0; group < count.length; group += 1) {
    const weight = count[group] as number;
    const own = cell[group] as number;
    const place = (zone[group] as number) * ZONE_BINS + (bins[own] as number);
    counts[place] = (counts[place] as number) + weight;
    for (let layer = 0; layer <= layers; layer += 1) {
      const difference = differences[own * stride + layer] as number;
      // Heights that nothing may have are dear, not endless: a class that does not occur costs nothing anywhere.
      const cost = weight * Math.min(difference, NEVER);
      costs[place * stride + layer] = (costs[place * stride + layer] as number) + cost;
    }
  }
  return { zones, layers, costs, counts };
}

/** Stands for a height that is not to be taken, CIEDE2000. */
export const NEVER = 1e6;

/** The colour of each group. */
export function coloursOfGroups({ cell }: SampleGroups, { colour }: ColourCells): Float32Array {
  const out = new Float32Array(3 * cell.length);
  cell.forEach((own, group) => {
    out.set(colour.subarray(3 * own, 3 * own + 3), 3 * group);
  });
  return out;
}
