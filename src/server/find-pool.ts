import type { FindOutcome, FindTask } from './find-worker.ts';
import { ThreadPool } from './thread-pool.ts';

/** Searches that wait for a thread at most. */
const MOST_WAITING = 8;

/** The threads behind `POST /api/find`. */
export const findPool = new ThreadPool<FindTask, FindOutcome>(MOST_WAITING);
