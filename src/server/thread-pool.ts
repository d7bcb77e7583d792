import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';

/** Tasks at once; one processor is left to the server itself. */
const MOST_RUNNING = Math.max(1, availableParallelism() - 1);

/** Time that a task may take beyond what it was asked to, ms: decoding, a closer look, a slow machine. */
const GRACE_MS = 30_000;

/** Why a task did not end. */
export type TaskStop = 'gone' | 'too-long' | 'busy';

/** Threads that run one kind of task, a few at once, and tasks that wait for one. */
export class ThreadPool<Task, Outcome> {
  #pool: Piscina<Task, Outcome> | undefined;
  #running = 0;
  readonly #waiting: (() => void)[] = [];

  /** @param mostWaiting tasks that wait at most; more are sent away rather than left waiting */
  constructor(private readonly mostWaiting: number) {}

  /**
   * Runs a task in a thread. When `gone` is aborted, or it takes much longer than asked, its thread is ended; waiting for a
   * thread does not count.
   * @param file the built thread
   */
  async run(
    file: string,
    task: Task,
    seconds: number,
    gone: AbortSignal,
  ): Promise<Outcome | TaskStop> {
    if (this.#running >= MOST_RUNNING && this.#waiting.length >= this.mostWaiting) return 'busy';
    if (!(await this.#takeTurn(gone))) return 'gone';
    this.#pool ??= new Piscina<Task, Outcome>({
      filename: file,
      minThreads: 0,
      maxThreads: MOST_RUNNING,
      idleTimeout: 10_000,
    });
    const late = AbortSignal.timeout(2000 * seconds + GRACE_MS);
    try {
      return await this.#pool.run(task, { signal: AbortSignal.any([gone, late]) });
    } catch (error) {
      if (gone.aborted) return 'gone';
      if (late.aborted) return 'too-long';
      throw error;
    } finally {
      this.#endTurn();
    }
  }

  /** How many run and how many wait now. */
  state(): { readonly running: number; readonly waiting: number } {
    return { running: this.#running, waiting: this.#waiting.length };
  }

  /** Waits for a thread. False when the client went away meanwhile. */
  async #takeTurn(gone: AbortSignal): Promise<boolean> {
    if (gone.aborted) return false;
    if (this.#running < MOST_RUNNING) {
      this.#running += 1;
      return true;
    }
    return new Promise<boolean>((resolve) => {
      const begin = (): void => {
        gone.removeEventListener('abort', leave);
        resolve(true);
      };
      const leave = (): void => {
        this.#waiting.splice(this.#waiting.indexOf(begin), 1);
        resolve(false);
      };
      this.#waiting.push(begin);
      gone.addEventListener('abort', leave, { once: true });
    });
  }

  /** Gives the thread to whoever waits longest. */
  #endTurn(): void {
    const next = this.#waiting.shift();
    if (next) next();
    else this.#running -= 1;
  }
}
