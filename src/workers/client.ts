import { Cancelled } from '#core/base/checkpoint.ts';
import type {
  FromWorker,
  JobInput,
  JobInterim,
  JobName,
  JobOutput,
  JobTable,
  ToWorker,
} from './protocol.ts';

/** How a job is watched and stopped. */
export interface JobOptions<Interim = never> {
  /** Called with what the job tells before it is done. */
  readonly onInterim?: (interim: Interim) => void;
  readonly signal?: AbortSignal;
  /** Called with the share done, 0..1. */
  readonly onProgress?: (fraction: number) => void;
}

/** The part of `Worker` that the client uses, so that tests can stand in for it. */
export interface WorkerPort<Table extends JobTable> {
  postMessage(message: ToWorker<Table>): void;
  addEventListener(
    type: 'message',
    listener: (event: MessageEvent<FromWorker<Table>>) => void,
  ): void;
  addEventListener(type: 'error', listener: (event: ErrorEvent) => void): void;
  terminate(): void;
}

/** How a worker is used. */
export interface WorkerHabits<Table extends JobTable> {
  /** Names of jobs, the most urgent first; the others come after these. Equals are done in the order they were asked. */
  readonly urgent?: readonly JobName<Table>[];
  /** Names of jobs that leave in the worker what others need: the last one done is done again in a worker begun anew. */
  readonly keeps?: readonly JobName<Table>[];
  /** What every worker begins with, where that is known beforehand. */
  readonly opening?: Pick<ToWorker<Table>, 'name' | 'input'>;
  /** A worker without work for so long, ms, is ended; the next job begins another one. */
  readonly idleMs?: number;
}

/** The worker failed outside of any job, or never began. */
export class WorkerDied extends Error {
  override readonly name = 'WorkerDied';

  /** @param final whether no other one is begun in its place */
  constructor(
    reason: string,
    readonly final: boolean,
  ) {
    super(reason);
  }
}

/** A job that was cancelled and goes on for so long, ms, has no end: its worker is ended, and another one begun. */
const STUCK_MS = 5000;

/** So many workers that die within so many ms are the last. */
const MOST_DEATHS = 3;
const DEATHS_WITHIN_MS = 60_000;

/** A job that was asked for. */
interface Job<Table extends JobTable> extends Pick<ToWorker<Table>, 'id' | 'name' | 'input'> {
  readonly cancelled: ToWorker<Table>['cancelled'];
  readonly resolve: (output: unknown) => void;
  readonly reject: (reason: Error) => void;
  readonly options: Omit<JobOptions<JobInterim<Table, JobName<Table>>>, 'signal'>;
  /** Nobody waits for it any more. */
  dropped: boolean;
}

/**
 * Gives jobs to a worker, one at a time and the most urgent first, and hands their results back. The worker is begun with the
 * first job. One that dies fails the job it had and is replaced; what it held is given to the next one.
 */
export class WorkerClient<Table extends JobTable> {
  private port: WorkerPort<Table> | null = null;
  private queue: Job<Table>[] = [];
  private current: Job<Table> | null = null;
  private lastId = 0;
  private kept: Pick<ToWorker<Table>, 'name' | 'input'> | null;
  /** The worker has what was kept. */
  private primed = false;
  private deaths: number[] = [];
  private readonly whenIdle: (() => void)[] = [];
  private idleTimer: ReturnType<typeof setTimeout> | undefined;
  /** Why no job can be done any more; null while some can. */
  private ended: Error | null = null;

  constructor(
    private readonly start: () => WorkerPort<Table>,
    private readonly habits: WorkerHabits<Table> = {},
  ) {
    this.kept = habits.opening ?? null;
  }

  /**
   * Runs a job.
   * @throws Cancelled when `signal` was aborted: at once for the caller, and in the worker at its next checkpoint;
   * WorkerDied when the worker dies of it, or is no more; what the job throws, with its stack
   */
  run<Name extends JobName<Table>>(
    name: Name,
    input: JobInput<Table, Name>,
    { signal, ...options }: JobOptions<JobInterim<Table, Name>> = {},
  ): Promise<JobOutput<Table, Name>> {
    if (signal?.aborted) return Promise.reject(new Cancelled());
    if (this.ended) return Promise.reject(this.ended);
    let forget: () => void = () => undefined;
    return new Promise<JobOutput<Table, Name>>((resolve, reject) => {
      const job = this.jobOf(name, input, resolve, reject, options);
      const abort = (): void => {
        this.drop(job);
      };
      signal?.addEventListener('abort', abort);
      forget = () => signal?.removeEventListener('abort', abort);
      const urgency = this.urgencyOf(name);
      const later = this.queue.findIndex((one) => this.urgencyOf(one.name) > urgency);
      this.queue.splice(later === -1 ? this.queue.length : later, 0, job);
      this.pump();
    }).finally(() => {
      forget();
    });
  }

  /** Ends the worker; jobs still waiting are cancelled. */
  close(): void {
    this.end(new Cancelled());
  }

  /** Ends the worker once the jobs it has are done; resolves then, at once where it is no more. */
  async retire(): Promise<void> {
    await new Promise<void>((resolve) => {
      this.whenIdle.push(resolve);
      this.tellIdle();
    });
    this.close();
  }

  private urgencyOf(name: JobName<Table>): number {
    const place = this.habits.urgent?.indexOf(name) ?? -1;
    return place === -1 ? Infinity : place;
  }

  private jobOf(
    name: JobName<Table>,
    input: JobInput<Table, JobName<Table>>,
    resolve: Job<Table>['resolve'],
    reject: Job<Table>['reject'],
    options: Job<Table>['options'] = {},
  ): Job<Table> {
    this.lastId += 1;
    // Shared memory exists only on cross-origin isolated pages; without it a job runs to its end unheard.
    const cancelled =
      typeof SharedArrayBuffer === 'undefined' ? null : new Int32Array(new SharedArrayBuffer(4));
    return { id: this.lastId, name, input, cancelled, resolve, reject, options, dropped: false };
  }

  private drop(job: Job<Table>): void {
    if (job.dropped) return;
    job.dropped = true;
    if (job.cancelled) Atomics.store(job.cancelled, 0, 1);
    this.queue = this.queue.filter((one) => one !== job);
    job.reject(new Cancelled());
    if (this.current === job)
      setTimeout(() => {
        if (this.current !== job) return;
        this.leavePort();
        this.pump();
      }, STUCK_MS);
    this.tellIdle();
  }

  /** Gives the worker its next job where it has none. */
  private pump(): void {
    if (this.current || this.ended) return;
    clearTimeout(this.idleTimer);
    const [next] = this.queue;
    if (!next) {
      const { idleMs } = this.habits;
      if (this.port && idleMs !== undefined)
        this.idleTimer = setTimeout(() => {
          this.leavePort();
        }, idleMs);
      return;
    }
    this.port ??= this.begin();
    if (this.kept && !this.primed && this.habits.keeps?.includes(next.name) !== true)
      this.post(this.opening(this.kept));
    else {
      this.queue.shift();
      this.post(next);
    }
  }

  private post(job: Job<Table>): void {
    this.current = job;
    const { id, name, input, cancelled } = job;
    try {
      this.port?.postMessage({ id, name, input, cancelled });
    } catch (error) {
      this.current = null;
      job.reject(error instanceof Error ? error : new Error(String(error)));
      this.tellIdle();
      this.pump();
    }
  }

  /** What a worker begun anew does first. Where it cannot, whoever waits is told, and the next job tries with another one. */
  private opening({ name, input }: Pick<ToWorker<Table>, 'name' | 'input'>): Job<Table> {
    const failed = (reason: Error): void => {
      this.leavePort();
      for (const job of this.queue.splice(0)) job.reject(reason);
      this.tellIdle();
    };
    const done = (output: unknown): void => {
      const { ok, fault } = output as { ok?: boolean; fault?: { code?: string } };
      if (ok === false) failed(new Error(`the picture could not be read again (${fault?.code})`));
      else this.primed = true;
    };
    return this.jobOf(name, input, done, failed);
  }

  private begin(): WorkerPort<Table> {
    const port = this.start();
    port.addEventListener('message', ({ data }) => {
      if (this.port === port) this.receive(data);
    });
    port.addEventListener('error', (event) => {
      // A script that could not be loaded tells nothing.
      if (this.port === port) this.died(event.message || 'its script could not be loaded');
    });
    return port;
  }

  private died(reason: string): void {
    const now = performance.now();
    this.deaths = [...this.deaths.filter((then) => now - then < DEATHS_WITHIN_MS), now];
    const final = this.deaths.length >= MOST_DEATHS;
    const error = new WorkerDied(reason, final);
    const { current } = this;
    this.leavePort();
    if (current && !current.dropped) current.reject(error);
    if (final) this.end(error);
    this.tellIdle();
    this.pump();
  }

  private leavePort(): void {
    this.port?.terminate();
    this.port = null;
    this.primed = false;
    this.current = null;
  }

  /** No answer will come any more: whoever waits is told, now and later. */
  private end(reason: Error): void {
    this.ended ??= reason;
    clearTimeout(this.idleTimer);
    const waiting = [this.current, ...this.queue.splice(0)];
    this.leavePort();
    for (const job of waiting) if (job && !job.dropped) job.reject(this.ended);
    this.tellIdle();
  }

  private tellIdle(): void {
    const busy = this.current !== null && !this.current.dropped;
    if (!busy && this.queue.length === 0) for (const told of this.whenIdle.splice(0)) told();
  }

  private receive(message: FromWorker<Table>): void {
    const job = this.current;
    // An answer to another question than the present one comes too late for anybody.
    if (job?.id !== message.id) return;
    if (message.kind === 'progress' || message.kind === 'interim') {
      if (job.dropped) return;
      if (message.kind === 'progress') job.options.onProgress?.(message.fraction);
      else job.options.onInterim?.(message.interim);
      return;
    }
    this.current = null;
    if (message.kind === 'done' && this.habits.keeps?.includes(job.name)) {
      this.kept = { name: job.name, input: job.input };
      this.primed = true;
    }
    if (!job.dropped)
      if (message.kind === 'done') job.resolve(message.output);
      else job.reject(message.kind === 'cancelled' ? new Cancelled() : errorOf(message));
    this.tellIdle();
    this.pump();
  }
}

/** The error of a job, with the place in the worker where it came up. */
function errorOf({ message, stack }: { readonly message: string; readonly stack?: string }): Error {
  const error = new Error(message);
  if (stack !== undefined) error.stack = stack;
  return error;
}
