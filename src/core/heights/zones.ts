import type { ColourCells } from '../artwork/colour-cells.ts';
import type { HeightMap } from '../base/raster.ts';
import { heightScale, positionOfLayer, type HeightScale } from '../stack/height-scale.ts';
import {
  binOfLightness,
  solveCurves,
  ZONE_BINS,
  type ZoneCurve,
  type ZoneRoom,
  type ZoneRun,
} from '../zones/curves.ts';
import {
  labelSamples,
  meanColours,
  otherZones,
  zoneCounts,
  type PaintedZone,
} from '../zones/labels.ts';
import { MOST_LEAN } from '../stack/lean.ts';
import type { ZoneColours } from '../zones/zone.ts';
import { cheapestLayers, differencesOfCells, labsOf, type LayerColours } from './closest.ts';
import { curvePosition, type ToneCurve } from './tone.ts';
import { coloursOfGroups, groupSamples, zoneCosts, type SampleGroups } from './zone-groups.ts';

/** One zone of a picture, with how its heights run. */
export interface Zone extends ZoneColours, ZoneRun {
  /** How lightness runs over the zone's heights where colour does not decide; 0 is its lowest height, 1 its highest. */
  readonly curve?: ToneCurve | undefined;
}

/** What was said to belong to a zone whatever its colour; later ones go over earlier ones. */
export interface PaintedSelection {
  /** Index of the zone. */
  readonly zone: number;
  /** Id of a selection. */
  readonly selection: string;
  /** What the selection takes in, as a digest: heights with the same digest are the same. */
  readonly digest: string;
}

/** Height rule *Zones*: parts of the picture stand before and behind each other. */
export interface ZonesRule {
  /** Lowest first. */
  readonly zones: readonly Zone[];
  readonly painted: readonly PaintedSelection[];
  /** See `ZoneRoom`. */
  readonly shared: number | null;
  /**
   * Price of standing a whole stack away from where order and span put a colour, CIEDE2000; {@link MOST_LEAN} makes walls of
   * them: nothing leaves its zone's heights.
   */
  readonly lean: number;
  /** Within this of a border the better of both zones' curves counts, mm. Heights are never blended: what lies between has other colours. */
  readonly softMm: number;
  readonly colours: LayerColours;
}

/** Lean of zones unless said otherwise: colour and order both. */
export const USUAL_ZONES_LEAN = 15;

/** The picture that is parted. */
export interface ZonedArtwork {
  readonly cells: () => ColourCells;
  /** How much of each sample a selection takes, 0..255; undefined where it is gone. */
  readonly covered?: ((selection: string) => Uint8Array | undefined) | undefined;
}

export interface ZoneLimits {
  readonly layers: number;
  readonly leastLayers: number;
  readonly tops?: readonly number[] | undefined;
  readonly sampleMm: number;
}

/** What is told of a zone. */
export interface ZoneFacts {
  /** Of all that is printed, 0..1. */
  readonly share: number;
  /** Lowest and highest height, in layers; null for an empty zone. */
  readonly span: readonly [number, number] | null;
  /** Mean colour, `#rrggbb`; null for an empty zone. */
  readonly colour: string | null;
}

/** A picture parted into zones, with what every height costs. */
export interface ZonePlan {
  /** Zone of each sample, counted from 1. */
  readonly labels: Uint8Array;
  readonly facts: readonly ZoneFacts[];
  readonly heights: HeightMap;
  /** For calm: class of each sample, costs and colours of the classes. */
  readonly classes: Uint32Array;
  readonly costs: Float32Array;
  readonly colours: Float32Array;
}

/** Price, for calm, of leaving a wall's curve by a whole stack: as tone counts it. */
const WALL_PRICE = 100;

/** Labels that were worked out last, by the colours of their picture. */
const labelled = new WeakMap<Float32Array, { readonly key: string; readonly labels: Uint8Array }>();

/** The zone of each sample of a picture, counted from 1. Kept while picture and members stay, so nobody may write into it. */
export function labelsOf(
  artwork: ZonedArtwork,
  { zones, painted }: Pick<ZonesRule, 'zones' | 'painted'>,
): Uint8Array {
  const cells = artwork.cells();
  const key = JSON.stringify([
    zones.map(({ colours }) => colours),
    painted.map(({ zone, digest }) => [zone, digest]),
  ]);
  const known = labelled.get(cells.colour);
  if (known?.key === key) return known.labels;
  const masks = painted.flatMap(({ zone, selection }): PaintedZone[] => {
    const samples = artwork.covered?.(selection);
    return samples && zone < zones.length ? [{ zone, samples }] : [];
  });
  const labels = labelSamples(cells, zones, masks);
  labelled.set(cells.colour, { key, labels });
  return labels;
}

/** Plans that were made last, by the colours of their picture: heights are asked for first, and then what to tell of them. */
const planned = new WeakMap<Float32Array, { readonly key: string; readonly plan: ZonePlan }>();

/** Parts a picture and finds its heights. The last plan of a picture is kept, so nobody may write into it. */
export function planZones(artwork: ZonedArtwork, rule: ZonesRule, limits: ZoneLimits): ZonePlan {
  const { colour } = artwork.cells();
  const { zones, painted, shared, lean, softMm, colours } = rule;
  const { layers, leastLayers, tops, sampleMm } = limits;
  const key = JSON.stringify([
    [zones, painted.map(({ zone, digest }) => [zone, digest]), shared, lean, softMm],
    [colours, layers, leastLayers, tops, sampleMm],
  ]);
  const known = planned.get(colour);
  if (known?.key === key) return known.plan;
  const plan = makePlan(artwork, rule, limits);
  planned.set(colour, { key, plan });
  return plan;
}

/** Plans the heights of zones, with nothing kept; see {@link planZones}. */
export function makePlan(
  artwork: ZonedArtwork,
  rule: ZonesRule,
  { layers, leastLayers, tops, sampleMm }: ZoneLimits,
): ZonePlan {
  const cells = artwork.cells();
  const labels = labelsOf(artwork, rule);
  const scale = heightScale(layers, leastLayers, tops);
  const count = rule.zones.length;
  const reach = Math.round(rule.softMm / sampleMm);
  const others = reach > 0 ? otherZones(labels, cells.width, reach) : undefined;
  const groups = groupSamples(cells, labels, others, count);
  const differences = differencesOfCells(cells, rule.colours, scale.least);
  const lightness = labsOf(cells.colour);
  const bins = Uint8Array.from(cells.count, (_, n) => binOfLightness(lightness[3 * n] as number));
  const costs = zoneCosts(groups, bins, differences, count, layers);
  const order = rule.zones.map((_, zone) => zone);
  const room: ZoneRoom = { least: scale.least, layers, shared: rule.shared };
  const { curves: found } = solveCurves(costs, rule.zones, order, room);
  const spans = found.map((curve, zone) =>
    spanOf(curve, costs.counts, zone, rule.zones[zone], scale),
  );
  const curves = found.map((curve, zone) => ownCurve(curve, rule.zones[zone], spans[zone] ?? null));
  const classCosts = costsOfGroups(groups, bins, differences, curves, spans, rule.lean, scale);
  const heightOf = cheapestLayers(classCosts, layers);
  const { width, height } = cells;
  const data = new Uint8Array(labels.length);
  for (let i = 0; i < data.length; i += 1) {
    const group = groups.of[i] as number;
    data[i] = group < heightOf.length ? (heightOf[group] as number) : 0;
  }
  return {
    labels,
    facts: factsOf(labels, cells, spans),
    heights: { width, height, data },
    classes: groups.of,
    costs: classCosts,
    colours: coloursOfGroups(groups, cells),
  };
}

/** Lowest and highest height that occurs; the zone's own span where it has one. */
function spanOf(
  curve: ZoneCurve,
  counts: Float64Array,
  zone: number,
  own: Zone | undefined,
  { least, layers }: HeightScale,
): readonly [number, number] | null {
  if (!curve) return null;
  const into = (layer: number): number => Math.max(least, Math.min(layers, layer));
  if (own?.span) return [into(Math.min(...own.span)), into(Math.max(...own.span))];
  let low = layers;
  let high = least;
  curve.forEach((layer, bin) => {
    if ((counts[zone * ZONE_BINS + bin] as number) === 0) return;
    low = Math.min(low, layer);
    high = Math.max(high, layer);
  });
  return [Math.min(low, high), Math.max(low, high)];
}

/** The curve by colour, or the zone's own over its span. */
function ownCurve(
  found: ZoneCurve,
  zone: Zone | undefined,
  span: readonly [number, number] | null,
): ZoneCurve {
  if (!found || !span || !zone?.curve) return found;
  const { curve, reversed } = zone;
  const [low, high] = span;
  return found.map((_, bin) => {
    const position = curvePosition(curve, (100 * (bin + 0.5)) / ZONE_BINS);
    return low + Math.round((reversed ? 1 - position : position) * (high - low));
  });
}

function costsOfGroups(
  { zone, other, cell }: SampleGroups,
  bins: Uint8Array,
  differences: Float32Array,
  curves: readonly ZoneCurve[],
  spans: readonly (readonly [number, number] | null)[],
  lean: number,
  scale: HeightScale,
): Float32Array {
  const { layers } = scale;
  const stride = layers + 1;
  const places = Float64Array.from({ length: stride }, (_, layer) =>
    layer < scale.least ? 0 : positionOfLayer(scale, layer),
  );
  const walls = lean >= MOST_LEAN;
  const costs = new Float32Array(cell.length * stride).fill(Infinity);
  for (let group = 0; group < cell.length; group += 1) {
    const own = cell[group] as number;
    const bin = bins[own] as number;
    const first = zone[group] as number;
    const second = (other[group] as number) - 1;
    const aim = curves[first]?.[bin] ?? scale.least;
    const beside = second < 0 ? aim : (curves[second]?.[bin] ?? aim);
    const at = group * stride;
    if (walls) {
      const better =
        (differences[own * stride + beside] as number) < (differences[own * stride + aim] as number)
          ? second
          : first;
      const to = better === first ? aim : beside;
      const [low, high] = spans[better] ?? [to, to];
      for (let layer = low; layer <= high; layer += 1)
        if ((differences[own * stride + layer] as number) < Infinity || layer === to)
          costs[at + layer] =
            WALL_PRICE * Math.abs((places[layer] as number) - (places[to] as number));
      continue;
    }
    for (let layer = scale.least; layer <= layers; layer += 1)
      costs[at + layer] =
        (differences[own * stride + layer] as number) +
        lean *
          Math.min(
            Math.abs((places[layer] as number) - (places[aim] as number)),
            Math.abs((places[layer] as number) - (places[beside] as number)),
          );
  }
  return costs;
}

function factsOf(
  labels: Uint8Array,
  cells: ColourCells,
  spans: readonly (readonly [number, number] | null)[],
): ZoneFacts[] {
  const counts = zoneCounts(labels, spans.length);
  const printed = counts.reduce((sum, own) => sum + own, 0);
  const colours = meanColours(cells, labels, spans.length);
  return spans.map((span, own) => ({
    share: (counts[own] ?? 0) / Math.max(1, printed),
    span,
    colour: colours[own] ?? null,
  }));
}

/** The colours of a picture apart for each zone, for a search: as `ColourCells`, with the zone of each. */
export function cellsOfZones(
  artwork: ZonedArtwork,
  rule: Pick<ZonesRule, 'zones' | 'painted'>,
): Pick<ColourCells, 'colour' | 'count'> & {
  /** Cell of each sample; the number of cells where nothing is printed. */
  readonly cell: Uint32Array;
  /** Index of the zone of each cell. */
  readonly zone: Uint8Array;
} {
  const cells = artwork.cells();
  const groups = groupSamples(cells, labelsOf(artwork, rule), undefined, rule.zones.length);
  return {
    cell: groups.of.map((group) => Math.min(group, groups.count.length)),
    zone: groups.zone,
    count: groups.count,
    colour: coloursOfGroups(groups, cells),
  };
}
