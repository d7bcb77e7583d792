import {
  describeSwap,
  formatDuration,
  formatMm,
  printSettings,
  type SheetBand,
  type SwapSheet,
} from '../schedule/swap-sheet.ts';

function bandLines(band: SheetBand): string[] {
  const { filament } = band;
  return [
    `  ${band.letter}  ${filament.maker} ${filament.name} (${filament.material}, ${filament.colour})`,
    `     layers ${band.firstLayer} to ${band.lastLayer}, up to ${formatMm(band.endMm)}; ` +
      `${band.grams.toFixed(1)} g, ${band.metres.toFixed(2)} m`,
  ];
}

/** The swap sheet as plain text, at most 78 signs wide but for long names. */
export function swapSheetText(sheet: SwapSheet): string {
  const nameOf = (id: string): string => {
    const found = sheet.bands.find((band) => band.filamentId === id)?.filament;
    return found ? found.name : id;
  };
  const width = Math.max(...printSettings(sheet).map(({ setting }) => setting.length));
  const lines = [
    `SWAP SHEET  ${sheet.title}`,
    `Stamp ${sheet.stamp}`,
    `${sheet.widthMm} x ${sheet.heightMm} mm, ${formatMm(sheet.thicknessMm)} thick, ` +
      `${sheet.layers} layers, ${sheet.swaps.length} ${sheet.swaps.length === 1 ? 'swap' : 'swaps'}`,
    `About ${formatDuration(sheet.totalS)}, of which swaps ${formatDuration(sheet.swapsS)}`,
    '',
    'PRINT SETTINGS',
    ...printSettings(sheet).map(
      ({ setting, value, reason }) => `  ${setting.padEnd(width)}  ${value} (${reason})`,
    ),
    '',
    'FILAMENTS, FROM THE PLATE UP',
    ...sheet.bands.flatMap(bandLines),
    '',
    'SWAPS',
    ...(sheet.swaps.length === 0 ? ['  none: the whole print is one filament'] : []),
    ...sheet.swaps.flatMap((swap) => [
      `  ${swap.swapNumber}  ${swap.fromLetter} ${nameOf(swap.fromFilamentId)} -> ${swap.toLetter} ${nameOf(swap.toFilamentId)}`,
      `     ${describeSwap(swap, nameOf(swap.toFilamentId))}`,
      `     Layer viewer shows the change at ${formatMm(swap.layerTopMm)}.`,
      `     Where layers are counted from 0 it is layer ${swap.layerNumber - 1}.`,
    ]),
    '',
    'Layers are counted from 1. Heights are the safe way to place a swap.',
  ];
  return `${lines.join('\n')}\n`;
}
