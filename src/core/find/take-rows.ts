import { farOff } from '../stack/lean.ts';

/** Heights that lean: what `Lean` of the height rules is, in numbers. */
export interface FindLean {
  /** Price of standing away from there, CIEDE2000 for a whole stack times `farOff`. */
  readonly price: number;
  /** Where tone would put L* 0, 1, .. 100: 0 lowest, 1 highest. */
  readonly places: readonly number[];
}

/** Where tone would put a lightness, between two of the given places. */
export function placeOf({ places }: Pick<FindLean, 'places'>, lightness: number): number {
  const last = places.length - 1;
  const at = Math.min(last, Math.max(0, (lightness / 100) * last));
  const below = places[Math.floor(at)] ?? 0;
  return below + (at - Math.floor(at)) * ((places[Math.ceil(at)] ?? below) - below);
}

/** Takes what is less of a row: heights of any order. */
export function takeLess(
  least: Float32Array,
  at: number,
  rows: Float32Array,
  row: number,
  clusters: number,
): void {
  for (let k = 0; k < clusters; k += 1) {
    const price = rows[row + k] as number;
    if (price < (least[at + k] as number)) least[at + k] = price;
  }
}

/** Price of leaning, weighted, and where each cluster should stand. */
export interface LeaningClusters {
  readonly prices: Float64Array;
  readonly aims: Float64Array;
  /** See `nearPlace`. */
  readonly near: number;
}

/** Takes what is less of a row with the price of standing at a place, 0..1, and notes the difference itself. */
export function takeLeaning(
  least: Float32Array,
  errors: Float32Array,
  at: number,
  rows: Float32Array,
  row: number,
  clusters: number,
  { prices, aims, near }: LeaningClusters,
  place: number,
): void {
  for (let k = 0; k < clusters; k += 1) {
    const difference = rows[row + k] as number;
    const price =
      difference + (prices[k] as number) * farOff(Math.abs(place - (aims[k] as number)), near);
    if (price >= (least[at + k] as number)) continue;
    least[at + k] = price;
    errors[at + k] = difference;
  }
}

/** Takes what is less of a row and all clusters before: heights that rise with the clusters. */
export function takeRising(
  least: Float32Array,
  at: number,
  rows: Float32Array,
  row: number,
  clusters: number,
): void {
  let before = 0;
  for (let k = 0; k < clusters; k += 1) {
    const here = before + (rows[row + k] as number);
    if (here < (least[at + k] as number)) least[at + k] = here;
    before = least[at + k] as number;
  }
}
