import { pauseLines, type Pause } from '../../printer/pause.ts';
import type { SwapSheet } from '../../schedule/swap-sheet.ts';
import { formatMm } from '../../schedule/words.ts';

/**
 * What to paste for each swap, for one way to pause: remarks say where, the lines below go there. For programs that take
 * text at a layer change, and for the file itself.
 */
export function pauseSnippet(sheet: SwapSheet, pause: Pause): string {
  const nameOf = (id: string): string =>
    sheet.bands.find(({ filamentId }) => filamentId === id)?.filament.name ?? id;
  const lines = [`; ${sheet.title.replace(/[^\x20-\x7e]/g, ' ')}, stamp ${sheet.stamp}`];
  if (sheet.flush)
    lines.push(
      sheet.flush.print === 'first'
        ? '; the inlays are a print of their own before this one'
        : `; the changes inside layers 1 to ${sheet.flush.layers} are made of tool changes, in the sliced file`,
    );
  for (const swap of sheet.swaps) {
    // Nothing that goes in at a layer change could stand inside a layer, or in front of the first.
    if (swap.inside) continue;
    lines.push(
      `; swap ${swap.swapNumber}: before layer ${swap.layerNumber} (number ${swap.layerNumber - 1} where layers are counted from 0),`,
      `; when ${formatMm(swap.stopAfterMm)} is finished; the layer viewer shows ${formatMm(swap.layerTopMm)}`,
      ...pauseLines(pause, {
        swap: swap.swapNumber,
        layer: swap.layerNumber,
        stopMm: swap.stopAfterMm,
        topMm: swap.layerTopMm,
        from: nameOf(swap.fromFilamentId),
        to: nameOf(swap.toFilamentId),
        purgeMm: swap.purgeMm,
        stamp: sheet.stamp,
      }),
    );
  }
  return `${lines.join('\n')}\n`;
}
