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

/** Gives jobs to one worker and hands their results back. */
export class WorkerClient<Table extends JobTable = ArtworkJobs> {
  private readonly waiting = new Map<number, Waiting<Table>>();
  private lastId = 0;
  private onIdle: (() => void) | undefined;

  constructor(private readonly port: WorkerPort<Table>) {
    port.addEventListener('message', ({ data }) => {
      this.receive(data);
    });
    port.addEventListener('error', (event) => {
      for (const { reject } of this.waiting.values()) reject(new Error(event.message));
      this.waiting.clear();
    });
  }

  /**
   * Runs a job.
   * @throws Cancelled when `signal` was aborted: at once for the caller, and in the worker at its next checkpoint
   */
  run<Name extends JobName<Table>>(
    name: Name,
    input: JobInput<Table, Name>,
    { signal, onProgress, onInterim }: JobOptions<JobInterim<Table, Name>> = {},
  ): Promise<JobOutput<Table, Name>> {
    if (signal?.aborted) return Promise.reject(new Cancelled());
    this.lastId += 1;
    const id = this.lastId;
    // Shared memory exists only on cross-origin isolated pages; without it a job runs to its end unheard.
    const cancelled =
      typeof SharedArrayBuffer === 'undefined' ? null : new Int32Array(new SharedArrayBuffer(4));
    return new Promise<JobOutput<Table, Name>>((resolve, reject) => {
      this.waiting.set(id, {
        resolve: resolve,
        reject,
        onProgress,
        onInterim: onInterim,
      });
      signal?.addEventListener('abort', () => {
        if (cancelled) Atomics.store(cancelled, 0, 1);
        if (this.waiting.delete(id)) reject(new Cancelled());
      });
      this.port.postMessage({ id, name, input, cancelled });
    });
  }

  /** Ends the worker; jobs still waiting are cancelled. */
  close(): void {
    this.port.terminate();
    for (const { reject } of this.waiting.values()) reject(new Cancelled());
    this.waiting.clear();
  }

  /** Ends the worker once the jobs it has are done; resolves then. */
  async retire(): Promise<void> {
    await new Promise<void>((resolve) => {
      this.onIdle = resolve;
      if (this.waiting.size === 0) resolve();
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
    if (this.waiting.size === 0) this.onIdle?.();
  }
}
