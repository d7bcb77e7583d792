import { WorkerClient } from './client.ts';

/** Starts the worker that holds one artwork. */
export function startArtworkWorker(): WorkerClient {
  return new WorkerClient(
    new Worker(new URL('./artwork.worker.ts', import.meta.url), {
      type: 'module',
      name: 'artwork',
    }),
  );
}
