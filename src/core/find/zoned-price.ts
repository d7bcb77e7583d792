import type { Random } from '../base/random.ts';
import { bestOrderOf } from '../zones/curves.ts';
import { placeOf } from './take-rows.ts';

/** Zones that stand above each other while stacks are compared; see `ZonesRule` of the height rules. */
export interface FindZones {
  /** Lowest first: what each is called, and whether its light is low. */
  readonly zones: readonly {
    readonly id: string;
    readonly reversed: boolean;
    /** Where the zone's own curve puts L* 0, 1, .. 100 within its span; by colour where there is none. */
    readonly places?: readonly number[] | undefined;
  }[];
  /** Layers that neighbours may share; null: as many as they like. */
  readonly shared: number | null;
  /** Price of standing a whole stack away from a zone's curve, CIEDE2000; null makes walls of the curves. */
  readonly price: number | null;
  /** Zones may stand in any order; otherwise in the given one. */
  readonly anyOrder: boolean;
}

/** The clusters of one zone: the first and the last along its heights. */
interface ZoneClusters {
  readonly first: number;
  readonly last: number;
  readonly step: 1 | -1;
  readonly count: number;
  /** Place of each of them along its own curve, by cluster; undefined where heights go by colour. */
  readonly places: ReadonlyMap<number, number> | undefined;
}

/**
 * What a stack costs a picture in zones: for each height the differences to all clusters are put down, then the best curves of
 * the zones are found one above the other (as `solveCurves` does), and where zones have no walls each cluster goes where its
 * difference with the price of leaving the curve is least. A zone with a curve of its own keeps the span that it is found to have,
 * and stands in that by its curve, as the height rule does.
 */
export class ZonedPrice {
  /** Mean CIEDE2000 of the last stack priced. */
  error = 0;
  private readonly zones: readonly ZoneClusters[];
  private order: readonly number[];
  /** Differences by height, a row of all clusters each. */
  private table: Float32Array;
  /** Least price of a zone's clusters up to each, and of all zones below, at each height; a row of all clusters each. */
  private paths: Float32Array;
  private readonly aims: Int32Array;
  /** Least price of the zones up to each place in the order, at each height. */
  private rows: Float32Array[] = [];
  private lowest = 1;
  private highest = 1;
  /** Lowest height that was put down since the last stack, and what the paths of that one were found with. */
  private changedFrom = 0;
  private climbed: { readonly order: readonly number[]; readonly shared: number } | undefined;

  /** Some zone goes by a curve of its own. */
  private readonly curved: boolean;

  /**
   * @param zone of each cluster; clusters of one zone stand together, darkest first
   * @param lightness L* of each cluster
   */
  constructor(
    private readonly options: FindZones,
    zone: ArrayLike<number>,
    private readonly weight: Float64Array,
    lightness: ArrayLike<number>,
  ) {
    const all = Array.from(zone);
    this.zones = options.zones.map(({ reversed, places: byLightness }, own) => {
      const from = all.indexOf(own);
      const to = all.lastIndexOf(own);
      const count = from < 0 ? 0 : to - from + 1;
      const places =
        byLightness &&
        new Map(
          Array.from({ length: count }, (_, k): [number, number] => {
            const place = placeOf({ places: byLightness }, lightness[from + k] as number);
            return [from + k, reversed ? 1 - place : place];
          }),
        );
      return reversed
        ? { first: to, last: from, step: -1, count, places }
        : { first: from, last: to, step: 1, count, places };
    });
    this.curved = this.zones.some(({ places, count }) => places !== undefined && count > 0);
    this.order = options.zones.map((_, own) => own);
    this.table = new Float32Array(0);
    this.paths = new Float32Array(0);
    this.aims = new Int32Array(weight.length);
  }

  /** The order that stacks are priced in, lowest first. */
  stand(order: readonly number[]): void {
    this.order = order;
  }

  /** Lets two zones change places; what comes back undoes it. */
  swap(random: Random): () => void {
    const { order } = this;
    const count = order.length;
    if (count > 1) {
      const one = random.below(count);
      const other = (one + 1 + random.below(count - 1)) % count;
      this.order = order.map((zone, place) =>
        place === one ? (order[other] ?? zone) : place === other ? (order[one] ?? zone) : zone,
      );
    }
    return () => {
      this.order = order;
    };
  }

  /** Puts down the differences at a height: a copy, since rows are thrown away. */
  put(height: number, rows: Float32Array, row: number): void {
    const clusters = this.weight.length;
    if ((height + 1) * clusters > this.table.length) {
      const grown = new Float32Array(Math.max((height + 1) * clusters, 2 * this.table.length));
      grown.set(this.table);
      this.table = grown;
    }
    this.table.set(rows.subarray(row, row + clusters), height * clusters);
    if (height < this.changedFrom) this.changedFrom = height;
  }

  /**
   * Price of heights from `lowest` to `highest`, all of which were put down. What is below the lowest height that was put down
   * anew is known from the last stack.
   */
  price(lowest: number, highest: number): number {
    const { order, climbed, weight } = this;
    const known =
      lowest === this.lowest ? Math.min(this.highest, highest, this.changedFrom - 1) : 0;
    this.lowest = lowest;
    this.highest = highest;
    this.changedFrom = Infinity;
    const clusters = weight.length;
    const height = highest - lowest + 1;
    const soft = this.options.price;
    const there = order.filter((zone) => (this.zones[zone]?.count ?? 0) > 0);
    const shared = this.sharedBy(there.length);
    let from =
      climbed?.order === order && climbed.shared === shared ? Math.max(0, known - lowest + 1) : 0;
    if (this.paths.length < clusters * height) {
      this.paths = new Float32Array(2 * clusters * height);
      from = 0;
    }
    this.climbed = { order, shared };
    let below: Float32Array | undefined;
    there.forEach((zone, place) => {
      below = this.climb(zone, below, place, shared, from);
      // The next one looks at heights of this one that it shares.
      from = Math.max(0, Math.min(from, from - shared + 1));
    });
    this.error = below?.[height - 1] ?? 0;
    return soft === null && !this.curved ? this.error : this.leave(there, shared, soft);
  }

  /** The order in which the stack that was priced last costs least. */
  cheapestOrder(): readonly number[] {
    const all = this.options.zones.map((_, zone) => zone);
    const there = all.filter((zone) => (this.zones[zone]?.count ?? 0) > 0);
    const shared = this.sharedBy(there.length);
    // Paths are those of some other order then.
    this.climbed = undefined;
    const { order } = bestOrderOf(
      there,
      this.highest - this.lowest,
      (zone, below: Float32Array | undefined, place) => this.climb(zone, below, place, shared, 0),
    );
    return [...order, ...all.filter((zone) => !there.includes(zone))];
  }

  private sharedBy(zones: number): number {
    const height = this.highest - this.lowest + 1;
    const shared = this.options.shared ?? height;
    return height < zones ? Math.max(1, shared) : shared;
  }

  /** One zone on top of what is below it: the least price up to each height, of which those below `from` are known. */
  private climb(
    zone: number,
    below: Float32Array | undefined,
    place: number,
    shared: number,
    from: number,
  ): Float32Array {
    const { table, paths, weight, lowest, highest } = this;
    const own = this.zones[zone];
    const clusters = weight.length;
    const height = highest - lowest + 1;
    let reached = this.rows[place];
    if (!reached || reached.length < height) {
      const grown = new Float32Array(2 * height);
      if (reached) grown.set(reached);
      this.rows[place] = reached = grown;
    }
    if (!own) return reached;
    const { first, step, count } = own;
    for (let l = from; l < height; l += 1) {
      const at = (lowest + l) * clusters;
      const to = l * clusters;
      let before = 0;
      if (below) {
        const under = Math.min(height - 1, l - 1 + shared);
        before = under < 0 ? Infinity : (below[under] as number);
      }
      if (l === 0)
        for (let i = 0, k = first; i < count; i += 1, k += step) {
          before += table[at + k] as number;
          paths[to + k] = before;
        }
      else
        for (let i = 0, k = first; i < count; i += 1, k += step) {
          const here = before + (table[at + k] as number);
          const lower = paths[to - clusters + k] as number;
          before = here < lower ? here : lower;
          paths[to + k] = before;
        }
      reached[l] = before;
    }
    return reached;
  }

  /** Every cluster where its difference with the price of leaving its zone's curve is least; on the curve where that is a wall. */
  private leave(there: readonly number[], shared: number, soft: number | null): number {
    const { paths, aims, table, weight, lowest, highest } = this;
    const clusters = weight.length;
    const height = highest - lowest + 1;
    let l = height - 1;
    for (let place = there.length - 1; place >= 0; place -= 1) {
      const own = this.zones[there[place] as number];
      if (!own) continue;
      for (let i = 0, k = own.last; i < own.count; i += 1, k -= own.step) {
        while (l > 0 && paths[(l - 1) * clusters + k] === paths[l * clusters + k]) l -= 1;
        aims[k] = l;
      }
      if (own.places) {
        const low = aims[own.first] as number;
        const span = (aims[own.last] as number) - low;
        for (const [k, position] of own.places) aims[k] = low + Math.round(position * span);
      }
      l = Math.min(height - 1, l - 1 + shared);
    }
    let sum = 0;
    this.error = 0;
    for (let k = 0; k < clusters; k += 1) {
      // A wall is dearer than any difference.
      const share = soft === null ? Infinity : ((weight[k] as number) * soft) / height;
      const aim = aims[k] as number;
      const at = (lowest + aim) * clusters + k;
      let error = table[at] as number;
      let least = error;
      // From the aim upwards and downwards: farther than the least price so far nothing can be cheaper.
      for (
        let l = aim + 1, price = share, up = at + clusters;
        l < height && price < least;
        l += 1, price += share, up += clusters
      ) {
        const difference = table[up] as number;
        if (difference + price >= least) continue;
        least = difference + price;
        error = difference;
      }
      for (
        let l = aim - 1, price = share, down = at - clusters;
        l >= 0 && price < least;
        l -= 1, price += share, down -= clusters
      ) {
        const difference = table[down] as number;
        if (difference + price >= least) continue;
        least = difference + price;
        error = difference;
      }
      sum += least;
      this.error += error;
    }
    return sum;
  }
}
