import { Cancelled, type Checkpoint } from '#core/base/checkpoint.ts';
import type {
  FromWorker,
  JobInput,
  JobInterim,
  JobName,
  JobOutput,
  JobTable,
  ToWorker,
} from './protocol.ts';

/** What does each job. */
export type Handlers<Table extends JobTable> = {
  readonly [Name in JobName<Table>]: (
    input: JobInput<Table, Name>,
    checkpoint: Checkpoint,
    tell: (interim: JobInterim<Table, Name>) => void,
  ) => JobOutput<Table, Name> | Promise<JobOutput<Table, Name>>;
};

/** Least step of progress that is worth a message. */
const PROGRESS_STEP = 0.02;

/**
 * Answers one message: runs the job's handler with a checkpoint that reports progress and stops when cancelled, and posts
 * the outcome. Jobs cancelled while they waited in the queue are not begun.
 */
export async function serveJob<Table extends JobTable>(
  handlers: Handlers<Table>,
  { id, name, input, cancelled }: ToWorker<Table>,
  post: (message: FromWorker<Table>, transfer?: readonly ArrayBuffer[]) => void,
): Promise<void> {
  let told = 0;
  const checkpoint: Checkpoint = (fraction) => {
    if (cancelled && Atomics.load(cancelled, 0) !== 0) throw new Cancelled();
    if (fraction - told >= PROGRESS_STEP) {
      told = fraction;
      post({ id, kind: 'progress', fraction });
    }
  };
  try {
    checkpoint(0);
    const output = await handlers[name](input, checkpoint, (interim) => {
      post({ id, kind: 'interim', interim });
    });
    checkpoint(1);
    post({ id, kind: 'done', output }, handedOver(output));
  } catch (error) {
    if (error instanceof Cancelled) post({ id, kind: 'cancelled' });
    else if (error instanceof Error) {
      const { message, stack } = error;
      post({ id, kind: 'failed', message, ...(stack === undefined ? {} : { stack }) });
    } else post({ id, kind: 'failed', message: String(error) });
  }
}

const transfers = new WeakMap<object, readonly ArrayBuffer[]>();

/**
 * Marks buffers of an answer that the worker has no more use for: they are handed over instead of copied, so that a large file
 * does not need its room twice.
 */
export function handOver<Output extends object>(
  output: Output,
  buffers: readonly ArrayBuffer[],
): Output {
  transfers.set(output, buffers);
  return output;
}

function handedOver(output: unknown): readonly ArrayBuffer[] {
  return typeof output === 'object' && output !== null ? (transfers.get(output) ?? []) : [];
}

/** Answers a worker's messages one after the other: a job may use what an earlier one keeps. */
export function serveQueue<Table extends JobTable>(handlers: Handlers<Table>): void {
  let queue: Promise<void> = Promise.resolve();
  self.addEventListener('message', ({ data }: MessageEvent<ToWorker<Table>>) => {
    queue = queue.then(() =>
      serveJob(handlers, data, (message, transfer = []) => {
        self.postMessage(message, { transfer: [...transfer] });
      }),
    );
  });
}
