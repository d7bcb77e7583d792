import { Cancelled } from '#core/base/checkpoint.ts';
import type {
  ArtworkJobs,
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

interface Waiting<Table extends JobTable> {
  readonly resolve: (output: JobOutput<Table, JobName<Table>>) => void;
  readonly reject: (reason: Error) => void;
  readonly onProgress: ((fraction: number) => void) | undefined;
  readonly onInterim: ((interim: JobInterim<Table, JobName<Table>>) => void) | undefined;
}

/** The part of `Worker` that the client uses, so that tests can stand in for it. */
export interface WorkerPort<Table extends JobTable = ArtworkJobs> {
  postMessage(message: ToWorker<Table>): void;
  addEventListener(
    type: 'message',
    listener: (event: MessageEvent<FromWorker<Table>>) => void,
  ): void;
  addEventListener(type: 'error', listener: (event: ErrorEvent) => void): void;
  terminate(): void;
}

/** The worker is no more: it failed outside of any job, or never began. */
export class WorkerDied extends Error {
  override readonly name = 'WorkerDied';
}

/** Gives jobs to one worker and hands their results back. */
export class WorkerClient<Table extends JobTable = ArtworkJobs> {
  private readonly waiting = new Map<number, Waiting<Table>>();
  private lastId = 0;
  private readonly whenIdle: (() => void)[] = [];
  /** Why no job can be done any more; null while the worker lives. */
  private ended: Error | null = null;

  constructor(private readonly port: WorkerPort<Table>) {
    port.addEventListener('message', ({ data }) => {
      this.receive(data);
    });
    port.addEventListener('error', (event) => {
      // A script that could not be loaded tells nothing.
      this.end(new WorkerDied(event.message || 'its script could not be loaded'));
    });
  }

  /** No answer will come any more: whoever waits is told, now and later. */
  private end(reason: Error): void {
    this.ended ??= reason;
    this.port.terminate();
    for (const { reject } of this.waiting.values()) reject(this.ended);
    this.waiting.clear();
    this.tellIdle();
  }

  private tellIdle(): void {
    if (this.waiting.size === 0) for (const told of this.whenIdle.splice(0)) told();
  }

  /**
   * Runs a job.
   * @throws Cancelled when `signal` was aborted: at once for the caller, and in the worker at its next checkpoint;
   * WorkerDied when the worker is no more
   */
  run<Name extends JobName<Table>>(
    name: Name,
    input: JobInput<Table, Name>,
    { signal, onProgress, onInterim }: JobOptions<JobInterim<Table, Name>> = {},
  ): Promise<JobOutput<Table, Name>> {
    if (signal?.aborted) return Promise.reject(new Cancelled());
    if (this.ended) return Promise.reject(this.ended);
    this.lastId += 1;
    const id = this.lastId;
    // Shared memory exists only on cross-origin isolated pages; without it a job runs to its end unheard.
    const cancelled =
      typeof SharedArrayBuffer === 'undefined' ? null : new Int32Array(new SharedArrayBuffer(4));
    let forget: () => void = () => undefined;
    return new Promise<JobOutput<Table, Name>>((resolve, reject) => {
      this.waiting.set(id, { resolve, reject, onProgress, onInterim });
      const abort = (): void => {
        if (cancelled) Atomics.store(cancelled, 0, 1);
        if (!this.waiting.delete(id)) return;
        reject(new Cancelled());
        this.tellIdle();
      };
      signal?.addEventListener('abort', abort);
      forget = () => signal?.removeEventListener('abort', abort);
      try {
        this.port.postMessage({ id, name, input, cancelled });
      } catch (error) {
        this.waiting.delete(id);
        reject(error instanceof Error ? error : new Error(String(error)));
      }
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

  private receive(message: FromWorker<Table>): void {
    const job = this.waiting.get(message.id);
    if (!job) return;
    if (message.kind === 'progress') {
      job.onProgress?.(message.fraction);
      return;
    }
    if (message.kind === 'interim') {
      job.onInterim?.(message.interim);
      return;
    }
    this.waiting.delete(message.id);
    if (message.kind === 'done') job.resolve(message.output);
    else job.reject(message.kind === 'cancelled' ? new Cancelled() : new Error(message.message));
    this.tellIdle();
  }
}
