import { imageSize } from 'image-size';
import type { RgbaRaster } from '#core/base/raster.ts';
import { fail, succeed, type Fault, type Result } from '#core/base/result.ts';

/** Largest side and area that are taken in at all. Beyond this no machine should be asked to decode. */
export const MOST_SIDE_PX = 30_000;
export const MOST_AREA_PX = 200_000_000;

/** Pictures with more pixels than this are reduced when they are loaded. */
export const WORKING_AREA_PX = 40_000_000;

/** Largest file that is taken in, bytes. */
export const MOST_PICTURE_BYTES = 200_000_000;

/** Kinds of picture that are taken in. */
export const PICTURE_KINDS = ['png', 'jpg', 'webp', 'avif', 'gif', 'bmp', 'tiff', 'svg'] as const;
export type PictureKind = (typeof PICTURE_KINDS)[number];

export type PictureFault = Fault<
  | 'empty'
  | 'file-too-large'
  | 'not-a-picture'
  | 'truncated'
  | 'too-many-pixels'
  | 'undecodable'
  | 'svg-unsafe'
  | 'svg-no-size'
>;

/** What a file's header says of itself. The sides are before any rotation the file asks for. */
export interface PictureHeader {
  readonly kind: PictureKind;
  readonly width: number;
  readonly height: number;
}

/** A decoded picture and what it was decoded from. */
export interface DecodedPicture {
  readonly kind: PictureKind;
  /** Upright, sRGB, straight alpha. */
  readonly raster: RgbaRaster;
  /** Sides of the whole picture, where it was reduced. */
  readonly reducedFrom?: { readonly width: number; readonly height: number };
}

const MIME: Readonly<Record<PictureKind, string>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  webp: 'image/webp',
  avif: 'image/avif',
  gif: 'image/gif',
  bmp: 'image/bmp',
  tiff: 'image/tiff',
  svg: 'image/svg+xml',
};

/** Media type of a kind of picture (IANA). */
export function mimeOf(kind: PictureKind): string {
  return MIME[kind];
}

/**
 * Looks at a file before it is decoded: is it a picture of a kind we take, is it whole, and are its dimensions sane?
 * Decoders are lenient (half a JPEG comes out as half a picture), so the end of the file is checked here.
 */
export function checkPicture(bytes: Uint8Array): Result<PictureHeader, PictureFault> {
  if (bytes.length === 0) return fail('empty');
  if (bytes.length > MOST_PICTURE_BYTES)
    return fail('file-too-large', undefined, String(bytes.length));
  // A drawing has no pixels; its size is looked for where it is drawn (`check-svg.ts`).
  if (looksLikeSvg(bytes)) return succeed({ kind: 'svg', width: 1, height: 1 });
  let size: ReturnType<typeof imageSize>;
  try {
    size = imageSize(bytes);
  } catch {
    return fail('not-a-picture');
  }
  const kind = PICTURE_KINDS.find((known) => known === (size.type === 'heif' ? 'avif' : size.type));
  if (!kind) return fail('not-a-picture', undefined, size.type);
  const { width, height } = size;
  const pixels = `${width} x ${height}`;
  if (!(width > 0 && height > 0)) return fail('undecodable');
  if (width > MOST_SIDE_PX || height > MOST_SIDE_PX || width * height > MOST_AREA_PX)
    return fail('too-many-pixels', undefined, pixels);
  if (!isWhole(bytes, kind)) return fail('truncated');
  return succeed({ kind, width, height });
}

/** Signs at the beginning of a file among which an SVG says what it is. */
const SVG_HEAD = 4000;

/** Is it an SVG? Looked for in the beginning of the file: comments and a document type may stand before the root. */
export function looksLikeSvg(bytes: Uint8Array): boolean {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, SVG_HEAD));
  return /^(?:\xef\xbb\xbf)?\s*</.test(head) && /<(?:\w+:)?svg[\s>]/.test(head);
}

/** Does the file reach as far as its own structure says? */
function isWhole(bytes: Uint8Array, kind: PictureKind): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  switch (kind) {
    case 'png':
      // The last chunk is IEND; some programs leave padding behind it.
      return lastIndexOf(bytes, [0x49, 0x45, 0x4e, 0x44]) >= 0;
    case 'jpg':
      return jpegEnds(bytes, view);
    case 'gif':
      return lastByte(bytes) === 0x3b;
    case 'webp':
      return bytes.length >= view.getUint32(4, true) + 8;
    case 'bmp':
      return bmpIsWhole(view);
    case 'avif':
      return boxesFit(view);
    case 'tiff':
    case 'svg':
      // Their decoders read nothing beyond the end, and say so.
      return true;
  }
}

/**
 * Does a BMP hold the pixels that its header promises? What the header says of the file's length may be anything, and a
 * decoder makes room for the pixels before it looks for them. Source of the layout: BITMAPINFOHEADER (Microsoft, Win32).
 */
function bmpIsWhole(view: DataView): boolean {
  if (view.byteLength < 54 || view.byteLength < view.getUint32(2, true)) return false;
  const offset = view.getUint32(10, true);
  const [width, height] = [Math.abs(view.getInt32(18, true)), Math.abs(view.getInt32(22, true))];
  const bitsPerPixel = view.getUint16(28, true);
  const compression = view.getUint32(30, true);
  const held = view.byteLength - offset;
  // Run lengths: a pair of bytes stands for 255 pixels at most.
  if (compression === 1 || compression === 2) return held * 128 >= width * height;
  return held >= 4 * Math.ceil((width * bitsPerPixel) / 32) * height;
}

/**
 * Is there an end-of-image marker behind the start of the scan? It cannot occur within coded data, a small preview in
 * front of the scan has one of its own, and cameras may append data behind it.
 */
function jpegEnds(bytes: Uint8Array, view: DataView): boolean {
  let at = 2;
  while (at + 4 <= bytes.length && bytes[at] === 0xff) {
    const marker = bytes[at + 1] as number;
    if (marker === 0xda) return lastIndexOf(bytes, [0xff, 0xd9]) > at;
    // Fill bytes and markers without a segment.
    const bare = marker === 0xff || marker === 0x01 || (marker >= 0xd0 && marker <= 0xd8);
    at += marker === 0xff ? 1 : bare ? 2 : 2 + view.getUint16(at + 2);
  }
  return false;
}

/** The last byte that is not padding. */
function lastByte(bytes: Uint8Array): number | undefined {
  let at = bytes.length - 1;
  while (at > 0 && bytes[at] === 0) at -= 1;
  return bytes[at];
}

/** ISO base media file (AVIF): every top-level box ends within the file. */
function boxesFit(view: DataView): boolean {
  let at = 0;
  while (at + 8 <= view.byteLength) {
    const size = view.getUint32(at);
    if (size === 0) return true;
    const length =
      size === 1 && at + 16 <= view.byteLength ? Number(view.getBigUint64(at + 8)) : size;
    if (length < 8) return false;
    at += length;
  }
  return at === view.byteLength;
}

function lastIndexOf(bytes: Uint8Array, pattern: readonly number[]): number {
  for (let at = bytes.length - pattern.length; at >= 0; at -= 1)
    if (pattern.every((value, k) => bytes[at + k] === value)) return at;
  return -1;
}

/** Factor (at most 1) by which a picture's sides are reduced on loading. */
export function reductionOf(width: number, height: number): number {
  return Math.min(1, Math.sqrt(WORKING_AREA_PX / (width * height)));
}
