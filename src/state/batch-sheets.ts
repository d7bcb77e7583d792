import type { Filament } from '#core/stack/filament.ts';
import type { SliceFigures, SwapSheet } from '#core/schedule/swap-sheet.ts';
import type { ProjectDocument } from './project-document.ts';
import { sheetOfDocument, type ReliefCounts } from './project-export.ts';

/** A batch to make a sheet of: how its pieces are printed, and what of its samples is counted. */
export interface CountedBatch {
  readonly document: ProjectDocument;
  readonly counts: ReliefCounts;
  /** What G-code of our own takes for a piece of it, where it was made. */
  readonly slice: SliceFigures | null;
}

/** What a document is told of its sliced file. */
type Told = Pick<ProjectDocument['print'], 'slicedMinutes' | 'slicedGrams'>;

const NOTHING_TOLD: Told = { slicedMinutes: null, slicedGrams: null };

const withTold = (document: ProjectDocument, told: Told): ProjectDocument => ({
  ...document,
  print: { ...document.print, ...told },
});

const printedS = ({ totalS, swapsS }: SwapSheet): number => totalS - swapsS;
const gramsOf = ({ bands }: SwapSheet): number => bands.reduce((sum, { grams }) => sum + grams, 0);

/**
 * The sheets of pieces in layers of several heights, so that they may be compared: where of one it is known what it takes (told by
 * a slicing program, or from G-code of our own), the others are taken to be as far from their estimates as that one is. A time that
 * is known beside one that is only estimated would tell of the estimate, not of the layers.
 * @returns in the order of the batches
 */
export function sheetsOfBatches(
  batches: readonly CountedBatch[],
  rack: readonly Filament[] = [],
): SwapSheet[] {
  const estimates = batches.map(({ document, counts }) =>
    sheetOfDocument(withTold(document, NOTHING_TOLD), counts, rack),
  );
  const isKnown = ({ document: { print }, slice }: CountedBatch): boolean =>
    print.slicedMinutes !== null || print.slicedGrams !== null || slice !== null;
  const told = batches.map((batch) =>
    isKnown(batch) ? sheetOfDocument(batch.document, batch.counts, rack, batch.slice) : null,
  );
  const at = told.findIndex((sheet) => sheet !== null);
  const [known, estimate] = [told[at], estimates[at]];
  if (!known || !estimate) return estimates;
  const slower = printedS(known) / printedS(estimate);
  const heavier = gramsOf(known) / gramsOf(estimate);
  return batches.map(({ document, counts }, i) => {
    const own = told[i];
    if (own) return own;
    const sheet = estimates[i] as SwapSheet;
    return sheetOfDocument(
      withTold(document, {
        slicedMinutes: (printedS(sheet) * slower) / 60,
        slicedGrams: gramsOf(sheet) * heavier,
      }),
      counts,
      rack,
    );
  });
}
