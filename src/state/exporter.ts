import type { JobOptions, WorkerClient } from '../workers/client.ts';
import type { ArtworkJobs, JobInput, JobInterim, JobOutput } from '../workers/protocol.ts';
import { startArtworkWorker } from '../workers/start-worker.ts';

/** How long a worker without work is kept, ms: it holds the decoded picture a second time. */
const KEPT_MS = 60_000;

/** Jobs on the finished relief that take long. */
export type LongJob = 'files' | 'counts';

/**
 * Does what takes long in a worker of its own, begun when it is first needed, so that the stage's worker always answers at
 * once.
 */
export class Exporter {
  private worker: Promise<WorkerClient> | null = null;
  private running = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** @param bytes the artwork's file */
  constructor(
    private readonly bytes: Uint8Array<ArrayBuffer>,
    private readonly start: () => WorkerClient = startArtworkWorker,
  ) {}

  /** Runs a job; see `WorkerClient.run`. */
  async run<Name extends LongJob>(
    name: Name,
    input: JobInput<ArtworkJobs, Name>,
    options: JobOptions<JobInterim<ArtworkJobs, Name>> = {},
  ): Promise<JobOutput<ArtworkJobs, Name>> {
    clearTimeout(this.timer);
    this.running += 1;
    this.worker ??= this.open();
    try {
      return await (await this.worker).run(name, input, options);
    } finally {
      this.running -= 1;
      if (this.running === 0)
        this.timer = setTimeout(() => {
          this.close();
        }, KEPT_MS);
    }
  }

  /** Ends the worker; what it is doing is cancelled. */
  close(): void {
    clearTimeout(this.timer);
    // One that could not be opened has ended itself.
    this.worker?.then(
      (worker) => {
        worker.close();
      },
      () => undefined,
    );
    this.worker = null;
  }

  private async open(): Promise<WorkerClient> {
    const worker = this.start();
    try {
      const opened = await worker.run('open', { bytes: this.bytes });
      if (!opened.ok) throw new Error(`the picture could not be read again (${opened.fault.code})`);
      return worker;
    } catch (error) {
      worker.close();
      // The next job tries anew.
      this.worker = null;
      throw error;
    }
  }
}
