import type { ReadOutcome, ReadTask } from './rehearse-worker.ts';
import { ThreadPool } from './thread-pool.ts';

/** Files that wait to be read at most. */
const MOST_WAITING = 64;

/** The threads that read files for the simulated printers. */
export const readPool = new ThreadPool<ReadTask, ReadOutcome>(MOST_WAITING);
