import { Popover } from 'radix-ui';
import { TriangleAlert } from 'lucide-react';
import { lazy, type ReactNode, Suspense, useDeferredValue } from 'react';
import { estimateTime, estimateUse } from '#core/schedule/estimate.ts';
import { describePace } from '#core/schedule/words.ts';
import { planSwaps } from '#core/schedule/plan-swaps.ts';
import { formatDuration, formatSize } from '#core/schedule/words.ts';
import { type LayerGrid } from '#core/stack/layer-grid.ts';
import { paceOf, samplesOf, stackOf } from '../state/document-facts.ts';
import { pieceOfTag, plannedSeriesOf } from '../state/tag-plan.ts';
import { useDocument, useLive, usePieceSize, usePrintedTop } from '../state/project-context.ts';
import styles from './Ledger.module.css';
import { useNotices } from './use-notices.ts';
import { describeNotice } from './words.ts';

/** Worked out, and loaded, when it is looked at. */
const ErrorDetails = lazy(async () => ({
  default: (await import('./ErrorDetails.tsx')).ErrorDetails,
}));

interface FigureProps {
  readonly value: string;
  readonly caption: string;
  readonly testId: string;
  readonly children: ReactNode;
}

/** One figure; opens what explains it. */
function Figure({ value, caption, testId, children }: FigureProps) {
  return (
    <Popover.Root>
      <Popover.Trigger className={styles.figure} data-testid={testId}>
        <span className={`${styles.value} figures`}>{value}</span>
        <span className={styles.caption}>{caption}</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className={styles.explain}
          aria-label={caption}
          side="top"
          sideOffset={6}
          align="start"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** The layers of a stack in words. */
function describeLayers(grid: LayerGrid, layers: number): string {
  const { firstLayerMm, layerMm, baseLayerMm, baseLayers = 1 } = grid;
  const base = baseLayerMm === undefined ? 0 : Math.min(layers, baseLayers) - 1;
  return [
    `the first layer of ${firstLayerMm} mm`,
    ...(base > 0 ? [`${base} of ${baseLayerMm ?? 0} mm`] : []),
    `${layers - 1 - base} of ${layerMm} mm`,
  ].join(', ');
}

/** The bottom edge: the figures a maker decides by. They follow a drag when there is time. */
export function Ledger() {
  const notices = useNotices();
  const whole = useDeferredValue(useDocument((state) => state.document));
  const lens = useLive((state) => state.lens);
  const document = lens(whole);
  const series = plannedSeriesOf(whole);
  const counts = useDeferredValue(useLive((state) => state.counts));
  const edges = useDeferredValue(useLive((state) => state.edges)) ?? undefined;
  const shown = useLive((state) => state.shown);
  const colourError = useLive((state) => state.difference?.mean ?? null);
  // Of a tag one side may be looked at; swaps and height are those of all of it.
  const stack = stackOf(whole);
  const { layers, mm: topMm } = usePrintedTop();
  const samples = samplesOf(document);
  const size = usePieceSize();
  const face = pieceOfTag(whole)?.inlays;
  const swaps = planSwaps(stack, layers, face ?? null);
  const uses = counts ? estimateUse(stack, document.stack.filaments, counts, shown.sampleMm) : [];
  const time = counts
    ? estimateTime(
        stack,
        { counts, edges, sampleMm: shown.sampleMm },
        swaps.length,
        paceOf(document),
      )
    : null;
  const priced = uses.filter(({ cost }) => cost !== undefined);
  const grams = uses.reduce((sum, use) => sum + use.grams, 0);
  const nameOf = (bandIndex: number): string => {
    const id = whole.stack.bands[bandIndex]?.filamentId ?? '';
    return whole.stack.filaments[id]?.name ?? id;
  };
  const kinds = new Set([
    ...whole.stack.bands.map(({ filamentId }) => filamentId),
    ...(face?.filaments ?? []),
  ]).size;
  return (
    <footer className={styles.ledger} aria-label="Ledger">
      <Figure
        value={`${topMm.toFixed(2)} mm`}
        caption={`height, ${layers} layers`}
        testId="ledger-height"
      >
        The top of what is printed: {describeLayers(document.stack.grid, layers)}.
      </Figure>
      <Figure
        value={String(swaps.length)}
        caption={swaps.length === 1 ? 'swap' : 'swaps'}
        testId="ledger-swaps"
      >
        {swaps.length === 0
          ? 'One filament, nothing to swap.'
          : swaps.map((swap) => (
              <span key={swap.swapNumber} className={styles.line}>
                {swap.fromLetter} to {swap.toLetter}{' '}
                {swap.inside === 'layer'
                  ? `inside layer ${swap.layerNumber}`
                  : `after ${swap.stopAfterMm.toFixed(2)} mm${swap.inside ? ' of inlays' : ''}, layer ${swap.layerNumber} first`}
              </span>
            ))}
      </Figure>
      <Figure value={formatSize(size)} caption="size" testId="ledger-size">
        {samples.columns} x {samples.rows} samples of {samples.sampleMm} mm.
      </Figure>
      <Figure
        value={counts ? `${grams.toFixed(1)} g` : '...'}
        caption={`${kinds} ${kinds === 1 ? 'filament' : 'filaments'}`}
        testId="ledger-grams"
      >
        {uses.map((use) => (
          <span key={use.bandIndex} className={styles.line}>
            {use.letter} {nameOf(use.bandIndex)}: {use.grams.toFixed(1)} g, {use.metres.toFixed(2)}{' '}
            m{use.cost === undefined ? '' : `, costs ${use.cost.toFixed(2)}`}
          </span>
        ))}
        {priced.length > 0 ? (
          <span className={styles.line} data-testid="ledger-cost">
            {priced.reduce((sum, { cost = 0 }) => sum + cost, 0).toFixed(2)} in all
            {priced.length < uses.length ? ', without those whose price is not known' : ''}
          </span>
        ) : null}
        <span className={styles.line}>Purging is not counted.</span>
      </Figure>
      <Figure
        value={time ? formatDuration(time.totalS) : '...'}
        caption={time ? `with ${formatDuration(time.swapsS)} of swaps` : 'time'}
        testId="ledger-time"
      >
        {describePace(paceOf(document))} An estimate: the slicing program knows better, and the swap
        sheet takes its figure.
      </Figure>
      {document.tag ? null : (
        <Figure
          value={colourError === null ? '...' : colourError.toFixed(1)}
          caption="colour error"
          testId="ledger-error"
        >
          <Suspense>
            <ErrorDetails />
          </Suspense>
        </Figure>
      )}
      {series ? (
        <Figure
          value={String(series.pieces.length)}
          caption={series.plates === 1 ? 'names, 1 plate' : `names, ${series.plates} plates`}
          testId="ledger-series"
        >
          A plate holds {series.perPlate} pieces of {formatSize(series.cell)} at most. Height, swaps
          and levels are those of every piece; grams and time are those of{' '}
          {document.tag?.series ? `plate ${series.plate + 1}` : 'one piece'}.
        </Figure>
      ) : null}
      <span className={styles.spacer} />
      {notices.length > 0 ? (
        <Popover.Root>
          <Popover.Trigger className={styles.notices} data-testid="notices">
            <TriangleAlert size={16} aria-hidden />
            {notices.length} {notices.length === 1 ? 'notice' : 'notices'}
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              className={styles.explain}
              aria-label="Notices"
              side="top"
              sideOffset={6}
              align="end"
            >
              <ul className={styles.list}>
                {notices.map((notice, i) => (
                  <li key={i}>{describeNotice(notice, nameOf)}</li>
                ))}
              </ul>
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      ) : (
        <span className={styles.calm}>no notices</span>
      )}
    </footer>
  );
}
