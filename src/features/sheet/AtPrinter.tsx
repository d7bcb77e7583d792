import { ArrowLeft, Check, Play, Undo2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { format } from 'date-fns';
import { directionOf, swapSteps } from '#core/schedule/checklist.ts';
import type { SwapSheet } from '#core/schedule/swap-sheet.ts';
import { formatMm, formatStrand } from '#core/schedule/words.ts';
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
  const startsAt = useDocument((state) => state.document.sheet.startsAt);
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
  const { swap, dueMs } = nextStop(sheet, watch);
  const done = watch.resumedMs.length;
  const over = done > sheet.swaps.length;
  const remainingS = dueMs === null ? null : (dueMs - now) / 1000;
  const bandOf = (letter: string) => sheet.bands.find((band) => band.letter === letter);
  const load = swap ? bandOf(swap.toLetter) : undefined;
  const out = swap ? bandOf(swap.fromLetter) : undefined;
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
          : swap
            ? `Swap ${swap.swapNumber} of ${sheet.swaps.length}`
            : sheet.swaps.length === 0
              ? 'No swaps'
              : 'All swaps are done'}
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
                ? `${swap ? 'The printer should have stopped' : 'The print should be ready'} since ${format(dueMs, 'HH:mm')}.`
                : `${swap ? 'The printer stops' : 'The print is ready'} at ${format(dueMs, 'HH:mm')}.`}
          </p>
        </>
      )}
      {swap && load ? (
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
            stops when {formatMm(swap.stopAfterMm)} is finished; layer {swap.layerNumber} is the
            first; purge {formatStrand(swap.purgeMm)}
          </p>
          <ol className={styles.steps}>
            {swapSteps(sheet.printer, directionOf(swap)).map((step) => (
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
            {swap ? 'Done, I resumed now' : 'The print is off the bed'}
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
