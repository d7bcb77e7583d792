import { Cancelled } from '#core/base/checkpoint.ts';
import { otherStacks } from '#core/find/other-stacks.ts';
import { mergeCurves } from '#core/find/merge-curves.ts';
import type { FindFault } from '#core/find/request.ts';
import {
  agreed,
  BEFORE_FITTING,
  MOST_TURNS,
  SEARCHES,
  seedsOf,
  stepsOf,
} from '#core/find/turns.ts';
import type { WorkerClient } from '../workers/client.ts';
import type {
  FindJobs,
  SearchRequest,
  SuggestedPurchase,
  SuggestedStack,
} from '../workers/find/jobs.ts';
import { carryLocked } from './suggestion.ts';
import { startFindWorker } from '../workers/start-worker.ts';
import type { Filament } from '#core/stack/filament.ts';

/** What a search has found so far. */
export interface FindProgress {
  readonly fraction: number;
  readonly best: SuggestedStack | null;
  /** The best for each number of swaps; empty until the search has ended. */
  readonly curve: readonly SuggestedStack[];
  readonly others: readonly SuggestedStack[];
  /** Filaments that are not at hand and would help. */
  readonly purchases: readonly SuggestedPurchase[];
  readonly fault: FindFault | null;
  readonly running: boolean;
}

export const NOTHING_FOUND: FindProgress = {
  fraction: 0,
  best: null,
  curve: [],
  others: [],
  purchases: [],
  fault: null,
  running: false,
};

/** What several searches found. */
interface Found {
  readonly curves: (readonly SuggestedStack[])[];
  readonly others: SuggestedStack[];
}

/** What a search goes on with where the zones were fitted to what it had found. */
export type Refitted = Pick<SearchRequest, 'cells' | 'zones' | 'zoneColours'>;

/**
 * Looks for stacks in workers of its own and tells what is found as it comes. The same request gives the same answer.
 * @param extra filaments that are not at hand: which of them would help is told in the end
 * @param refit fits the zones to the best stack half-way; the stack is then improved for them, and the better of both is taken
 * @returns ends the search; nothing is told after that
 */
export function runSearch(
  request: SearchRequest,
  extra: readonly Filament[],
  onChange: (progress: FindProgress) => void,
  onTrouble: (error: Error) => void,
  refit?: (best: SuggestedStack, signal: AbortSignal) => Promise<Refitted>,
): () => void {
  const workers: WorkerClient<FindJobs>[] = Array.from({ length: SEARCHES }, startFindWorker);
  const abort = new AbortController();
  let progress: FindProgress = { ...NOTHING_FOUND, running: true };
  const change = (part: Partial<FindProgress>): void => {
    if (abort.signal.aborted) return;
    progress = { ...progress, ...part };
    onChange(progress);
  };
  const close = (): void => {
    for (const worker of workers) worker.close();
  };
  /** Searches from the seeds of a turn, over a part of the progress; undefined where there is a fault, which is told. */
  const turn = async (
    asked: SearchRequest,
    seeds: readonly number[],
    from: number,
    to: number,
  ): Promise<Found | undefined> => {
    const fractions = workers.map(() => 0);
    const answers = await Promise.all(
      workers.map((worker, i) =>
        worker.run(
          'find',
          { ...asked, seed: seeds[i] ?? asked.seed },
          {
            signal: abort.signal,
            onProgress: (fraction) => {
              fractions[i] = fraction;
              change({ fraction: from + (to - from) * Math.min(...fractions) });
            },
            onInterim: (best) => {
              if (!progress.best || best.price < progress.best.price) change({ best });
            },
          },
        ),
      ),
    );
    const found: Found = { curves: [], others: [] };
    for (const answer of answers) {
      if (!answer.ok) {
        change({ fault: answer.fault });
        return undefined;
      }
      found.curves.push(answer.value.curve);
      found.others.push(...answer.value.others);
    }
    return found;
  };
  /** Turns until two searches agree; a search that begins with a stack stays near it, so it has one. */
  const search = async (
    asked: SearchRequest,
    from: number,
    to: number,
  ): Promise<Found | undefined> => {
    const turns = asked.start ? 1 : MOST_TURNS;
    const all: Found = { curves: [], others: [] };
    for (let own = 0; own < turns; own += 1) {
      const share = (to - from) / turns;
      const begin = from + own * share;
      const found = await turn(asked, seedsOf(asked.seed, own), begin, begin + share);
      if (!found) return undefined;
      all.curves.push(...found.curves);
      all.others.push(...found.others);
      if (agreed(found.curves.map((curve) => curve.at(-1)?.price ?? 0))) break;
    }
    return all;
  };
  /** A search with all efforts up to its own: see `stepsOf`. */
  const searchInSteps = async (asked: SearchRequest): Promise<Found | undefined> => {
    const steps = asked.start ? [asked.seconds] : stepsOf(asked.seconds);
    const work = steps.reduce((sum, seconds) => sum + seconds, 0);
    const all: Found = { curves: [], others: [] };
    let done = 0;
    for (const seconds of steps) {
      const found = await search({ ...asked, seconds }, done / work, (done + seconds) / work);
      if (!found) return undefined;
      all.curves.push(...found.curves);
      all.others.push(...found.others);
      done += seconds;
    }
    return all;
  };
  const whole = async (): Promise<void> => {
    change({});
    // Where zones are fitted half-way, what follows is another search for each effort: steps would promise nothing.
    const first = refit
      ? await search({ ...request, seconds: BEFORE_FITTING * request.seconds }, 0, BEFORE_FITTING)
      : await searchInSteps(request);
    if (!first) return;
    const { curves, others } = first;
    const half = mergeCurves(curves).at(-1);
    let asked = request;
    if (refit && half) {
      asked = {
        ...request,
        ...(await refit(half, abort.signal)),
        seconds: (1 - BEFORE_FITTING) * request.seconds,
        start: carryLocked(half.bands, request.start ?? [], (band) => band),
      };
      const second = await search(asked, BEFORE_FITTING, 1);
      curves.push(...(second?.curves ?? []));
      others.push(...(second?.others ?? []));
    }
    const curve = mergeCurves(curves);
    const best = curve.at(-1);
    change({
      curve,
      best: best ?? null,
      others: otherStacks(best, [...others, ...curves.flatMap((one) => one.slice(-1))]),
      fraction: 1,
    });
    const [worker] = workers;
    if (!best || !worker) return;
    // What one more filament would bring is asked for the zones that the best stack was found for.
    const told = best.zoneColours ? asked : request;
    const { purchases } = await worker.run('buy', { request: told, extra, best }, abort);
    change({ purchases });
  };
  whole()
    .then(() => {
      change({ running: false });
    })
    .catch((error: unknown) => {
      if (error instanceof Cancelled) return;
      change({ running: false });
      onTrouble(error instanceof Error ? error : new Error(String(error)));
    })
    .finally(close);
  return () => {
    abort.abort();
    close();
  };
}
