import { decode as decodeBmp } from 'bmp-ts';
import sharp, { type Sharp } from 'sharp';
import { fail, succeed, type Result } from '#core/base/result.ts';
import type { RgbaRaster } from '#core/base/raster.ts';
import { checkSvg, svgInPixels } from '../check-svg.ts';
import { drawnSize } from '../drawn-size.ts';
import {
  checkPicture,
  reductionOf,
  type PictureFault,
  type PictureKind,
} from '../check-picture.ts';
import { decodeDeepPng } from '../deep-png.ts';
import { isCmykJpeg, pngColours, rgbOfCmyk, throughTable } from '../picture-colours.ts';

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
      const text = svgInPixels(drawing.value, size);
      image = sharp(Buffer.from(text)).resize({ ...size, fit: 'fill' });
    } else image = await rasterOf(bytes, kind);
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

/** A picture before it is turned; colours go as `picture-colours.ts` decides. */
async function rasterOf(bytes: Uint8Array, kind: PictureKind): Promise<Sharp> {
  if (kind === 'bmp') return fromBmp(bytes);
  if (kind === 'png') {
    const { bytes: plain, table, deep } = pngColours(new Uint8Array(bytes));
    if (!table && !deep) return sharp(plain, { failOn: 'error' });
    const raster = deep ? decodeDeepPng(plain) : await rawOf(sharp(plain, { failOn: 'error' }));
    throughTable(raster, table);
    const { width, height, data } = raster;
    // A PNG may be turned, too.
    const { orientation } = await sharp(bytes).metadata();
    return turned(sharp(data, { raw: { width, height, channels: 4 } }), orientation);
  }
  if (kind === 'jpg' && isCmykJpeg(bytes)) {
    const inks = sharp(bytes, { failOn: 'error', ignoreIcc: true });
    const { data, info } = await inks
      .pipelineColourspace('cmyk')
      .toColourspace('cmyk')
      .raw()
      .toBuffer({ resolveWithObject: true });
    const { width, height } = info;
    const { orientation } = await sharp(bytes).metadata();
    const rgb = rgbOfCmyk({ width, height, data }).data;
    return turned(sharp(rgb, { raw: { width, height, channels: 4 } }), orientation);
  }
  const image = sharp(bytes, { failOn: 'error' });
  const { depth, hasProfile, orientation } = await image.metadata();
  if (kind !== 'tiff' || depth !== 'ushort' || hasProfile) return image;
  const { data, info } = await image
    .toColourspace('rgb16')
    .ensureAlpha()
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  const samples = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
  const rounded = Uint8Array.from(samples, (value) => Math.round(value / 257));
  const { width, height } = info;
  return turned(sharp(rounded, { raw: { width, height, channels: 4 } }), orientation);
}

async function rawOf(image: Sharp): Promise<RgbaRaster> {
  const { data, info } = await image
    .toColourspace('srgb')
    .ensureAlpha()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

/** Raw pixels have lost how they are to be turned (EXIF 2.32, orientation 1..8): it is said anew. */
async function turned(image: Sharp, orientation = 1): Promise<Sharp> {
  if (orientation === 1) return image;
  return sharp(await image.withMetadata({ orientation }).png({ compressionLevel: 0 }).toBuffer());
}

/** sharp does not read BMP, so that one kind goes through a decoder of its own. */
function fromBmp(bytes: Uint8Array): Sharp {
  // With a palette it gives the order that it is not asked for: alpha, blue, green, red.
  const hasPalette = new DataView(bytes.buffer, bytes.byteOffset).getUint16(28, true) <= 8;
  const { data, width, height, bitPP } = decodeBmp(Buffer.from(bytes), { toRGBA: !hasPalette });
  const pixels = Buffer.from(data);
  if (hasPalette) pixels.swap32();
  // Only 32-bit files carry alpha; the decoder leaves it at 0 in all others.
  if (bitPP !== 32) for (let at = 3; at < pixels.length; at += 4) pixels[at] = 255;
  return sharp(pixels, { raw: { width, height, channels: 4 } });
}
