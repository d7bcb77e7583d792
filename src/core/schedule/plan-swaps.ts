import { flushOrders, type FlushFace } from '../stack/flush.ts';
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
  /**
   * Where it does not lie between two layers: inside one of a flush face, or after inlays that are printed first; what follows then
   * begins on the bed again.
   */
  readonly inside?: 'layer' | 'face' | undefined;
}

/** The change back to the first filament, before the next of several pieces that are printed one after the other. */
export type ReturnSwap = Pick<Swap, 'fromFilamentId' | 'toFilamentId' | 'fromLetter' | 'toLetter'>;

/**
 * The change back of a stack; null where it ends in the filament that it begins with.
 * @param lastLayer and flush see {@link planSwaps}
 */
export function planReturn(
  stack: Stack,
  lastLayer = Number.POSITIVE_INFINITY,
  flush: FlushFace | null = null,
): ReturnSwap | null {
  const ends = bandEnds(stack.bands);
  const above = ends.findIndex((end) => end >= lastLayer);
  const last = above < 0 ? stack.bands.length - 1 : above;
  const from = stack.bands[last]?.filamentId ?? '';
  const first = firstPart(flush);
  const to = partFilament(stack, flush, first);
  return from === to
    ? null
    : {
        fromFilamentId: from,
        toFilamentId: to,
        fromLetter: bandLetter(last),
        toLetter: partLetter(stack, first),
      };
}

/** The part that is laid first: 0 is the lowest band, other numbers are inlays. */
function firstPart(flush: FlushFace | null): number {
  if (!flush || flush.filaments.length === 0) return 0;
  return flush.print === 'first' ? 1 : (flushOrders(flush)[0]?.[0] ?? 0);
}

function partFilament({ bands }: Stack, flush: FlushFace | null, part: number): string {
  return (part === 0 ? bands[0]?.filamentId : flush?.filaments[part - 1]) ?? '';
}

/** Letter of an inlay by its number from 1: they follow those of the bands; 0 is the lowest band. */
export function partLetter({ bands }: Pick<Stack, 'bands'>, part: number): string {
  return bandLetter(part === 0 ? 0 : bands.length - 1 + part);
}

/** The changes of filament of a flush face, in the order in which they come. */
function flushChanges(stack: Stack, flush: FlushFace): Swap[] {
  const { grid } = stack;
  const change = (
    from: number,
    to: number,
    rest: Pick<Swap, 'layerNumber' | 'stopAfterMm' | 'layerTopMm' | 'inside'>,
  ): Swap => ({
    swapNumber: 0,
    fromFilamentId: partFilament(stack, flush, from),
    toFilamentId: partFilament(stack, flush, to),
    fromLetter: partLetter(stack, from),
    toLetter: partLetter(stack, to),
    ...rest,
  });
  if (flush.print === 'first')
    return flush.filaments.map((_, i) =>
      change(i + 1, (i + 2) % (flush.filaments.length + 1), {
        layerNumber: 1,
        stopAfterMm: layerTopMm(grid, flush.layers),
        layerTopMm: layerTopMm(grid, 1),
        inside: 'face',
      }),
    );
  return flushOrders(flush).flatMap((order, n) =>
    order.slice(1).map((to, i) =>
      change(order[i] as number, to, {
        layerNumber: n + 1,
        stopAfterMm: layerTopMm(grid, n),
        layerTopMm: layerTopMm(grid, n + 1),
        inside: 'layer',
      }),
    ),
  );
}

/**
 * The swaps of a stack, from the plate up. Neighbouring bands in the same filament need none.
 * @param lastLayer layers above this one are not printed, so swaps above it are left out; the whole stack by default
 * @param flush a face on the bed with inlays: their changes come first
 */
export function planSwaps(
  stack: Stack,
  lastLayer = Number.POSITIVE_INFINITY,
  flush: FlushFace | null = null,
): Swap[] {
  const ends = bandEnds(stack.bands);
  const swaps = (flush ? flushChanges(stack, flush) : []).map((swap, i): Swap => ({
    ...swap,
    swapNumber: i + 1,
  }));
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
