import type { Draft } from './evaluator.ts';

/** What a stack must keep to, in the numbers of a search. Filaments are indices into its candidates. */
export interface Limits {
  readonly filaments: number;
  readonly mostBands: number;
  readonly mostLayers: number;
  /** Layers that every spot has at least. */
  readonly leastLayers: number;
  /** Layers of each band at least. */
  readonly leastPerBand: number;
  /** Filaments that must be in the stack. */
  readonly must: readonly number[];
  /** Filament of the lowest band, of the highest one; -1 for any. */
  readonly bottom: number;
  readonly top: number;
  /**
   * Bands that stay as they are, in this order, wherever in the stack: the numbers that come out of a search contain each
   * of them with its filament and its layers.
   */
  readonly locked: readonly { readonly filament: number; readonly layers: number }[];
}

/** Layers of a draft. */
export function layersOf(draft: Draft): number {
  let sum = 0;
  for (let i = 0; i < draft.count; i += 1) sum += draft.layers[i] as number;
  return sum;
}

/** Does a draft keep to its limits? */
export function keepsTo(draft: Draft, limits: Limits, mostBands = limits.mostBands): boolean {
  const { count, filament, layers } = draft;
  if (count < 1 || count > mostBands) return false;
  let sum = 0;
  let lock = 0;
  for (let i = 0; i < count; i += 1) {
    const own = layers[i] as number;
    const held = limits.locked[lock];
    if (held?.filament === filament[i] && held?.layers === own) lock += 1;
    else if (own < limits.leastPerBand) return false;
    if (i > 0 && filament[i] === filament[i - 1]) return false;
    sum += own;
  }
  if (sum > limits.mostLayers || sum < Math.min(limits.leastLayers, limits.mostLayers))
    return false;
  if (lock < limits.locked.length) return false;
  if (limits.bottom >= 0 && filament[0] !== limits.bottom) return false;
  if (limits.top >= 0 && filament[count - 1] !== limits.top) return false;
  for (const wanted of limits.must) {
    let there = false;
    for (let i = 0; i < count; i += 1) if (filament[i] === wanted) there = true;
    if (!there) return false;
  }
  return true;
}
