import type { SwapSheet } from './swap-sheet.ts';

/** A piece of strand in a plan for joining filaments outside the printer. */
export interface SplicePiece {
  readonly letter: string;
  readonly filamentId: string;
  /** Strand that the band itself takes, mm. */
  readonly printMm: number;
  /** Strand that goes before the colour is clean, mm; none in the first piece. */
  readonly purgeMm: number;
  /** Strand put by against a jam or an estimate that is a little off, mm; in the last piece alone. */
  readonly marginMm: number;
  readonly lengthMm: number;
  /** Where the piece ends on the joined strand, mm from its beginning: the mark to make. */
  readonly markMm: number;
}

/**
 * Lengths to cut for a strand that is joined outside the printer: what each band takes, over the cross-section of the
 * strand, with the purge of each change of filament. Bands of one filament that follow each other are one piece. What is
 * put by lies at the end: in between it would move every later change.
 * @param marginMm put by at the end, mm
 */
export function planSplices(
  { bands, swaps, pieces }: Pick<SwapSheet, 'bands' | 'swaps' | 'pieces'>,
  marginMm: number,
): SplicePiece[] {
  const copies = pieces.way === 'together' ? pieces.copies : 1;
  const plan: SplicePiece[] = [];
  let markMm = 0;
  for (const band of bands) {
    const printMm = 1000 * band.metres * copies;
    const swap = swaps.find(({ layerNumber }) => layerNumber === band.firstLayer);
    const purgeMm = swap?.purgeMm ?? 0;
    const before = plan.at(-1);
    if (before && !swap) {
      markMm += printMm;
      plan[plan.length - 1] = {
        ...before,
        letter: `${before.letter}, ${band.letter}`,
        printMm: before.printMm + printMm,
        lengthMm: before.lengthMm + printMm,
        markMm,
      };
      continue;
    }
    const lengthMm = printMm + purgeMm;
    markMm += lengthMm;
    plan.push({
      letter: band.letter,
      filamentId: band.filamentId,
      printMm,
      purgeMm,
      marginMm: 0,
      lengthMm,
      markMm,
    });
  }
  const last = plan.pop();
  if (last)
    plan.push({
      ...last,
      marginMm,
      lengthMm: last.lengthMm + marginMm,
      markMm: last.markMm + marginMm,
    });
  return plan;
}
