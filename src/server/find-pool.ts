import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { FindOutcome, FindTask } from './find-worker.ts';

/** Requests that wait for a thread at most; more are sent away rather than left waiting. */
const MOST_WAITING = 8;

/** Time that a search may take beyond what it was asked to, ms: decoding, the closer look, a slow machine. */
const GRACE_MS = 30_000;

let pool: Piscina<FindTask, FindOutcome> | undefined;

/** Why a search did not end. */
export type FindStop = 'gone' | 'too-long' | 'busy';

/**
 * Runs a search in a thread of the pool. When `gone` is aborted, or it takes much longer than asked, its thread is ended.
 * @param workerFile the built worker, see `find-worker.ts`
 */
export async function findInPool(
  workerFile: string,
  task: FindTask,
  seconds: number,
  gone: AbortSignal,
): Promise<FindOutcome | FindStop> {
  pool ??= new Piscina<FindTask, FindOutcome>({
    filename: workerFile,
    minThreads: 0,
    maxThreads: Math.max(1, availableParallelism() - 1),
    maxQueue: MOST_WAITING,
    idleTimeout: 10_000,
  });
  const late = AbortSignal.timeout(2000 * seconds + GRACE_MS);
  try {
    return await pool.run(task, { signal: AbortSignal.any([gone, late]) });
  } catch (error) {
    if (gone.aborted) return 'gone';
    if (late.aborted) return 'too-long';
    if (error instanceof Error && error.message.includes('queue')) return 'busy';
    throw error;
  }
}

/** Searches that are running or waiting now. */
export function searchesUnderWay(): number {
  return pool ? pool.queueSize + (pool.threads.length > 0 ? pool.utilization : 0) : 0;
}
