import type { LaidLayer, LaidPrint } from './laid-print.ts';

/** Share of a layer that may come out in the other filament, and still be called right. Common practice, no source. */
export const FORGIVEN = 0.05;
/** Seconds in which somebody who stands there surely presses. Common practice, no source. */
export const LEAST_MARGIN_S = 20;

/** A swap that is made at the printer's panel, without a word in the file. */
export interface PanelSwap {
  /** First layer in the new filament, counted from 1. */
  readonly layer: number;
  readonly from: string;
  readonly to: string;
  /** Seconds of printing at which it is due, and since the start with heating and the swaps before it. */
  readonly atS: number;
  readonly clockS: number;
  /** How much earlier and later a press is still right, seconds. */
  readonly beforeS: number;
  readonly afterS: number;
}

/**
 * When to stand at a printer that can only be paused at its panel. A press is right while at most a twentieth of a layer comes out in the
 * other filament: of the last layer below where it comes early, of the first one above where it comes late.
 */
export function panelSwaps(
  print: LaidPrint,
  planned: readonly string[],
  { heatS, swapS }: { readonly heatS: number; readonly swapS: number },
): PanelSwap[] {
  const swaps: PanelSwap[] = [];
  print.layers.forEach((layer, index) => {
    const [from, to] = [planned[index - 1], planned[index]];
    const below = print.layers[index - 1];
    if (!below || from === undefined || to === undefined || from === to) return;
    const atS = layer.firstSlot === 0 ? 0 : (print.slotS[layer.firstSlot - 1] as number);
    swaps.push({
      layer: index + 1,
      from,
      to,
      atS,
      clockS: heatS + atS + swaps.length * swapS,
      beforeS: atS - timeOfShare(print, below, 1 - FORGIVEN),
      afterS: timeOfShare(print, layer, FORGIVEN) - atS,
    });
  });
  return swaps;
}

/** Whether a plan can be printed so: somebody has time enough at every swap. */
export function worstMarginS(swaps: readonly PanelSwap[]): number {
  return swaps.reduce((least, { beforeS, afterS }) => Math.min(least, beforeS + afterS), Infinity);
}

/** Seconds of printing at which a share of a layer's cells is laid. */
function timeOfShare({ slotS }: LaidPrint, layer: LaidLayer, share: number): number {
  const { order, firstSlot, shift, cells } = layer;
  const counts: number[] = [];
  for (const value of order) if (value > 0) counts[value] = (counts[value] ?? 0) + 1;
  const wanted = share * cells;
  let sum = 0;
  for (let value = 1; value < counts.length; value += 1) {
    sum += counts[value] ?? 0;
    if (sum >= wanted)
      return slotS[Math.min(slotS.length - 1, firstSlot + ((value - 1) << shift))] ?? 0;
  }
  return slotS.at(-1) ?? 0;
}
