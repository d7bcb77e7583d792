import { serveQueue } from '../serve.ts';
import { rehearseHandlers } from './handlers.ts';

serveQueue(rehearseHandlers());
