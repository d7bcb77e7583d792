import { WorkerClient } from './client.ts';
import type { FindJobs, WedgeJobs } from './protocol.ts';

/** Starts the worker that holds one artwork. */
export function startArtworkWorker(): WorkerClient {
  return new WorkerClient(
    new Worker(new URL('./artwork.worker.ts', import.meta.url), {
      type: 'module',
      name: 'artwork',
    }),
  );
}

/** Starts the worker that measures filaments. */
export function startWedgeWorker(): WorkerClient<WedgeJobs> {
  return new WorkerClient<WedgeJobs>(
    new Worker(new URL('./wedge.worker.ts', import.meta.url), { type: 'module', name: 'wedge' }),
  );
}

/** Starts a worker that looks for stacks. */
export function startFindWorker(): WorkerClient<FindJobs> {
  return new WorkerClient<FindJobs>(
    new Worker(new URL('./find.worker.ts', import.meta.url), { type: 'module', name: 'find' }),
  );
}
