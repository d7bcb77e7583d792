import { findHandlers } from './find-handlers.ts';
import { serveQueue } from './serve.ts';

serveQueue(findHandlers());
