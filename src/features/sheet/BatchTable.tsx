import type { BatchSum } from '#core/schedule/batches.ts';
import type { Batch } from '#core/schedule/pieces.ts';
import { describeBatch, formatDuration } from '#core/schedule/words.ts';
import { Head } from './SheetTables.tsx';
import styles from './SheetPaper.module.css';

/** By how much a time differs: `1 h 10 min more`. */
function moreWords(seconds: number): string {
  const minutes = formatDuration(Math.abs(seconds));
  return seconds === 0 ? 'as long' : `${minutes} ${seconds > 0 ? 'more' : 'less'}`;
}

/** Pieces that are printed one by one in layers of several heights: what each height costs or saves, and all of them. */
export function BatchTable({
  sum,
  at,
  leftOut,
  usualMm,
}: {
  readonly sum: BatchSum;
  /** The batch that the sheet is of. */
  readonly at: Batch | undefined;
  /** Pieces that are in no sum, since they would have too many layers. */
  readonly leftOut: number;
  readonly usualMm: number;
}) {
  const out = `${leftOut} ${leftOut === 1 ? 'piece is' : 'pieces are'} left out here: too many layers. `;
  return (
    <>
      <table className={styles.table} data-testid="batch-table">
        <Head columns={['Pieces', 'Layers', 'Swaps', 'Grams', 'Each takes', 'Against the first']} />
        <tbody className="figures">
          {sum.batches.map(({ batch, layers, swaps, grams, pieceS, moreS }, i) => (
            <tr key={i} data-chosen={batch === at}>
              <td>
                {describeBatch(batch, usualMm)}
                {batch === at ? ' (this sheet)' : ''}
              </td>
              <td>{layers}</td>
              <td>{swaps}</td>
              <td>{grams.toFixed(1)}</td>
              <td>{formatDuration(pieceS)}</td>
              <td>{i === 0 ? '' : moreWords(moreS)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className={styles.shopping} data-testid="batch-sum">
        <strong>All {sum.copies} one by one:</strong> {sum.changes} changes of filament,{' '}
        {formatDuration(sum.totalS)}, {sum.grams.toFixed(0)} g with purging.{' '}
        {leftOut > 0 ? out : ''}Between two heights change back as between two pieces. Printed
        together all have one height.
      </p>
    </>
  );
}
