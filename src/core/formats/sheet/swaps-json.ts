import type { PrintPlan } from '../../gcode/print-plan.ts';
import type { SwapSheet } from '../../schedule/swap-sheet.ts';

/** What a sliced file is compared with, and swaps are put in by: the part of a sheet that programs need. */
export function printPlanOf(sheet: SwapSheet): PrintPlan {
  const { shape, printer, pieces, bands, flush } = sheet;
  const swaps = sheet.swaps.filter(({ inside }) => !inside);
  const first = sheet.swaps[0];
  return {
    stamp: sheet.stamp,
    swaps: swaps.map((swap) => ({
      swap: swap.swapNumber,
      layer: swap.layerNumber,
      stopAfterMm: swap.stopAfterMm,
      layerTopMm: swap.layerTopMm,
      from: swap.fromFilamentId,
      to: swap.toFilamentId,
    })),
    layerGrid: sheet.grid,
    layers: sheet.layers,
    widthMm: shape.widthMm,
    depthMm: shape.depthMm,
    lineMm: printer.lineMm,
    filamentMm: printer.filamentMm,
    areasMm2: shape.areasMm2,
    ...(shape.centresMm ? { centresMm: shape.centresMm } : {}),
    pauses: [printer.pause.command],
    ...(printer.pause.command === 'custom' ? { pauseText: printer.pause.text } : {}),
    copies: pieces.copies,
    oneByOne: pieces.way !== 'together',
    purgesMm: swaps.map(({ purgeMm }) => purgeMm),
    ...(flush
      ? {
          flush: {
            ...flush,
            purgesMm: sheet.swaps.filter(({ inside }) => inside).map(({ purgeMm }) => purgeMm),
            body:
              bands.find(({ letter }) => letter === 'A')?.filamentId ?? first?.toFilamentId ?? '',
          },
        }
      : {}),
    colours: Object.fromEntries(bands.map(({ filament: { id, colour } }) => [id, colour])),
    filaments: Object.fromEntries(bands.map(({ filament: { id, name } }) => [id, name])),
  };
}

/** The swaps for other programs: layers counted from 1, heights in mm, filaments by id. `readSwapsJson` reads it. */
export function swapsJson(sheet: SwapSheet): string {
  return `${JSON.stringify(printPlanOf(sheet), null, 2)}\n`;
}
