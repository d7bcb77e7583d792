import { Cancelled, type Checkpoint } from '#core/base/checkpoint.ts';
import type { FromWorker, JobInput, JobName, JobOutput, ToWorker } from './protocol.ts';

/** What does each job. */
export type Handlers = {
  readonly [Name in JobName]: (
    input: JobInput<Name>,
    checkpoint: Checkpoint,
  ) => JobOutput<Name> | Promise<JobOutput<Name>>;
};

/** Least step of progress that is worth a message. */
const PROGRESS_STEP = 0.02;

/**
 * Answers one message: runs the job's handler with a checkpoint that reports progress and stops when cancelled, and posts
 * the outcome. Jobs cancelled while they waited in the queue are not begun.
 */
export async function serveJob(
  handlers: Handlers,
  { id, name, input, cancelled }: ToWorker,
  post: (message: FromWorker) => void,
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
    const handle = handlers[name] as (
      input: JobInput<JobName>,
      checkpoint: Checkpoint,
    ) => JobOutput<JobName> | Promise<JobOutput<JobName>>;
    const output = await handle(input, checkpoint);
    checkpoint(1);
    post({ id, kind: 'done', output });
  } catch (error) {
    if (error instanceof Cancelled) post({ id, kind: 'cancelled' });
    else
      post({ id, kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
}
