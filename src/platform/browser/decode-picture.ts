import { fail, succeed, type Result } from '#core/base/result.ts';
import { uprightRaster } from '#core/artwork/upright.ts';
import { orientationOfWebp } from '../webp-orientation.ts';
import {
  checkPicture,
  mimeOf,
  reductionOf,
  type DecodedPicture,
  type PictureFault,
} from '../check-picture.ts';

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
    const blob = new Blob([bytes], { type: mimeOf(kind) });
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
