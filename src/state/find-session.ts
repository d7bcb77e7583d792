import { Cancelled } from '#core/base/checkpoint.ts';
import { otherStacks } from '#core/find/other-stacks.ts';
import type { FindFault } from '#core/find/request.ts';
import type { WorkerClient } from '../workers/client.ts';
import type {
  FindJobs,
  SearchRequest,
  SuggestedPurchase,
  SuggestedStack,
} from '../workers/find/jobs.ts';
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

/** Searches that run side by side, each from a seed of its own. */
const SEARCHES = 2;

/**
 * Looks for stacks in workers of its own and tells what is found as it comes. The same request gives the same answer.
 * @param extra filaments that are not at hand: which of them would help is told in the end
 * @returns ends the search; nothing is told after that
 */
export function runSearch(
  request: SearchRequest,
  extra: readonly Filament[],
  onChange: (progress: FindProgress) => void,
  onTrouble: (error: Error) => void,
): () => void {
  const workers: WorkerClient<FindJobs>[] = Array.from({ length: SEARCHES }, startFindWorker);
  const abort = new AbortController();
  const fractions = workers.map(() => 0);
  let progress: FindProgress = { ...NOTHING_FOUND, running: true };
  const change = (part: Partial<FindProgress>): void => {
    if (abort.signal.aborted) return;
    progress = { ...progress, ...part };
    onChange(progress);
  };
  const close = (): void => {
    for (const worker of workers) worker.close();
  };
  change({});
  Promise.all(
    workers.map((worker, i) =>
      worker.run(
        'find',
        { ...request, seed: request.seed + 1000 * i },
        {
          signal: abort.signal,
          onProgress: (fraction) => {
            fractions[i] = fraction;
            change({ fraction: Math.min(...fractions) });
          },
          onInterim: (best) => {
            if (!progress.best || best.price < progress.best.price) change({ best });
          },
        },
      ),
    ),
  )
    .then((answers) => {
      const curves: (readonly SuggestedStack[])[] = [];
      let others: SuggestedStack[] = [];
      for (const answer of answers) {
        if (!answer.ok) {
          change({ fault: answer.fault });
          return null;
        }
        curves.push(answer.value.curve);
        others = [...others, ...answer.value.others];
      }
      const curve = mergeCurves(curves);
      change({
        curve,
        best: curve.at(-1) ?? null,
        others: otherStacks(curve.at(-1), [...others, ...curves.flatMap((one) => one.slice(-1))]),
        fraction: 1,
      });
      const best = curve.at(-1);
      const [worker] = workers;
      return best && worker ? worker.run('buy', { request, extra, best }, abort) : null;
    })
    .then((bought) => {
      change({ purchases: bought?.purchases ?? [], running: false });
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

/** The best of several searches for each number of swaps; more swaps are never worse. */
export function mergeCurves(curves: readonly (readonly SuggestedStack[])[]): SuggestedStack[] {
  const all = curves.flat();
  const merged: SuggestedStack[] = [];
  const numbers = [...new Set(all.map(({ mostSwaps }) => mostSwaps))].sort((x, y) => x - y);
  for (const mostSwaps of numbers) {
    const [best] = all
      .filter((stack) => stack.mostSwaps <= mostSwaps)
      .sort((x, y) => x.price - y.price);
    if (best) merged.push({ ...best, mostSwaps });
  }
  return merged;
}
