import { decodePicture } from '../../platform/browser/decode-picture.ts';
import { serveQueue } from '../serve.ts';
import { exportHandlers } from './handlers.ts';

serveQueue(exportHandlers(decodePicture));
