import { decodePicture } from '../../platform/browser/decode-picture.ts';
import { serveQueue } from '../serve.ts';
import { photoHandlers } from './handlers.ts';

serveQueue(photoHandlers(decodePicture));
