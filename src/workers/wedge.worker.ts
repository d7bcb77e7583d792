import { decodePicture } from '../platform/browser/decode-picture.ts';
import { serveQueue } from './serve.ts';
import { wedgeHandlers } from './wedge-handlers.ts';

serveQueue(wedgeHandlers(decodePicture));
