import Papa from 'papaparse';
import type { SheetSwap, SwapSheet } from '../../schedule/swap-sheet.ts';

/** Columns of the swaps as a table. Heights and strand in mm, times in seconds; layers are counted from 1 but for `layer_from_0`. `inside` is `layer` or `face` where a swap is not between two layers. */
const COLUMNS = [
  'stamp',
  'swap',
  'layer',
  'layer_from_0',
  'stop_after_mm',
  'layer_top_mm',
  'from_band',
  'from_id',
  'from_name',
  'to_band',
  'to_id',
  'to_name',
  'purge_mm',
  'into_print_s',
  'since_last_s',
  'inside',
] as const;

/** The swaps as comma-separated values (RFC 4180): a header, a line for each swap, CR LF at each end. */
export function swapSheetCsv(sheet: SwapSheet): string {
  const nameOf = (id: string): string =>
    sheet.bands.find(({ filamentId }) => filamentId === id)?.filament.name ?? id;
  const row = (swap: SheetSwap): Record<(typeof COLUMNS)[number], string | number> => ({
    stamp: sheet.stamp,
    swap: swap.swapNumber,
    layer: swap.layerNumber,
    layer_from_0: swap.layerNumber - 1,
    stop_after_mm: swap.stopAfterMm,
    layer_top_mm: swap.layerTopMm,
    from_band: swap.fromLetter,
    from_id: swap.fromFilamentId,
    from_name: nameOf(swap.fromFilamentId),
    to_band: swap.toLetter,
    to_id: swap.toFilamentId,
    to_name: nameOf(swap.toFilamentId),
    purge_mm: swap.purgeMm,
    into_print_s: Math.round(swap.atS),
    since_last_s: Math.round(swap.sinceS),
    inside: swap.inside ?? '',
  });
  const text = Papa.unparse(sheet.swaps.map(row), {
    columns: [...COLUMNS],
    newline: '\r\n',
    escapeFormulae: true,
  });
  return `${text}\r\n`;
}
