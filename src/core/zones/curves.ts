/** Classes of lightness in which a zone's heights rise: two units of L* each. */
export const ZONE_BINS = 50;

/** The class of a lightness, L* 0..100. */
export function binOfLightness(lightness: number): number {
  return Math.min(ZONE_BINS - 1, Math.max(0, Math.floor((lightness / 100) * ZONE_BINS)));
}

/** What heights cost the lightness classes of some zones. */
export interface ZoneCosts {
  readonly zones: number;
  readonly layers: number;
  /** Cost of all samples of a class at a height: `((zone * ZONE_BINS) + bin) * (layers + 1) + height`. */
  readonly costs: Float64Array;
  /** Samples in each class, `zone * ZONE_BINS + bin`. */
  readonly counts: Float64Array;
}

/** How one zone's heights run. */
export interface ZoneRun {
  /** True: light is low and dark is high. */
  readonly reversed: boolean;
  /** Lowest and highest height, in layers; null where they are found. */
  readonly span: readonly [number, number] | null;
}

/** Where zones may stand. */
export interface ZoneRoom {
  readonly least: number;
  readonly layers: number;
  /** Layers that neighbours in the order may share; 0: they stand apart; null: as many as they like. */
  readonly shared: number | null;
}

/** Heights of the lightness classes of a zone, `ZONE_BINS` numbers; undefined for an empty zone. */
export type ZoneCurve = Uint8Array | undefined;

export interface ZoneCurves {
  readonly curves: readonly ZoneCurve[];
  /** Sum of the costs of all samples. */
  readonly price: number;
}

/**
 * The cheapest heights for zones in their order from below: within a zone they rise with lightness (or fall), and each zone
 * begins above the one below it but for the layers that both may use. Exact, by dynamic programming over classes and heights
 * (R. Bellman, "Dynamic Programming", Princeton 1957): A(l, k) = min(A(l - 1, k), A(l, k - 1) + cost(k, l)), with
 * A of the zone below at l - 1 + shared where a zone begins. Zones with a span of their own are solved within it, and those
 * between in what is left. Empty zones take no layers.
 * @param order indices of zones, lowest first
 */
export function solveCurves(
  costs: ZoneCosts,
  runs: readonly ZoneRun[],
  order: readonly number[],
  room: ZoneRoom,
): ZoneCurves {
  const curves: (Uint8Array | undefined)[] = runs.map(() => undefined);
  const there = order.filter((zone) => isThere(costs, zone));
  const least = Math.min(room.least, room.layers);
  const shared = room.shared ?? room.layers;
  let price = 0;
  let low = least;
  let free: number[] = [];
  const solve = (zones: readonly number[], from: number, to: number): void => {
    if (zones.length === 0) return;
    const lowest = clampLayer(from, least, room.layers);
    const highest = Math.max(lowest, clampLayer(to, least, room.layers));
    price += solveChain(costs, runs, zones, { lowest, highest, shared }, curves);
  };
  for (const zone of there) {
    const span = runs[zone]?.span;
    if (!span) {
      free.push(zone);
      continue;
    }
    const from = clampLayer(Math.min(...span), least, room.layers);
    const to = clampLayer(Math.max(...span), least, room.layers);
    solve(free, low, from - 1 + shared);
    free = [];
    solve([zone], from, to);
    low = to + 1 - shared;
  }
  solve(free, low, room.layers);
  return { curves, price };
}

function clampLayer(layer: number, least: number, most: number): number {
  return Math.max(least, Math.min(most, layer));
}

function isThere({ counts }: ZoneCosts, zone: number): boolean {
  return counts.subarray(zone * ZONE_BINS, (zone + 1) * ZONE_BINS).some((count) => count > 0);
}

interface ChainRoom {
  readonly lowest: number;
  readonly highest: number;
  readonly shared: number;
}

/** Zones with more than there are layers for share what there is. */
function sharedIn({ lowest, highest, shared }: ChainRoom, zones: number): number {
  return highest - lowest + 1 < zones ? Math.max(1, shared) : shared;
}

/** Solves zones one above the other; writes their curves, returns their price. */
function solveChain(
  costs: ZoneCosts,
  runs: readonly ZoneRun[],
  zones: readonly number[],
  room: ChainRoom,
  curves: (Uint8Array | undefined)[],
): number {
  const { lowest, highest } = room;
  const shared = sharedIn(room, zones.length);
  const stride = highest - lowest + 1;
  const bins = ZONE_BINS;
  const best = new Float64Array(zones.length * bins * stride);
  let below: Float64Array | undefined;
  zones.forEach((zone, place) => {
    below = climb(costs, zone, runs[zone]?.reversed === true, below, { ...room, shared }, (bin) =>
      best.subarray((place * bins + bin) * stride, (place * bins + bin + 1) * stride),
    );
  });
  let layer = highest;
  for (let place = zones.length - 1; place >= 0; place -= 1) {
    const zone = zones[place] as number;
    const reversed = runs[zone]?.reversed === true;
    const curve = new Uint8Array(bins);
    for (let bin = bins - 1; bin >= 0; bin -= 1) {
      const row = best.subarray((place * bins + bin) * stride, (place * bins + bin + 1) * stride);
      while (layer > lowest && row[layer - 1 - lowest] === row[layer - lowest]) layer -= 1;
      curve[reversed ? bins - 1 - bin : bin] = layer;
    }
    layBelow(curve, costs.counts.subarray(zone * bins, (zone + 1) * bins), reversed);
    curves[zone] = curve;
    layer = Math.min(highest, layer - 1 + shared);
  }
  return below?.[stride - 1] ?? 0;
}

/** Classes before the first that occurs stand where that one does, so that a finer look at the picture finds nothing astray. */
function layBelow(curve: Uint8Array, counts: Float64Array, reversed: boolean): void {
  const at = (k: number): number => (reversed ? curve.length - 1 - k : k);
  let first = 0;
  while (first < curve.length && (counts[at(first)] as number) === 0) first += 1;
  if (first === curve.length) return;
  for (let k = 0; k < first; k += 1) curve[at(k)] = curve[at(first)] as number;
}

/**
 * Takes one zone: for each class in turn the least price of all up to it, on heights up to each.
 * @param below the last row of the zone below; undefined for the lowest
 * @param rowOf where the row of a class is written
 * @returns the last row
 */
function climb(
  { layers, costs }: ZoneCosts,
  zone: number,
  reversed: boolean,
  below: Float64Array | undefined,
  { lowest, highest, shared }: ChainRoom,
  rowOf: (bin: number) => Float64Array,
): Float64Array {
  const stride = highest - lowest + 1;
  let before: Float64Array | undefined;
  let row = rowOf(0);
  for (let bin = 0; bin < ZONE_BINS; bin += 1) {
    row = rowOf(bin);
    const at = (zone * ZONE_BINS + (reversed ? ZONE_BINS - 1 - bin : bin)) * (layers + 1) + lowest;
    let least = Infinity;
    for (let l = 0; l < stride; l += 1) {
      let entry = 0;
      if (before) entry = before[l] as number;
      else if (below) {
        const under = Math.min(stride - 1, l - 1 + shared);
        entry = under < 0 ? Infinity : (below[under] as number);
      }
      const price = entry + (costs[at + l] as number);
      if (price < least) least = price;
      row[l] = least;
    }
    before = row;
  }
  return row;
}

/**
 * The order of zones, lowest first, whose curves cost least, of all orders there are. Spans of their own are left out of
 * account; empty zones come last.
 */
export function cheapestOrder(
  costs: ZoneCosts,
  runs: readonly ZoneRun[],
  room: ZoneRoom,
): { readonly order: readonly number[]; readonly price: number } {
  const all = runs.map((_, zone) => zone);
  const there = all.filter((zone) => isThere(costs, zone));
  const lowest = Math.min(room.least, room.layers);
  const stride = room.layers - lowest + 1;
  const chain = { lowest, highest: room.layers, shared: room.shared ?? room.layers };
  const inChain = { ...chain, shared: sharedIn(chain, there.length) };
  const rows = there.map(() => [0, 1].map(() => new Float64Array(stride)));
  const { order, price } = bestOrderOf(
    there,
    stride - 1,
    (zone, below: Float64Array | undefined, place) =>
      climb(
        costs,
        zone,
        runs[zone]?.reversed === true,
        below,
        inChain,
        (bin) => rows[place]?.[bin & 1] ?? new Float64Array(stride),
      ),
  );
  return { order: [...order, ...all.filter((zone) => !there.includes(zone))], price };
}

/**
 * The cheapest order of some zones, of all there are (at most 720): a search in depth that gives an order up as soon as its lower
 * zones alone cost as much as the best. Where all orders are equal the given one stays.
 * @param top place in a row of the highest height
 * @param climb puts a zone on what is below it, as the `place`th; the least price up to each height
 */
export function bestOrderOf<Row extends ArrayLike<number>>(
  zones: readonly number[],
  top: number,
  climb: (zone: number, below: Row | undefined, place: number) => Row,
): { readonly order: readonly number[]; readonly price: number } {
  let best: readonly number[] = zones;
  let least = Infinity;
  const chosen: number[] = [];
  const go = (below: Row | undefined): void => {
    const price = below?.[top] ?? 0;
    if (price >= least - 1e-9 * Math.abs(price)) return;
    if (chosen.length === zones.length) {
      least = price;
      best = [...chosen];
      return;
    }
    for (const zone of zones) {
      if (chosen.includes(zone)) continue;
      const row = climb(zone, below, chosen.length);
      chosen.push(zone);
      go(row);
      chosen.pop();
    }
  };
  go(undefined);
  return { order: best, price: zones.length > 0 ? least : 0 };
}
