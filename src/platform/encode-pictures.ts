import { encode } from 'fast-png';
import type { PictureEncoders } from '#core/formats/mesh/export-files.ts';

/** PNG files of a relief's heights and print. */
export const PNG_ENCODERS: PictureEncoders = {
  heights: ({ width, height, data }) =>
    encode({
      width,
      height,
      data: Uint16Array.from(data),
      channels: 1,
      depth: 16,
    }) as Uint8Array<ArrayBuffer>,
  picture: (picture) => encode({ ...picture, channels: 4, depth: 8 }) as Uint8Array<ArrayBuffer>,
};
