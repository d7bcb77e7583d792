import type { Orientation } from '#core/artwork/upright.ts';

/** The first page of a TIFF, as far as its header tells. */
export interface TiffPage {
  /** A copy of the file that has no other page and no directories within directories: those may be endless. */
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly width: number;
  readonly height: number;
  /** 1..8, as in EXIF. */
  readonly orientation: Orientation;
}

/** Tags by their numbers. Source: TIFF 6.0 (Adobe, 1992), and the EXIF and GPS pointers of its supplements. */
const WIDTH = 256;
const HEIGHT = 257;
const ORIENTATION = 274;
const POINTERS = [330, 34665, 34853, 40965];
/** A number that nothing asks for. */
const UNUSED = 65000;

/**
 * Reads the first directory of a TIFF and cuts everything off that could lead to others.
 * @returns undefined where the directory is not whole
 */
export function firstTiffPage(source: Uint8Array): TiffPage | undefined {
  const bytes = new Uint8Array(source);
  const view = new DataView(bytes.buffer);
  const little = bytes[0] === 0x49;
  const length = bytes.length;
  if (length < 8) return undefined;
  const at = view.getUint32(4, little);
  if (at + 2 > length) return undefined;
  const count = view.getUint16(at, little);
  const end = at + 2 + 12 * count;
  if (count === 0 || end + 4 > length) return undefined;
  const found = new Map<number, number>();
  for (let i = 0; i < count; i += 1) {
    const entry = at + 2 + 12 * i;
    const tag = view.getUint16(entry, little);
    const isShort = view.getUint16(entry + 2, little) === 3;
    found.set(tag, isShort ? view.getUint16(entry + 8, little) : view.getUint32(entry + 8, little));
    if (POINTERS.includes(tag)) view.setUint16(entry, UNUSED, little);
  }
  view.setUint32(end, 0, little);
  const [width = 0, height = 0] = [found.get(WIDTH), found.get(HEIGHT)];
  const orientation = found.get(ORIENTATION) ?? 1;
  if (width < 1 || height < 1) return undefined;
  const known = orientation >= 1 && orientation <= 8 ? (orientation as Orientation) : 1;
  return { bytes, width, height, orientation: known };
}
