import { decodePicture } from '../platform/browser/decode-picture.ts';
import { artworkHandlers } from './artwork-handlers.ts';
import type { FromWorker, ToWorker } from './protocol.ts';
import { serveJob } from './serve.ts';

const handlers = artworkHandlers(decodePicture);

/** Jobs run one after the other: the second one may use what the first one keeps. */
let queue: Promise<void> = Promise.resolve();

self.addEventListener('message', ({ data }: MessageEvent<ToWorker>) => {
  queue = queue.then(() =>
    serveJob(handlers, data, (message: FromWorker) => {
      self.postMessage(message);
    }),
  );
});
