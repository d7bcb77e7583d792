import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { describeSwap, formatDuration, formatMm, formatStrand } from '#core/schedule/words.ts';
import { BandMark } from './BandMark.tsx';
import { clockAt } from './sheet-words.ts';
import styles from './SheetPaper.module.css';

/** Each swap: where, from what to what, when. */
export function SwapList({
  sheet,
  startsAt,
}: {
  readonly sheet: SwapSheet;
  readonly startsAt: string | null;
}) {
  const { back } = sheet;
  if (sheet.swaps.length === 0) return <p>None: the whole print is one filament.</p>;
  const mark = (letter: string, place: string) => {
    const band = sheet.bands.find((one) => one.letter === letter);
    return band ? <BandMark band={band} place={place} /> : letter;
  };
  return (
    <ol className={styles.swaps}>
      {sheet.swaps.map((swap) => (
        <li key={swap.swapNumber} data-swap={swap.swapNumber}>
          <span className={`${styles.number} figures`}>{swap.swapNumber}</span>
          <div>
            <p className={styles.change}>
              {mark(swap.fromLetter, `from-${swap.swapNumber}`)} <span aria-label="to">→</span>{' '}
              {mark(swap.toLetter, `to-${swap.swapNumber}`)}
            </p>
            {swap.inside ? (
              <p className={styles.stop}>
                {describeSwap(
                  swap,
                  sheet.bands.find(({ letter }) => letter === swap.toLetter)?.filament.name ??
                    swap.toFilamentId,
                )}
              </p>
            ) : (
              <>
                <p className={styles.stop}>
                  The printer stops when <b className="figures">{formatMm(swap.stopAfterMm)}</b> is
                  finished. <b className="figures">Layer {swap.layerNumber}</b> is the first one in{' '}
                  {sheet.bands.find(({ letter }) => letter === swap.toLetter)?.filament.name}.
                </p>
                <p className={`${styles.also} figures`}>
                  layer viewer: {formatMm(swap.layerTopMm)} · counted from 0: layer{' '}
                  {swap.layerNumber - 1}
                </p>
              </>
            )}
            <p className={`${styles.also} figures`} data-testid={`swap-when-${swap.swapNumber}`}>
              {startsAt === null ? '' : `at ${clockAt(startsAt, swap.atS)}, `}
              {swap.swapNumber === 1
                ? `${formatDuration(swap.atS)} after the start`
                : `${formatDuration(swap.atS)} into the print, ${formatDuration(swap.sinceS)} after the last stop`}{' '}
              · purge {formatStrand(swap.purgeMm)}
            </p>
          </div>
        </li>
      ))}
      {back ? (
        <li data-testid="swap-back">
          <span className={styles.number} aria-hidden>
            ↺
          </span>
          <div>
            <p className={styles.change}>
              {mark(back.fromLetter, 'from-back')} <span aria-label="to">→</span>{' '}
              {mark(back.toLetter, 'to-back')}
            </p>
            <p className={styles.stop}>
              Before each further piece: take the finished one off, change back, start the next.
            </p>
            <p className={`${styles.also} figures`}>
              {sheet.pieces.copies - 1} times · purge {formatStrand(back.purgeMm)}
            </p>
          </div>
        </li>
      ) : null}
    </ol>
  );
}
