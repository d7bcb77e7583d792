import { decode as decodeBmp } from 'bmp-ts';
import sharp, { type Sharp } from 'sharp';
import { fail, succeed, type Result } from '#core/base/result.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { checkSvg } from '../check-svg.ts';
import { drawnSize } from '../drawn-size.ts';
import { checkPicture, reductionOf, type PictureFault } from '../check-picture.ts';

/**
 * Decodes a picture file for the command line: upright (EXIF orientation applied), converted to sRGB, straight alpha,
 * reduced to the working area when it is larger.
 * @param drawnPx pixels that the longer side of a drawing should have; see `drawnSize`
 */
export async function decodePicture(
  bytes: Uint8Array,
  drawnPx?: number,
): Promise<Result<RgbaRaster, PictureFault>> {
  const header = checkPicture(bytes);
  if (!header.ok) return header;
  const { kind, width, height } = header.value;
  try {
    let image: Sharp;
    if (kind === 'svg') {
      const drawing = checkSvg(bytes);
      if (!drawing.ok) return drawing;
      const size = drawnSize(drawing.value, drawnPx);
      const density = Math.min(100_000, Math.max(1, (72 * size.width) / drawing.value.width));
      image = sharp(Buffer.from(drawing.value.text), { density }).resize({ ...size, fit: 'fill' });
    } else image = kind === 'bmp' ? fromBmp(bytes) : sharp(bytes, { failOn: 'error' });
    image = image.autoOrient().toColourspace('srgb').ensureAlpha();
    const factor = kind === 'svg' ? 1 : reductionOf(width, height);
    if (factor < 1) {
      const upright = await image.clone().metadata();
      image = image.resize({ width: Math.floor(upright.autoOrient.width * factor) });
    }
    const { data, info } = await image
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true });
    return succeed({ width: info.width, height: info.height, data: new Uint8Array(data) });
  } catch (error) {
    return fail('undecodable', undefined, error instanceof Error ? error.message : undefined);
  }
}

/** sharp does not read BMP, so that one kind goes through a decoder of its own. */
function fromBmp(bytes: Uint8Array): Sharp {
  const { data, width, height, bitPP } = decodeBmp(Buffer.from(bytes), { toRGBA: true });
  const pixels = Buffer.from(data);
  // Only 32-bit files carry alpha; the decoder leaves it at 0 in all others.
  if (bitPP !== 32) for (let at = 3; at < pixels.length; at += 4) pixels[at] = 255;
  return sharp(pixels, { raw: { width, height, channels: 4 } });
}
