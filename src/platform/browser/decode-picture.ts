import { fail, succeed, type Result } from '#core/base/result.ts';
import { uprightRaster } from '#core/artwork/upright.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import {
  isCmykJpeg,
  pngColours,
  throughTable,
  withoutProfile,
  type PngColours,
} from '../picture-colours.ts';
import { orientationOfWebp } from '../webp-orientation.ts';
import {
  checkPicture,
  mimeOf,
  reductionOf,
  type DecodedPicture,
  type PictureFault,
} from '../check-picture.ts';

const imageDataOf = ({ width, height, data }: RgbaRaster): ImageData =>
  new ImageData(new Uint8ClampedArray(data), width, height);

/**
 * Decodes a picture with the browser's own decoders, in a worker: upright (EXIF orientation applied), in sRGB, straight
 * alpha, reduced to the working area where it is larger.
 */
export async function decodePicture(
  bytes: Uint8Array<ArrayBuffer>,
): Promise<Result<DecodedPicture, PictureFault>> {
  const header = checkPicture(bytes);
  if (!header.ok) return header;
  const { kind } = header.value;
  if (kind === 'tiff') return (await import('./decode-tiff.ts')).decodeTiff(bytes);
  let bitmap: ImageBitmap | undefined;
  try {
    const colours: PngColours = kind === 'png' ? pngColours(bytes) : { bytes, deep: false };
    const plain = kind === 'jpg' && isCmykJpeg(bytes) ? withoutProfile(bytes) : colours.bytes;
    const deep = colours.deep ? (await import('../deep-png.ts')).decodeDeepPng(plain) : undefined;
    if (deep && reductionOf(deep.width, deep.height) === 1) {
      // A canvas would round what is half see-through once more.
      throughTable(deep, colours.table);
      return succeed({ kind, raster: deep });
    }
    const blob = deep ? imageDataOf(deep) : new Blob([plain], { type: mimeOf(kind) });
    bitmap = await createImageBitmap(blob, {
      // Of a WebP the browser leaves it to us; said outright, so that it stays so.
      imageOrientation: kind === 'webp' ? 'none' : 'from-image',
      premultiplyAlpha: 'none',
    });
    const factor = reductionOf(bitmap.width, bitmap.height);
    const width = Math.max(1, Math.floor(bitmap.width * factor));
    const height = Math.max(1, Math.floor(bitmap.height * factor));
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d', { willReadFrequently: true, colorSpace: 'srgb' });
    if (!context) return fail('undecodable');
    context.imageSmoothingQuality = 'high';
    context.drawImage(bitmap, 0, 0, width, height);
    const { data } = context.getImageData(0, 0, width, height);
    const orientation = kind === 'webp' ? orientationOfWebp(bytes) : 1;
    const turned = orientation >= 5;
    const raster = uprightRaster({ width, height, data }, orientation);
    throughTable(raster, colours.table);
    const [wide, high] = turned ? [bitmap.height, bitmap.width] : [bitmap.width, bitmap.height];
    return succeed({
      kind,
      raster,
      ...(factor < 1 ? { reducedFrom: { width: wide, height: high } } : {}),
    });
  } catch {
    return fail('undecodable');
  } finally {
    bitmap?.close();
  }
}
