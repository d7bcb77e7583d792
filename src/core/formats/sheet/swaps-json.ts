import type { SwapSheet } from '../../schedule/swap-sheet.ts';

/** The swaps for other programs: layers counted from 1, heights in mm, filaments by id. */
export function swapsJson(sheet: Pick<SwapSheet, 'stamp' | 'swaps'>): string {
  const document = {
    stamp: sheet.stamp,
    swaps: sheet.swaps.map((swap) => ({
      swap: swap.swapNumber,
      layer: swap.layerNumber,
      stopAfterMm: swap.stopAfterMm,
      layerTopMm: swap.layerTopMm,
      from: swap.fromFilamentId,
      to: swap.toFilamentId,
    })),
  };
  return `${JSON.stringify(document, null, 2)}\n`;
}
