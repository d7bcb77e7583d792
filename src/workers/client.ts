import { Cancelled } from '#core/base/checkpoint.ts';
import type { FromWorker, JobInput, JobName, JobOutput, ToWorker } from './protocol.ts';

/** How a job is watched and stopped. */
export interface JobOptions {
  readonly signal?: AbortSignal;
  /** Called with the share done, 0..1. */
  readonly onProgress?: (fraction: number) => void;
}

interface Waiting {
  readonly resolve: (output: JobOutput<JobName>) => void;
  readonly reject: (reason: Error) => void;
  readonly onProgress: ((fraction: number) => void) | undefined;
}

/** The part of `Worker` that the client uses, so that tests can stand in for it. */
export interface WorkerPort {
  postMessage(message: ToWorker): void;
  addEventListener(type: 'message', listener: (event: MessageEvent<FromWorker>) => void): void;
  addEventListener(type: 'error', listener: (event: ErrorEvent) => void): void;
  terminate(): void;
}

/** Gives jobs to one worker and hands their results back. */
export class WorkerClient {
  private readonly waiting = new Map<number, Waiting>();
  private lastId = 0;
  private onIdle: (() => void) | undefined;

  constructor(private readonly port: WorkerPort) {
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
  run<Name extends JobName>(
    name: Name,
    input: JobInput<Name>,
    { signal, onProgress }: JobOptions = {},
  ): Promise<JobOutput<Name>> {
    if (signal?.aborted) return Promise.reject(new Cancelled());
    this.lastId += 1;
    const id = this.lastId;
    // Shared memory exists only on cross-origin isolated pages; without it a job runs to its end unheard.
    const cancelled =
      typeof SharedArrayBuffer === 'undefined' ? null : new Int32Array(new SharedArrayBuffer(4));
    return new Promise<JobOutput<Name>>((resolve, reject) => {
      this.waiting.set(id, {
        resolve: resolve,
        reject,
        onProgress,
      });
      signal?.addEventListener('abort', () => {
        if (cancelled) Atomics.store(cancelled, 0, 1);
        if (this.waiting.delete(id)) reject(new Cancelled());
      });
      this.port.postMessage({ id, name, input, cancelled } as ToWorker);
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

  private receive(message: FromWorker): void {
    const job = this.waiting.get(message.id);
    if (!job) return;
    if (message.kind === 'progress') {
      job.onProgress?.(message.fraction);
      return;
    }
    this.waiting.delete(message.id);
    if (message.kind === 'done') job.resolve(message.output);
    else job.reject(message.kind === 'cancelled' ? new Cancelled() : new Error(message.message));
    if (this.waiting.size === 0) this.onIdle?.();
  }
}
