import { useCallback, useEffect, useRef, useState } from 'react';
import { EMPTY_BOOK, keepRun, type RunBook } from '#core/rehearse/kept-run.ts';
import { momentOf, Rehearsal, type RehearsalState } from '../../state/rehearsal.ts';
import type { WorkerClient } from '../../workers/client.ts';
import type { RehearseJobs } from '../../workers/rehearse/jobs.ts';
import type { RunKeeper } from './run-keeper.ts';

/** How often the clock and the picture go on while it prints, ms. */
const TICK_MS = 100;

/** A rehearsal for as long as the stop is open. */
export function useRehearsal(startWorker: () => WorkerClient<RehearseJobs>): Rehearsal | null {
  const [rehearsal, setRehearsal] = useState<Rehearsal | null>(null);
  useEffect(() => {
    const begun = new Rehearsal(startWorker());
    setRehearsal(begun);
    return () => {
      begun.close();
      setRehearsal(null);
    };
  }, [startWorker]);
  return rehearsal;
}

/** The present moment, while it matters. */
export function useMoment(
  rehearsal: Rehearsal,
  state: RehearsalState,
): ReturnType<typeof momentOf> {
  const [, setTick] = useState(0);
  const runs =
    state.status !== null && ['heating', 'printing', 'waiting'].includes(state.status.state);
  useEffect(() => {
    if (!runs || state.gone) return undefined;
    const timer = setInterval(() => {
      setTick((tick) => tick + 1);
      const now = rehearsal.store.getState();
      if (now.lookAtS === null && now.status?.state === 'printing') rehearsal.show();
    }, TICK_MS);
    return () => {
      clearInterval(timer);
    };
  }, [rehearsal, runs, state.gone]);
  return momentOf(state, Date.now());
}

/** The book of runs as it is kept, and what changes it. */
export function useBook(
  runs: RunKeeper,
): readonly [RunBook, (change: (book: RunBook) => RunBook) => void] {
  const [book, setBook] = useState<RunBook>(EMPTY_BOOK);
  const latest = useRef(book);
  useEffect(() => {
    void runs.load().then((kept) => {
      latest.current = kept;
      setBook(kept);
    });
  }, [runs]);
  const change = useCallback(
    (by: (book: RunBook) => RunBook) => {
      latest.current = by(latest.current);
      setBook(latest.current);
      runs.save(latest.current);
    },
    [runs],
  );
  return [book, change];
}

/** Keeps a run when it has come to its end, and again when its last score is made out: that follows the printer's last word. */
export function useKeptRun(
  { status, score, source }: RehearsalState,
  change: (by: (book: RunBook) => RunBook) => void,
): void {
  const over = status?.state === 'done' ? status : null;
  useEffect(() => {
    if (!over || !score || !source) return;
    const run = {
      id: `${over.id} ${over.events.length}`,
      atMs: Date.now(),
      fileName: source.name,
      stamp: source.plan.stamp,
      score: score.score,
      firstWrongLayer: score.firstWrongLayer,
      clockS: over.clockS,
      printS: over.printS,
      events: over.events,
    };
    change((book) => keepRun(book, run));
  }, [over, score, source, change]);
}
