import { fail, succeed, type Result } from '#core/base/result.ts';
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
  let bitmap: ImageBitmap | undefined;
  try {
    const blob = new Blob([bytes], { type: mimeOf(kind) });
    bitmap = await createImageBitmap(blob, {
      imageOrientation: 'from-image',
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
    return succeed({
      kind,
      raster: { width, height, data },
      ...(factor < 1 ? { reducedFrom: { width: bitmap.width, height: bitmap.height } } : {}),
    });
  } catch {
    return fail('undecodable');
  } finally {
    bitmap?.close();
  }
}
