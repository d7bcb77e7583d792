import type { Result } from '#core/base/result.ts';
import type { DecodedPicture, PictureFault } from '../platform/check-picture.ts';

/** Decodes a picture, in the browser or in Node. */
export type Decode = (
  bytes: Uint8Array<ArrayBuffer>,
) => Promise<Result<DecodedPicture, PictureFault>>;
