import type { ColourCells } from '../artwork/colour-cells.ts';
import { heightScale } from '../stack/height-scale.ts';
import { binOfLightness, cheapestOrder, type ZoneRoom } from '../zones/curves.ts';
import { differencesOfCells, labsOf } from './closest.ts';
import { groupSamples, zoneCosts } from './zone-groups.ts';
import {
  labelsOf,
  makePlan,
  type Zone,
  type ZonedArtwork,
  type ZoneLimits,
  type ZonePlan,
  type ZonesRule,
} from './zones.ts';

/** Ways to order zones. */
export const ZONE_ORDERS = ['found', 'dark', 'background'] as const;
export type ZoneOrder = (typeof ZONE_ORDERS)[number];

/** One way to order zones. */
export interface ZoneOrdering {
  readonly by: ZoneOrder | 'hand';
  /** Indices of zones, lowest first. */
  readonly order: readonly number[];
  readonly meanDeltaE: number;
}

/** How wide the rim of a picture is where what lies behind shows, as a share of its shorter side. */
const RIM = 0.06;

/**
 * Zones in some order, lowest first, with what each way costs: *found* is the cheapest, *dark* puts dark zones behind,
 * *background* those that lie most along the rim of the picture. Spans are found anew for each; a price is the mean CIEDE2000.
 */
export function zoneOrders(
  artwork: ZonedArtwork,
  rule: ZonesRule,
  limits: ZoneLimits,
): readonly ZoneOrdering[] {
  const cells = artwork.cells();
  const labels = labelsOf(artwork, rule);
  const free = { ...rule, zones: rule.zones.map((zone) => ({ ...zone, span: null })) };
  const count = free.zones.length;
  const scale = heightScale(limits.layers, limits.leastLayers, limits.tops);
  const groups = groupSamples(cells, labels, undefined, count);
  const differences = differencesOfCells(cells, rule.colours, scale.least);
  const lightness = labsOf(cells.colour);
  const bins = Uint8Array.from(cells.count, (_, n) => binOfLightness(lightness[3 * n] as number));
  const costs = zoneCosts(groups, bins, differences, count, limits.layers);
  const room: ZoneRoom = { least: scale.least, layers: limits.layers, shared: rule.shared };
  const sums = new Float64Array(count);
  const samples = new Float64Array(count);
  for (let group = 0; group < groups.count.length; group += 1) {
    const own = groups.zone[group] as number;
    const weight = groups.count[group] as number;
    samples[own] = (samples[own] as number) + weight;
    sums[own] =
      (sums[own] as number) + weight * (lightness[3 * (groups.cell[group] as number)] as number);
  }
  const rim = rimShares(labels, cells.width, cells.height, samples);
  const all = free.zones.map((_, zone) => zone);
  const by = (value: (zone: number) => number): number[] =>
    [...all].sort((one, other) => value(one) - value(other) || one - other);
  const mean = (order: readonly number[]): number => {
    const moved = order.map((zone) => free.zones[zone] as Zone);
    const painted = rule.painted.map((one) => ({ ...one, zone: order.indexOf(one.zone) }));
    return meanOf(
      makePlan(artwork, { ...free, zones: moved, painted }, limits),
      cells,
      differences,
    );
  };
  const ways = [
    { by: 'found' as const, order: cheapestOrder(costs, free.zones, room).order },
    {
      by: 'dark' as const,
      order: by((zone) =>
        (samples[zone] as number) > 0 ? (sums[zone] as number) / (samples[zone] as number) : 999,
      ),
    },
    { by: 'background' as const, order: by((zone) => -(rim[zone] as number)) },
    { by: 'hand' as const, order: all },
  ];
  return ways.map((way) => ({ ...way, meanDeltaE: mean(way.order) }));
}

/** Mean CIEDE2000 that a rule gives, without calm. */
function meanOf(
  { heights }: ZonePlan,
  { cell, count }: ColourCells,
  differences: Float32Array,
): number {
  const stride = differences.length / count.length;
  let sum = 0;
  let printed = 0;
  heights.data.forEach((height, i) => {
    if (height === 0) return;
    sum += differences[(cell[i] as number) * stride + height] as number;
    printed += 1;
  });
  return printed > 0 ? sum / printed : 0;
}

/** How much of each zone lies along the rim of the picture, 0..1. */
function rimShares(
  labels: Uint8Array,
  width: number,
  height: number,
  samples: Float64Array,
): Float64Array {
  const wide = Math.max(1, Math.round(RIM * Math.min(width, height)));
  const out = new Float64Array(samples.length);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      if (x >= wide && y >= wide && x < width - wide && y < height - wide) continue;
      const label = labels[y * width + x] as number;
      if (label > 0) out[label - 1] = (out[label - 1] as number) + 1;
    }
  return out.map((count, zone) => count / Math.max(1, samples[zone] as number));
}
