import type { BatchSum } from '#core/schedule/batches.ts';
import type { Batch } from '#core/schedule/pieces.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { directionOf, swapSteps, type Direction } from '#core/schedule/checklist.ts';
import { faceSteps } from '#core/schedule/face-steps.ts';
import { planSplices } from '#core/schedule/splice.ts';
import {
  describeBatch,
  describePace,
  formatDuration,
  formatMm,
  formatSize,
} from '#core/schedule/words.ts';
import { useDocument } from '../../state/project-context.ts';
import { HeightRuler } from './HeightRuler.tsx';
import { PrintPicture } from './PrintPicture.tsx';
import { clockAt } from './sheet-words.ts';
import { BatchTable } from './BatchTable.tsx';
import { FilamentTable, PiecesTable, SettingsTable, SpliceTable } from './SheetTables.tsx';
import { SwapList } from './SwapList.tsx';
import styles from './SheetPaper.module.css';

interface SheetPaperProps {
  readonly sheet: SwapSheet;
  readonly splices: boolean;
  readonly contrast: boolean;
  /** Pieces in layers of several heights, and which of them the sheet is of; null where all are alike. */
  readonly batches: {
    readonly sum: BatchSum | null;
    readonly at: Batch | undefined;
    readonly leftOut: number;
  } | null;
}

const DIRECTION_WORDS: Readonly<Record<Direction, string>> = {
  'to-light': 'Lighter after darker',
  'to-dark': 'Darker after lighter',
};

/** The sheet as a document, on screen and on paper. */
export function SheetPaper({ sheet, splices, contrast, batches }: SheetPaperProps) {
  const { startsAt, spliceMarginMm } = useDocument((state) => state.document.print);
  const usualMm = useDocument((state) => state.document.stack.grid.layerMm);
  const { printer, pieces } = sheet;
  const several = pieces.copies > 1;
  const changes = sheet.back ? [...sheet.swaps, sheet.back] : sheet.swaps;
  const directions = [...new Set(changes.map(directionOf))];
  const grams = sheet.bands.reduce((sum, band) => sum + band.grams, 0);
  const copies = pieces.way === 'together' ? pieces.copies : 1;
  return (
    <article
      className={styles.paper}
      data-testid="swap-sheet"
      data-contrast={contrast ? 'high' : 'usual'}
    >
      <header className={styles.head}>
        <div>
          <h1>{sheet.title}</h1>
          <p>
            Swap sheet for {printer.name}
            {batches
              ? `: ${describeBatch({ copies: pieces.copies, layerMm: sheet.layerMm }, sheet.layerMm)}`
              : ''}
          </p>
        </div>
        <p className={`${styles.stamp} figures`}>
          <span>stamp</span> {sheet.stamp}
        </p>
      </header>
      <ul className={`${styles.summary} figures`} data-testid="sheet-summary">
        <li>{formatSize(sheet)}</li>
        <li>
          {sheet.layers} layers, {formatMm(sheet.thicknessMm)}
        </li>
        <li>
          {sheet.swaps.length} {sheet.swaps.length === 1 ? 'swap' : 'swaps'}
          {sheet.back ? ` a piece, ${sheet.ways.apart.swaps} in all` : ''}
        </li>
        <li>
          {several
            ? pieces.way === 'together'
              ? `${pieces.copies} pieces together, `
              : 'each piece '
            : ''}
          {sheet.sliced.time ? '' : 'about '}
          {formatDuration(sheet.totalS)}
        </li>
        <li>{(grams * copies).toFixed(1)} g</li>
        {startsAt === null ? null : (
          <li>
            {clockAt(startsAt, 0)} to {clockAt(startsAt, sheet.totalS)}
          </li>
        )}
      </ul>

      <div className={styles.columns}>
        <section className={styles.swapsSide}>
          <h2>Swaps</h2>
          {sheet.base ? (
            <p className={styles.warning} data-testid="by-height">
              Go by the heights: the base has thicker layers, so layer numbers are right only where
              the slicing program has them too.
            </p>
          ) : null}
          {sheet.flush ? (
            <ol className={styles.steps} data-testid="face-steps">
              {faceSteps(sheet).map((step) => (
                <li key={step}>{step}</li>
              ))}
            </ol>
          ) : null}
          <SwapList sheet={sheet} startsAt={startsAt} />
        </section>
        <aside className={styles.pictures}>
          <PrintPicture />
          <HeightRuler sheet={sheet} />
        </aside>
      </div>

      <h2>Filaments, from the plate up</h2>
      <FilamentTable sheet={sheet} />
      {several ? (
        <>
          <h2>{pieces.copies} pieces</h2>
          <PiecesTable sheet={sheet} />
        </>
      ) : null}
      {batches?.sum ? (
        <>
          <h2>Layers of several heights</h2>
          <BatchTable {...batches} sum={batches.sum} usualMm={usualMm} />
        </>
      ) : null}
      {splices ? (
        <>
          <h2>Splice plan</h2>
          {sheet.flush?.print === 'within' ? (
            <p>
              None: filaments are changed inside layers, and how much each stretch takes is only
              known of the sliced file.
            </p>
          ) : (
            <SpliceTable
              sheet={sheet}
              plan={planSplices(sheet, spliceMarginMm)}
              marginMm={spliceMarginMm}
            />
          )}
        </>
      ) : null}

      <h2>Settings for the slicing program</h2>
      <SettingsTable sheet={sheet} />

      {directions.length > 0 ? (
        <section className={styles.checklists}>
          {directions.map((direction) => (
            <div key={direction} data-testid={`checklist-${direction}`}>
              <h2>
                {DIRECTION_WORDS[direction]}:{' '}
                {changes
                  .filter((change) => directionOf(change) === direction)
                  .map((change) =>
                    'swapNumber' in change ? `swap ${change.swapNumber}` : 'back between pieces',
                  )
                  .join(', ')}
              </h2>
              <ol className={styles.steps}>
                {swapSteps(printer, direction).map((step) => (
                  <li key={step}>{step}</li>
                ))}
              </ol>
            </div>
          ))}
        </section>
      ) : null}
      <p className={styles.foot} data-testid="assumptions">
        Layers are counted from 1. Heights are the safe way to place a swap.{' '}
        {sheet.sliced.own
          ? 'Times, grams and the moments of the swaps are those of the G-code that was made here, with the printer’s acceleration and corners.'
          : sheet.sliced.time
            ? 'The printing time is the slicing program’s, spread over the layers by area.'
            : `Time is an estimate. ${describePace(printer)}`}{' '}
        {sheet.sliced.grams && !sheet.sliced.own ? 'Grams are the slicing program’s. ' : ''}Grams
        and metres are without purging. Stamp {sheet.stamp}.
      </p>
    </article>
  );
}
