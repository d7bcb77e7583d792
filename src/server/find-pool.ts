import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { FindOutcome, FindTask } from './find-worker.ts';

/** Searches at once; one processor is left to the server itself. */
const MOST_RUNNING = Math.max(1, availableParallelism() - 1);

/** Requests that wait for a thread at most; more are sent away rather than left waiting. */
const MOST_WAITING = 8;

/** Time that a search may take beyond what it was asked to, ms: decoding, the closer look, a slow machine. */
const GRACE_MS = 30_000;

let pool: Piscina<FindTask, FindOutcome> | undefined;
let running = 0;
const waiting: (() => void)[] = [];

/** Why a search did not end. */
export type FindStop = 'gone' | 'too-long' | 'busy';

/** Waits for a thread. False when the client went away meanwhile. */
async function takeTurn(gone: AbortSignal): Promise<boolean> {
  if (gone.aborted) return false;
  if (running < MOST_RUNNING) {
    running += 1;
    return true;
  }
  return new Promise<boolean>((resolve) => {
    const begin = (): void => {
      gone.removeEventListener('abort', leave);
      resolve(true);
    };
    const leave = (): void => {
      waiting.splice(waiting.indexOf(begin), 1);
      resolve(false);
    };
    waiting.push(begin);
    gone.addEventListener('abort', leave, { once: true });
  });
}

/** Gives the thread to whoever waits longest. */
function endTurn(): void {
  const next = waiting.shift();
  if (next) next();
  else running -= 1;
}

/**
 * Runs a search in a thread of the pool. When `gone` is aborted, or it takes much longer than asked, its thread is ended;
 * waiting for a thread is not searching, and does not count.
 * @param workerFile the built worker, see `find-worker.ts`
 */
export async function findInPool(
  workerFile: string,
  task: FindTask,
  seconds: number,
  gone: AbortSignal,
): Promise<FindOutcome | FindStop> {
  if (running >= MOST_RUNNING && waiting.length >= MOST_WAITING) return 'busy';
  if (!(await takeTurn(gone))) return 'gone';
  pool ??= new Piscina<FindTask, FindOutcome>({
    filename: workerFile,
    minThreads: 0,
    maxThreads: MOST_RUNNING,
    idleTimeout: 10_000,
  });
  const late = AbortSignal.timeout(2000 * seconds + GRACE_MS);
  try {
    return await pool.run(task, { signal: AbortSignal.any([gone, late]) });
  } catch (error) {
    if (gone.aborted) return 'gone';
    if (late.aborted) return 'too-long';
    throw error;
  } finally {
    endTurn();
  }
}

/** How many searches run and how many wait now. */
export function poolState(): { readonly running: number; readonly waiting: number } {
  return { running, waiting: waiting.length };
}
