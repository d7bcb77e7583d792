import type { ColourCells } from '../artwork/colour-cells.ts';
import type { HeightMap } from '../base/raster.ts';
import { heightScale, positionOfLayer, type HeightScale } from '../stack/height-scale.ts';
import {
  binOfLightness,
  cheapestOrder,
  solveCurves,
  ZONE_BINS,
  type ZoneCosts,
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
import { ownersOf, seedsOf } from '../zones/propose.ts';
import { ruleColoursOf, type ZoneColours } from '../zones/zone.ts';
import {
  cheapestLayers,
  differencesOfCells,
  labsOf,
  MOST_LEAN,
  type LayerColours,
} from './closest.ts';
import { curvePosition, type ToneCurve } from './tone.ts';

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

function makePlan(
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

/** Samples of one zone and colour, and of one other zone that they are near to. */
interface SampleGroups {
  /** Group of each sample; the number of groups where nothing is printed. */
  readonly of: Uint32Array;
  readonly zone: Uint8Array;
  /** Other zone near by, counted from 1; 0: none. */
  readonly other: Uint8Array;
  readonly cell: Uint32Array;
  readonly count: Uint32Array;
}

function groupSamples(
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

function zoneCosts(
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
const NEVER = 1e6;

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

/** Zones fitted to a stack. */
export interface FittedZones {
  /** The zones' new colours, lowest zone first. */
  readonly zones: readonly ZoneColours[];
  /** Where each stood before. */
  readonly order: readonly number[];
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

function coloursOfGroups({ cell }: SampleGroups, { colour }: ColourCells): Float32Array {
  const out = new Float32Array(3 * cell.length);
  cell.forEach((own, group) => {
    out.set(colour.subarray(3 * own, 3 * own + 3), 3 * group);
  });
  return out;
}

/** Rounds in which colours move between zones; later ones move next to nothing. */
const FIT_ROUNDS = 4;

/** Fewer colours than this are too few to move between zones: the picture is asked for more. */
const FEW_COLOURS = 24;

/**
 * Fits zones to a stack: colours move to the zone whose curve serves them best, and curves and order follow, round by round.
 * What was painted is left out of account, and no zone loses its last colour.
 * @param reorder whether zones may change places; otherwise the given order stays
 */
export function fitZones(
  artwork: ZonedArtwork,
  rule: ZonesRule,
  limits: ZoneLimits,
  reorder: boolean,
): FittedZones {
  const cells = artwork.cells();
  const { zones } = rule;
  const count = zones.length;
  const scale = heightScale(limits.layers, limits.leastLayers, limits.tops);
  const differences = differencesOfCells(cells, rule.colours, scale.least);
  const lightness = labsOf(cells.colour);
  const bins = Uint8Array.from(cells.count, (_, n) => binOfLightness(lightness[3 * n] as number));
  const runs = zones.map(({ reversed }) => ({ reversed, span: null }));
  const room: ZoneRoom = { least: scale.least, layers: limits.layers, shared: rule.shared };
  const { colours, zoneOf } = coloursToMove(cells, zones);
  const seedOf = ownersOf(cells, colours);
  const stride = limits.layers + 1;
  let order: readonly number[] = zones.map((_, zone) => zone);
  let best = { zoneOf: [...zoneOf], order, price: Infinity };
  for (let round = 0; round <= FIT_ROUNDS; round += 1) {
    const groups: Pick<SampleGroups, 'zone' | 'cell' | 'count'> = {
      zone: Uint8Array.from(seedOf, (seed) => zoneOf[seed] ?? 0),
      cell: Uint32Array.from(seedOf, (_, n) => n),
      count: cells.count,
    };
    const costs = zoneCosts(groups, bins, differences, count, limits.layers);
    if (reorder) ({ order } = cheapestOrder(costs, runs, room));
    const { curves, price } = solveCurves(costs, runs, order, room);
    if (price >= best.price) break;
    best = { zoneOf: [...zoneOf], order, price };
    const prices = new Float64Array(colours.length * count);
    seedOf.forEach((seed, n) => {
      const weight = cells.count[n] as number;
      curves.forEach((curve, zone) => {
        const height = curve?.[bins[n] as number];
        const cost = height === undefined ? NEVER : (differences[n * stride + height] as number);
        const at = seed * count + zone;
        prices[at] = (prices[at] as number) + weight * cost;
      });
    });
    colours.forEach((_, seed) => {
      const own = zoneOf[seed] ?? 0;
      if (zoneOf.filter((zone) => zone === own).length < 2) return;
      let cheapest = own;
      for (let zone = 0; zone < count; zone += 1)
        if ((prices[seed * count + zone] as number) < (prices[seed * count + cheapest] as number))
          cheapest = zone;
      zoneOf[seed] = cheapest;
    });
  }
  return {
    zones: best.order.map((zone) => ({
      colours: colours.filter((_, seed) => best.zoneOf[seed] === zone),
    })),
    order: best.order,
  };
}

/** The colours of all zones, and the zone of each; where they are few, more of the picture's own, each with the zone that it is in. */
function coloursToMove(
  cells: ColourCells,
  zones: readonly ZoneColours[],
): { readonly colours: readonly string[]; readonly zoneOf: number[] } {
  const colours = zones.flatMap((zone) => zone.colours);
  const zoneOf = zones.flatMap((zone, at) => zone.colours.map(() => at));
  if (colours.length >= FEW_COLOURS || colours.length === 0) return { colours, zoneOf };
  const more = seedsOf(cells).map(({ hex }) => hex);
  const nearest = ownersOf({ colour: ruleColoursOf(more) }, colours);
  return { colours: more, zoneOf: Array.from(nearest, (own) => zoneOf[own] ?? 0) };
}
