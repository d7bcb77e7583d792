import { decodePicture } from '../../platform/browser/decode-picture.ts';
import { artworkHandlers } from './handlers.ts';
import { serveQueue } from '../serve.ts';

serveQueue(artworkHandlers(decodePicture));
