import type { Random } from '../base/random.ts';
import { WHITE_D65, xyzOfLinear } from '../colour/xyz.ts';
import { decayOf } from '../optics/kubelka-munk.ts';
import type { FilamentOptics } from '../optics/filament-optics.ts';
import { BIN_COUNT, LINEAR_WEIGHTS } from '../optics/spectral-bins.ts';
import { nearPlace } from '../stack/lean.ts';
import type { LayerGrid } from '../stack/layer-grid.ts';
import type { Clusters } from './clusters.ts';
import {
  prepareDifferences,
  writeDifferences,
  type FastDifferences,
} from '../colour/fast-difference.ts';
import {
  placeOf,
  takeLeaning,
  takeLess,
  takeRising,
  type FindLean,
  type LeaningClusters,
} from './take-rows.ts';
import { ZonedPrice, type FindZones } from './zoned-price.ts';

/** How heights follow the picture while stacks are compared. */
export type FindRule = 'closest' | 'tone' | 'zones';

/** A stack in numbers: filament (an index) and layers of each band, from the plate up. */
export interface Draft {
  readonly filament: Int32Array;
  readonly layers: Int32Array;
  /** Bands in use; what lies beyond in the arrays means nothing. */
  count: number;
}

/** An empty draft with room for some bands. */
export function makeDraft(room: number): Draft {
  return { filament: new Int32Array(room), layers: new Int32Array(room), count: 0 };
}

export function copyDraft(from: Draft, to: Draft): void {
  to.filament.set(from.filament);
  to.layers.set(from.layers);
  to.count = from.count;
}

/** Cells of the colour space in which a seen colour counts as one, a unit of CIELAB: far below what decides. */
const CELLS_PER_L = 2.5;
const CELLS_PER_AB = 1.6;

/** Rows that are usually kept before all are thrown away. */
const USUAL_ROWS = 60_000;

/** No row: nothing is kept of this colour yet. */
const NO_ROW = -1;

/**
 * Tells how well a stack suits a picture, fast. Layers are piled up with Kubelka-Munk as in `computeRamp`; within a
 * band (R - R_inf) / (1 - R_inf R) just falls by E with each layer, which saves half of the divisions. A stack that begins
 * like the last one goes on from where they part. Differences of a
 * seen colour to all clusters are kept, since the same colours come up again and again.
 *
 * With closest blend the price of a stack is a running minimum over its heights. With tone it is the best rising curve:
 * A(h, c), the least price of clusters 0..c on heights up to h, is min(A(h-1, c), A(h, c-1) + d(c, h)), which costs as much.
 */
export class StackEvaluator {
  readonly clusters: number;
  private readonly rising: boolean;
  private readonly single: boolean;
  /** Price of leaning, weighted, and where each cluster should stand; undefined where heights do not lean. */
  private readonly lean: LeaningClusters | undefined;
  private readonly zoned: ZonedPrice | undefined;
  private readonly care: number;
  /** Differences of the heights that are cheapest, where those are not the prices themselves. */
  private readonly errors: Float32Array;
  /** Mean CIEDE2000 of the last stack priced, of the heights that were cheapest. */
  error = 0;
  private readonly leastLayers: number;
  /** Stacks priced so far. */
  evaluated = 0;
  private readonly opaque: Float64Array;
  /** Decay of a first layer, of a layer of the base, and of any other, of each filament and bin. */
  private readonly decay: readonly [Float64Array, Float64Array, Float64Array];
  private readonly baseLayers: number;
  private readonly toXyz: Float64Array;
  private readonly fast: FastDifferences;
  private readonly keys: Int32Array;
  private readonly slots: Int32Array;
  private readonly hashBits: number;
  private readonly mostRows: number;
  /** Weighted differences to all clusters, a row for each colour that was seen. */
  private readonly rows: Float32Array;
  private rowCount = 0;
  private lastKey = NO_ROW;
  private readonly distance = new Float64Array(BIN_COUNT);
  private readonly colour = new Float64Array(3);
  /** Reflectance, least prices and layers under each band of the last stack. */
  private readonly seen: Float64Array;
  private readonly least: Float32Array;
  private readonly under: Int32Array;
  private readonly last: Draft;
  private lastTotal = 0;
  private readonly weight: Float64Array;

  constructor(
    { lab, weight, zone }: Clusters,
    filaments: readonly FilamentOptics[],
    grid: LayerGrid,
    options: {
      readonly rule: FindRule;
      readonly leastLayers: number;
      readonly mostBands: number;
      readonly groundReflectance?: number;
      readonly lean?: FindLean | undefined;
      readonly zones?: FindZones | undefined;
      /** See `FindRequest.care`. */
      readonly care?: number | undefined;
      /** Keeps no differences; for few stacks and many clusters. */
      readonly single?: boolean;
      /** Rows of differences that are kept; {@link USUAL_ROWS} unless said otherwise. */
      readonly mostRows?: number;
    },
  ) {
    this.clusters = weight.length;
    this.rising = options.rule === 'tone';
    this.single = options.single === true;
    this.leastLayers = options.leastLayers;
    this.care = options.care ?? 1;
    const { lean } = options;
    this.lean =
      lean && lean.price > 0
        ? {
            prices: weight.map((share) => share * lean.price),
            aims: Float64Array.from(weight, (_, k) => placeOf(lean, lab[3 * k] as number)),
            near: nearPlace(lean.price),
          }
        : undefined;
    this.zoned =
      options.zones && zone
        ? new ZonedPrice(
            options.zones,
            zone,
            weight,
            weight.map((_, k) => lab[3 * k] as number),
          )
        : undefined;
    this.opaque = Float64Array.from(filaments.flatMap(({ opaque }) => [...opaque]));
    const decays = (mm: number): Float64Array =>
      Float64Array.from(
        filaments.flatMap(({ opaque, scatterPerMm }) =>
          Array.from({ length: BIN_COUNT }, (_, bin) =>
            decayOf(opaque[bin] ?? 0, scatterPerMm[bin] ?? 0, mm),
          ),
        ),
      );
    this.baseLayers = grid.baseLayerMm === undefined ? 1 : (grid.baseLayers ?? 1);
    this.decay = [
      decays(grid.firstLayerMm),
      decays(grid.baseLayerMm ?? grid.layerMm),
      decays(grid.layerMm),
    ];
    this.toXyz = xyzWeights();
    this.fast = prepareDifferences({ lab, weight });
    this.mostRows = this.single ? 1 : (options.mostRows ?? USUAL_ROWS);
    // At most half full, so that a colour is found in a step or two.
    this.hashBits = Math.ceil(Math.log2(2 * this.mostRows));
    this.keys = new Int32Array(1 << this.hashBits).fill(NO_ROW);
    this.slots = new Int32Array(1 << this.hashBits);
    this.rows = new Float32Array(this.mostRows * weight.length);
    const room = options.mostBands + 1;
    this.seen = new Float64Array(room * BIN_COUNT).fill(options.groundReflectance ?? 0);
    this.least = new Float32Array(room * this.clusters).fill(Infinity);
    this.errors = new Float32Array(this.lean ? room * this.clusters : 0);
    this.under = new Int32Array(room);
    this.last = makeDraft(room);
    this.weight = weight;
  }

  /**
   * Price of a stack: mean CIEDE2000 over the clusters by their weights, each to the power of `care`, with what leaning costs.
   */
  price(draft: Draft): number {
    this.evaluated += 1;
    const { last, clusters, seen, least, under, distance, opaque, colour } = this;
    this.lastKey = NO_ROW;
    let band = 0;
    let total = 0;
    for (let i = 0; i < draft.count; i += 1) total += draft.layers[i] as number;
    // Places in the stack are shares of all of it, so where it grew nothing of the last one holds.
    const same = !this.lean || total === this.lastTotal;
    this.lastTotal = total;
    while (
      same &&
      band < draft.count &&
      band < last.count &&
      last.filament[band] === draft.filament[band] &&
      last.layers[band] === draft.layers[band]
    )
      band += 1;
    for (; band < draft.count; band += 1) {
      const filament = draft.filament[band] as number;
      const layers = draft.layers[band] as number;
      const from = band * BIN_COUNT;
      const to = from + BIN_COUNT;
      if (!this.zoned)
        least.copyWithin((band + 1) * clusters, band * clusters, (band + 1) * clusters);
      if (this.lean)
        this.errors.copyWithin((band + 1) * clusters, band * clusters, (band + 1) * clusters);
      beginBand(seen, from, opaque, filament * BIN_COUNT, distance);
      let layer = under[band] as number;
      for (let i = 0; i < layers; i += 1) {
        layer += 1;
        const decay = this.decay[layer === 1 ? 0 : layer <= this.baseLayers ? 1 : 2];
        addLayer(distance, decay, opaque, filament * BIN_COUNT, seen, to, this.toXyz, colour);
        if (layer >= this.leastLayers) this.take((band + 1) * clusters, layer, total);
      }
      under[band + 1] = layer;
      last.filament[band] = filament;
      last.layers[band] = layers;
    }
    last.count = draft.count;
    if (this.zoned) {
      const price = this.zoned.price(Math.min(this.leastLayers, total), total);
      this.error = this.zoned.error;
      return price;
    }
    const at = draft.count * clusters;
    if (this.rising) return (this.error = least[at + clusters - 1] as number);
    let sum = 0;
    for (let k = 0; k < clusters; k += 1) sum += least[at + k] as number;
    this.error = sum;
    if (this.lean) {
      this.error = 0;
      for (let k = 0; k < clusters; k += 1) this.error += this.errors[at + k] as number;
    }
    return sum;
  }

  /** Counts a height in whose X, Y and Z stand in `colour`. */
  private take(at: number, layer: number, total: number): void {
    const { colour, clusters, least, rows } = this;
    if (this.single) labOfRatios(colour, compress);
    else labOfRatios(colour, nearlyCompress);
    const row = this.single ? this.freshRow() : this.keptRow();
    if (this.zoned) {
      this.zoned.put(layer, rows, row);
      return;
    }
    if (this.lean) {
      const lowest = Math.min(this.leastLayers, total);
      const place = (layer - lowest + 0.5) / (total - lowest + 1);
      takeLeaning(least, this.errors, at, rows, row, clusters, this.lean, place);
      return;
    }
    // The same colour as one layer below changes nothing.
    if (row === NO_ROW) return;
    if (this.rising) takeRising(least, at, rows, row, clusters);
    else takeLess(least, at, rows, row, clusters);
  }

  /** Prices pictures in zones in another order, lowest first. */
  stand(order: readonly number[]): void {
    this.zoned?.stand(order);
  }

  /** Lets two zones change places, where there are some; what comes back undoes it. */
  swapZones(random: Random): () => void {
    return this.zoned?.swap(random) ?? (() => undefined);
  }

  /** The order of zones in which the stack that was priced last costs least; undefined without zones. */
  cheapestOrder(): readonly number[] | undefined {
    return this.zoned?.cheapestOrder();
  }

  private freshRow(): number {
    const { colour } = this;
    const [l, a, b] = [colour[0], colour[1], colour[2]] as [number, number, number];
    writeDifferences(this.fast, l, a, b, this.rows, 0);
    this.careFor(0);
    return 0;
  }

  /** Raises the differences of a row, which are times their weights, to the power of `care`. */
  private careFor(row: number): void {
    const { care, clusters, rows, weight } = this;
    if (care === 1) return;
    for (let k = 0; k < clusters; k += 1) {
      const share = weight[k] as number;
      if (share > 0) rows[row + k] = share * ((rows[row + k] as number) / share) ** care;
    }
  }

  private keptRow(): number {
    const { colour, keys, clusters, rows } = this;
    const l = colour[0] as number;
    const a = colour[1] as number;
    const b = colour[2] as number;
    const key = keyOf(colour);
    if (key === this.lastKey && !this.lean && !this.zoned) return NO_ROW;
    this.lastKey = key;
    const shift = 32 - this.hashBits;
    const last = keys.length - 1;
    let slot = Math.imul(key, 0x9e3779b1) >>> shift;
    for (;;) {
      const held = keys[slot] as number;
      if (held === key) return this.slots[slot] as number;
      if (held === NO_ROW) break;
      slot = (slot + 1) & last;
    }
    if (this.rowCount === this.mostRows) {
      keys.fill(NO_ROW);
      this.rowCount = 0;
      slot = Math.imul(key, 0x9e3779b1) >>> shift;
    }
    const row = this.rowCount * clusters;
    this.rowCount += 1;
    keys[slot] = key;
    this.slots[slot] = row;
    writeDifferences(this.fast, l, a, b, rows, row);
    this.careFor(row);
    return row;
  }
}

/** The cell of a seen colour. */
function keyOf(colour: Float64Array): number {
  return (
    ((((colour[0] as number) * CELLS_PER_L + 0.5) | 0) << 20) |
    ((((colour[1] as number) + 160) * CELLS_PER_AB) << 10) |
    (((colour[2] as number) + 160) * CELLS_PER_AB)
  );
}

/** How far a reflectance is from a filament's own, as (R - R_inf) / (1 - R_inf R), in each bin. */
function beginBand(
  seen: Float64Array,
  at: number,
  opaque: Float64Array,
  filament: number,
  distance: Float64Array,
): void {
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    const own = opaque[filament + bin] as number;
    const below = seen[at + bin] as number;
    distance[bin] = (below - own) / (1 - own * below);
  }
}

/** Adds a layer: what is seen then goes to `seen`, its X, Y and Z over those of the white to `xyz`; see `reflectanceOver`. */
function addLayer(
  distance: Float64Array,
  decay: Float64Array,
  opaque: Float64Array,
  filament: number,
  seen: Float64Array,
  at: number,
  toXyz: Float64Array,
  xyz: Float64Array,
): void {
  let x = 0;
  let y = 0;
  let z = 0;
  // One loop for all: the values stay in registers, which halves the time.
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    const own = opaque[filament + bin] as number;
    const q = (distance[bin] as number) * (decay[filament + bin] as number);
    const value = (own + q) / (1 + own * q);
    distance[bin] = q;
    seen[at + bin] = value;
    x += value * (toXyz[bin] as number);
    y += value * (toXyz[BIN_COUNT + bin] as number);
    z += value * (toXyz[2 * BIN_COUNT + bin] as number);
  }
  xyz[0] = x;
  xyz[1] = y;
  xyz[2] = z;
}

/** CIELAB in place of X, Y and Z over those of the white. */
function labOfRatios(colour: Float64Array, compressed: (ratio: number) => number): void {
  const fx = compressed(colour[0] as number);
  const fy = compressed(colour[1] as number);
  const fz = compressed(colour[2] as number);
  colour[0] = 116 * fy - 16;
  colour[1] = 500 * (fx - fy);
  colour[2] = 200 * (fy - fz);
}

function compress(ratio: number): number {
  return ratio > 216 / 24389 ? Math.cbrt(ratio) : ((24389 / 27) * ratio + 16) / 116;
}

/** Steps of the table of {@link nearlyCompress}; linear between them L* is right to 0.001. */
const STEPS = 4096;
const COMPRESSED = Float64Array.from({ length: STEPS + 2 }, (_, i) => compress(i / STEPS));

/** {@link compress} from a table, which is several times faster; ratios are at most 1. */
function nearlyCompress(ratio: number): number {
  const place = ratio * STEPS;
  const step = Math.min(STEPS, place | 0);
  const below = COMPRESSED[step] as number;
  return below + (place - step) * ((COMPRESSED[step + 1] as number) - below);
}

/** Weights from reflectance per bin to X, Y and Z over those of the white, three rows of bins. */
function xyzWeights(): Float64Array {
  const out = new Float64Array(3 * BIN_COUNT);
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    const xyz = xyzOfLinear([
      LINEAR_WEIGHTS[bin] ?? 0,
      LINEAR_WEIGHTS[BIN_COUNT + bin] ?? 0,
      LINEAR_WEIGHTS[2 * BIN_COUNT + bin] ?? 0,
    ]);
    xyz.forEach((value, i) => {
      out[i * BIN_COUNT + bin] = value / (WHITE_D65[i] ?? 1);
    });
  }
  return out;
}
