import { serveQueue } from '../serve.ts';
import { gcodeHandlers } from './handlers.ts';

serveQueue(gcodeHandlers());
