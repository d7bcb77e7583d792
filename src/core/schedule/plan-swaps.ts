import { layerTopMm } from '../stack/layer-grid.ts';
import { bandEnds, bandLetter, type Stack } from '../stack/stack.ts';

/** A change of filament between two bands. */
export interface Swap {
  /** Counted from 1. */
  readonly swapNumber: number;
  /** First layer in the new filament, counted from 1. The printer stops before it. */
  readonly layerNumber: number;
  /** Height that is finished when the printer stops, mm. */
  readonly stopAfterMm: number;
  /** Top of the first layer in the new filament, mm: the label a layer viewer shows. */
  readonly layerTopMm: number;
  readonly fromFilamentId: string;
  readonly toFilamentId: string;
  readonly fromLetter: string;
  readonly toLetter: string;
}

/** The change back to the first filament, before the next of several pieces that are printed one after the other. */
export type ReturnSwap = Pick<Swap, 'fromFilamentId' | 'toFilamentId' | 'fromLetter' | 'toLetter'>;

/**
 * The change back of a stack; null where it ends in the filament that it begins with.
 * @param lastLayer see {@link planSwaps}
 */
export function planReturn(stack: Stack, lastLayer = Number.POSITIVE_INFINITY): ReturnSwap | null {
  const ends = bandEnds(stack.bands);
  const above = ends.findIndex((end) => end >= lastLayer);
  const last = above < 0 ? stack.bands.length - 1 : above;
  const from = stack.bands[last]?.filamentId ?? '';
  const to = stack.bands[0]?.filamentId ?? '';
  return from === to
    ? null
    : {
        fromFilamentId: from,
        toFilamentId: to,
        fromLetter: bandLetter(last),
        toLetter: bandLetter(0),
      };
}

/**
 * The swaps of a stack, from the plate up. Neighbouring bands in the same filament need none.
 * @param lastLayer layers above this one are not printed, so swaps above it are left out; the whole stack by default
 */
export function planSwaps(stack: Stack, lastLayer = Number.POSITIVE_INFINITY): Swap[] {
  const ends = bandEnds(stack.bands);
  const swaps: Swap[] = [];
  for (let i = 1; i < stack.bands.length; i += 1) {
    const from = stack.bands[i - 1]?.filamentId ?? '';
    const to = stack.bands[i]?.filamentId ?? '';
    const finished = ends[i - 1] ?? 0;
    if (from === to || finished >= lastLayer) continue;
    swaps.push({
      swapNumber: swaps.length + 1,
      layerNumber: finished + 1,
      stopAfterMm: layerTopMm(stack.grid, finished),
      layerTopMm: layerTopMm(stack.grid, finished + 1),
      fromFilamentId: from,
      toFilamentId: to,
      fromLetter: bandLetter(i - 1),
      toLetter: bandLetter(i),
    });
  }
  return swaps;
}
