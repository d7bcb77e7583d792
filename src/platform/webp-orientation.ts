import type { Orientation } from '#core/artwork/upright.ts';

const ORIENTATION_TAG = 0x0112;

function text(bytes: Uint8Array, at: number, length: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + length));
}

/**
 * How a WebP file says that it lies; 1 where it says nothing. Browsers do not look: only what they do with JPEG is agreed on.
 * Sources of the layouts: WebP Container Specification (Google), chunk `EXIF`; TIFF 6.0 (Adobe 1992), image file directory.
 */
export function orientationOfWebp(bytes: Uint8Array): Orientation {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 12;
  while (at + 8 <= bytes.length) {
    const size = view.getUint32(at + 4, true);
    if (text(bytes, at, 4) === 'EXIF')
      return orientationOfExif(bytes.subarray(at + 8, Math.min(bytes.length, at + 8 + size)));
    // Chunks begin at even places.
    at += 8 + size + (size % 2);
  }
  return 1;
}

function orientationOfExif(chunk: Uint8Array): Orientation {
  // Some writers put the marker of the JPEG segment in front.
  const bytes = text(chunk, 0, 4) === 'Exif' ? chunk.subarray(6) : chunk;
  if (bytes.length < 14) return 1;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const little = text(bytes, 0, 2) === 'II';
  const first = view.getUint32(4, little);
  if (first + 2 > bytes.length) return 1;
  const entries = view.getUint16(first, little);
  for (let n = 0; n < entries; n += 1) {
    const entry = first + 2 + 12 * n;
    if (entry + 12 > bytes.length) return 1;
    if (view.getUint16(entry, little) !== ORIENTATION_TAG) continue;
    const value = view.getUint16(entry + 8, little);
    return value >= 1 && value <= 8 ? (value as Orientation) : 1;
  }
  return 1;
}
