import { ArrowLeft, Check, Play, Undo2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { format } from 'date-fns';
import { directionOf, swapSteps } from '#core/schedule/checklist.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { describeSwap, formatMm, formatStrand } from '#core/schedule/words.ts';
import {
  formatCountdown,
  freshWatch,
  nextStop,
  resumed,
  stepBack,
  type Watch,
} from '#core/schedule/watch.ts';
import { useDocument } from '../../state/project-context.ts';
import { Button } from '../../ui/Button.tsx';
import { hatchInk, HatchSwatch } from '../../ui/Hatch.tsx';
import type { WatchKeeper } from './watch-keeper.ts';
import styles from './AtPrinter.module.css';

/** The present moment, a second at a time. */
function useNow(): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => {
      setNow(Date.now());
    }, 1000);
    return () => {
      clearInterval(timer);
    };
  }, []);
  return now;
}

interface AtPrinterProps {
  readonly sheet: SwapSheet;
  readonly watches: WatchKeeper;
  readonly onBack: () => void;
}

/** The next swap, large, for a phone beside the printer. */
export function AtPrinter({ sheet, watches, onBack }: AtPrinterProps) {
  const startsAt = useDocument((state) => state.document.print.startsAt);
  const fresh = freshWatch(sheet.stamp, startsAt === null ? null : new Date(startsAt).getTime());
  const [kept, setKept] = useState<Watch | null>(null);
  useEffect(() => {
    void watches.load().then(setKept);
  }, [watches]);
  const now = useNow();
  // What was watched on another sheet says nothing of this one.
  const watch = kept?.stamp === sheet.stamp ? kept : fresh;
  const set = (next: Watch): void => {
    setKept(next);
    watches.save(next);
  };
  const { swap, dueMs, piece, pieces, over } = nextStop(sheet, watch);
  const done = watch.resumedMs.length;
  const another = !swap && piece < pieces;
  const ofPiece = pieces > 1 ? `Piece ${piece} of ${pieces}: ` : '';
  const remainingS = dueMs === null ? null : (dueMs - now) / 1000;
  const bandOf = (letter: string) => sheet.bands.find((band) => band.letter === letter);
  // What is to be loaded: for the next swap, or for the next piece.
  const change = swap ?? (another ? sheet.back : null);
  const load = change ? bandOf(change.toLetter) : undefined;
  const out = change ? bandOf(change.fromLetter) : undefined;
  return (
    <main className={styles.screen} data-testid="at-printer">
      <header className={styles.head}>
        <Button icon={<ArrowLeft size={16} aria-hidden />} onClick={onBack}>
          Sheet
        </Button>
        <h1>{sheet.title}</h1>
        <span className="figures">{sheet.stamp}</span>
      </header>
      <p className={styles.count}>
        {over
          ? 'Finished'
          : `${ofPiece}${
              swap
                ? `${ofPiece ? 'swap' : 'Swap'} ${swap.swapNumber} of ${sheet.swaps.length}`
                : sheet.swaps.length === 0
                  ? `${ofPiece ? 'no' : 'No'} swaps`
                  : `${ofPiece ? 'all' : 'All'} swaps are done`
            }`}
      </p>
      {over ? null : (
        <>
          <p
            className={`${styles.clock} figures`}
            role="timer"
            data-testid="countdown"
            data-late={remainingS !== null && remainingS < 0}
          >
            {remainingS === null ? '--:--' : formatCountdown(remainingS)}
          </p>
          <p className={styles.due}>
            {dueMs === null
              ? 'Start the print, and say so here.'
              : remainingS !== null && remainingS < 0
                ? `${swap ? 'The printer should have stopped' : `The ${another ? 'piece' : 'print'} should be ready`} since ${format(dueMs, 'HH:mm')}.`
                : `${swap ? 'The printer stops' : `The ${another ? 'piece' : 'print'} is ready`} at ${format(dueMs, 'HH:mm')}.`}
          </p>
        </>
      )}
      {change && load ? (
        <>
          <div className={styles.load}>
            <HatchSwatch
              id="at-printer-load"
              index={load.bandIndex}
              colour={load.filament.colour}
              ink={hatchInk(load.filament.colour)}
              size={72}
            />
            <p>
              <span>Load</span>
              <strong data-testid="load">
                {load.letter} {load.filament.name}
              </strong>
              <span>
                {load.filament.maker}, in place of {out?.letter} {out?.filament.name}
              </span>
            </p>
          </div>
          <p className={`${styles.facts} figures`}>
            {swap
              ? swap.inside
                ? `${describeSwap(swap, load.filament.name)} `
                : `stops when ${formatMm(swap.stopAfterMm)} is finished; layer ${swap.layerNumber} is the first; `
              : 'take the finished piece off, change back, then start the next one; '}
            purge {formatStrand(change.purgeMm)}
          </p>
          <ol className={styles.steps}>
            {swapSteps(sheet.printer, directionOf(change), another).map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
        </>
      ) : null}
      <div className={styles.actions}>
        {watch.startedMs === null && done === 0 ? (
          <Button
            look="main"
            className={styles.big}
            icon={<Play size={22} aria-hidden />}
            onClick={() => {
              set({ ...watch, startedMs: Date.now() });
            }}
          >
            I started now
          </Button>
        ) : over ? null : (
          <Button
            look="main"
            className={styles.big}
            icon={<Check size={22} aria-hidden />}
            onClick={() => {
              set(resumed(watch, Date.now()));
            }}
          >
            {swap
              ? 'Done, I resumed now'
              : another
                ? 'It is off, I started the next one now'
                : 'The print is off the bed'}
          </Button>
        )}
        {done > 0 || watch.startedMs !== null ? (
          <Button
            icon={<Undo2 size={16} aria-hidden />}
            onClick={() => {
              set(stepBack(watch));
            }}
          >
            {done > 0 ? 'That was too early' : 'Not started yet'}
          </Button>
        ) : null}
      </div>
    </main>
  );
}
