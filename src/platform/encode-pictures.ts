import { encode } from 'fast-png';
import type { RgbaRaster } from '#core/base/raster.ts';
import type { PictureEncoders } from '#core/formats/mesh/export-files.ts';

/** A picture as PNG, with its alpha. */
export function encodeRgbaPng({ width, height, data }: RgbaRaster): Uint8Array<ArrayBuffer> {
  const plain = data instanceof Uint8Array ? data : new Uint8Array(data);
  return encode({ width, height, data: plain, channels: 4, depth: 8 }) as Uint8Array<ArrayBuffer>;
}

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
  picture: encodeRgbaPng,
};
