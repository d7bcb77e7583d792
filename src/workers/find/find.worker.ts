import { findHandlers } from './handlers.ts';
import { serveQueue } from '../serve.ts';

serveQueue(findHandlers());
