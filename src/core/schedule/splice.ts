import type { SwapSheet } from './swap-sheet.ts';

/** A piece of strand in a plan for joining filaments outside the printer. */
export interface SplicePiece {
  /** Band, with the number of the printed piece before it where they are printed one after the other. */
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
 * strand, with the purge of each change of filament; pieces that are printed one after the other follow each other on it,
 * with the change back between them. Bands of one filament that follow each other are one piece of strand. What is put by
 * lies at the end: in between it would move every later change.
 * Where filaments are changed inside layers there is no plan: what each stretch takes is only known of the sliced file.
 * @param marginMm put by at the end, mm
 */
export function planSplices(
  { bands, swaps, back, pieces }: Pick<SwapSheet, 'bands' | 'swaps' | 'back' | 'pieces'>,
  marginMm: number,
): SplicePiece[] {
  if (swaps.some(({ inside }) => inside === 'layer')) return [];
  const together = pieces.way === 'together';
  const rounds = together ? 1 : pieces.copies;
  const plan: SplicePiece[] = [];
  let markMm = 0;
  for (let round = 1; round <= rounds; round += 1)
    bands.forEach((band, i) => {
      const printMm = 1000 * band.metres * (together ? pieces.copies : 1);
      const change =
        i === 0
          ? round > 1 && back
          : swaps.find(
              ({ layerNumber, toLetter }) =>
                layerNumber === band.firstLayer && toLetter === band.letter,
            );
      const purgeMm = change ? change.purgeMm : 0;
      const letter = rounds > 1 ? `${round}${band.letter}` : band.letter;
      const before = plan.at(-1);
      if (before && !change) {
        markMm += printMm;
        plan[plan.length - 1] = {
          ...before,
          letter: `${before.letter}, ${letter}`,
          printMm: before.printMm + printMm,
          lengthMm: before.lengthMm + printMm,
          markMm,
        };
        return;
      }
      const lengthMm = printMm + purgeMm;
      markMm += lengthMm;
      const { filamentId } = band;
      plan.push({ letter, filamentId, printMm, purgeMm, marginMm: 0, lengthMm, markMm });
    });
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
