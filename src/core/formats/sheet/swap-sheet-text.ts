import { faceSteps } from '../../schedule/face-steps.ts';
import { type SheetBand, type SwapSheet } from '../../schedule/swap-sheet.ts';
import {
  describePace,
  describeReturn,
  describeSwap,
  formatDuration,
  formatMm,
  formatSize,
  formatStrand,
} from '../../schedule/words.ts';
import { printSettings } from '../../schedule/print-settings.ts';

function bandLines(band: SheetBand): string[] {
  const { filament } = band;
  return [
    `  ${band.letter}  ${filament.maker} ${filament.name} (${filament.material}, ${filament.colour})`,
    `     layers ${band.firstLayer} to ${band.lastLayer}, up to ${formatMm(band.endMm)}; ` +
      `${band.grams.toFixed(1)} g, ${band.metres.toFixed(2)} m`,
  ];
}

/** Signs in a line of the text at most. */
const WIDEST = 78;

/** A sentence in lines that are not too wide. */
function folded(text: string, indent: string): string[] {
  const lines: string[] = [];
  for (const word of text.split(' ')) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= WIDEST)
      lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(`${indent}${lines.length === 0 ? '' : '  '}${word}`);
  }
  return lines;
}

/**
 * The swap sheet as plain text, at most 78 signs wide but for long names.
 * @param clock tells the time of day some seconds into the print, where its start is known
 */
export function swapSheetText(sheet: SwapSheet, clock?: (seconds: number) => string): string {
  const nameOf = (id: string): string => {
    const found = sheet.bands.find((band) => band.filamentId === id)?.filament;
    return found ? found.name : id;
  };
  const settings = printSettings(sheet);
  const width = Math.max(...settings.map(({ setting }) => setting.length));
  const { pieces, back } = sheet;
  const buy = sheet.needs.filter(({ filament }) => !filament.onHand);
  const lines = [
    `SWAP SHEET  ${sheet.title}`,
    `Stamp ${sheet.stamp}`,
    `${formatSize(sheet)}, ${formatMm(sheet.thicknessMm)} thick, ` +
      `${sheet.layers} layers, ${sheet.swaps.length} ${sheet.swaps.length === 1 ? 'swap' : 'swaps'}`,
    ...(pieces.copies > 1
      ? [
          `${pieces.copies} pieces ${pieces.way === 'together' ? 'together' : 'one after the other; what follows is for one'}`,
        ]
      : []),
    `${sheet.sliced.time ? '' : 'About '}${formatDuration(sheet.totalS)}, of which swaps ${formatDuration(sheet.swapsS)}` +
      (clock ? `; from ${clock(0)} to ${clock(sheet.totalS)}` : ''),
    '',
    'PRINT SETTINGS',
    ...settings.flatMap(({ setting, value, reason }) => {
      const line = `  ${setting.padEnd(width)}  ${value}`;
      const whole = `${line} (${reason})`;
      return whole.length <= WIDEST ? [whole] : [line, `  ${' '.repeat(width)}  (${reason})`];
    }),
    '',
    `FILAMENTS, FROM THE PLATE UP${pieces.copies > 1 ? ', FOR ONE PIECE' : ''}`,
    ...sheet.bands.flatMap(bandLines),
    ...(buy.length > 0
      ? [
          `  Not on hand: ${buy
            .map(
              ({ filament, grams }) => `${filament.maker} ${filament.name} (${grams.toFixed(0)} g)`,
            )
            .join(', ')}`,
        ]
      : []),
    '',
    ...(sheet.flush
      ? ['FLUSH FACE', ...faceSteps(sheet).flatMap((step) => folded(step, '  ')), '']
      : []),
    'SWAPS',
    ...(sheet.swaps.length === 0 ? ['  none: the whole print is one filament'] : []),
    ...(sheet.base ? ['  Go by the heights: the base has thicker layers.'] : []),
    ...sheet.swaps.flatMap((swap) => [
      `  ${swap.swapNumber}  ${swap.fromLetter} ${nameOf(swap.fromFilamentId)} -> ${swap.toLetter} ${nameOf(swap.toFilamentId)}`,
      ...(swap.inside
        ? folded(describeSwap(swap, nameOf(swap.toFilamentId)), '     ')
        : [`     ${describeSwap(swap, nameOf(swap.toFilamentId))}`]),
      ...(swap.inside
        ? []
        : [
            `     Layer viewer shows the change at ${formatMm(swap.layerTopMm)}.`,
            `     Where layers are counted from 0 it is layer ${swap.layerNumber - 1}.`,
          ]),
      `     ${clock ? `At ${clock(swap.atS)}, ` : ''}${formatDuration(swap.atS)} ` +
        (swap.swapNumber === 1
          ? 'after the start.'
          : `into the print, ${formatDuration(swap.sinceS)} after the last stop.`),
      `     Purge ${formatStrand(swap.purgeMm)}.`,
    ]),
    ...(back
      ? [
          '',
          'BETWEEN PIECES',
          `  ${describeReturn(back, nameOf(back.fromFilamentId), nameOf(back.toFilamentId))}`,
          `  Purge ${formatStrand(back.purgeMm)}. In all there are ${sheet.ways.apart.swaps} changes of filament.`,
        ]
      : []),
    '',
    'Layers are counted from 1. Heights are the safe way to place a swap.',
    ...(sheet.sliced.time ? [] : [describePace(sheet.printer)]),
  ];
  return `${lines.join('\n')}\n`;
}
