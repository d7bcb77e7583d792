import { NEXT_PIECE_S, type Batch } from './pieces.ts';
import { strandGrams, type SwapSheet } from './swap-sheet.ts';

/** What of a sheet batches are summed up by. */
type BatchSheet = Pick<
  SwapSheet,
  'totalS' | 'swaps' | 'ways' | 'again' | 'needs' | 'bands' | 'layers' | 'printer'
>;

/** One batch beside the others; for one of its pieces. */
export interface BatchCost {
  readonly batch: Batch;
  readonly layers: number;
  readonly swaps: number;
  /** One piece with its swaps, seconds. */
  readonly pieceS: number;
  /** How much more that is than a piece in the project's own layers takes, seconds; negative where it is less. */
  readonly moreS: number;
  /** Without purging. */
  readonly grams: number;
}

/** All batches one after the other. */
export interface BatchSum {
  readonly batches: readonly BatchCost[];
  readonly copies: number;
  /** With the changes back between pieces. */
  readonly changes: number;
  /** With taking each piece off, seconds. */
  readonly totalS: number;
  /** With purging. */
  readonly grams: number;
}

/**
 * Sums pieces up that are printed one by one in layers of several heights. Each sheet counts the pieces of its batch alone; between
 * two batches the filament is changed back as between two pieces.
 * @param sheets of the batches, the project's own layers first
 */
export function sumBatches(
  sheets: readonly { readonly batch: Batch; readonly sheet: BatchSheet }[],
): BatchSum {
  const first = sheets[0]?.sheet.totalS ?? 0;
  const copies = sheets.reduce((sum, { batch }) => sum + batch.copies, 0);
  // Between two batches the filament is changed back as between two pieces, where it ends in another one than it begins with.
  const between = sheets.slice(0, -1).flatMap(({ sheet }) => {
    const { again } = sheet;
    const to = sheet.bands.find(({ filamentId }) => filamentId === again?.toFilamentId);
    return again && to
      ? [{ seconds: sheet.printer.swapS, grams: strandGrams(again.purgeMm, to.filament) }]
      : [];
  });
  return {
    batches: sheets.map(({ batch, sheet }) => ({
      batch,
      layers: sheet.layers,
      swaps: sheet.swaps.length,
      pieceS: sheet.totalS,
      moreS: sheet.totalS - first,
      grams: sheet.bands.reduce((sum, { grams }) => sum + grams, 0),
    })),
    copies,
    changes: sheets.reduce((sum, { sheet }) => sum + sheet.ways.apart.swaps, between.length),
    totalS:
      sheets.reduce(
        (sum, { batch, sheet }) =>
          sum +
          batch.copies * sheet.totalS +
          (sheet.again ? (batch.copies - 1) * sheet.printer.swapS : 0),
        0,
      ) +
      between.reduce((sum, { seconds }) => sum + seconds, 0) +
      (copies - 1) * NEXT_PIECE_S,
    grams:
      sheets.reduce(
        (sum, { sheet }) => sum + sheet.needs.reduce((all, { grams }) => all + grams, 0),
        0,
      ) + between.reduce((sum, { grams }) => sum + grams, 0),
  };
}
