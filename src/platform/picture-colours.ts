import { encodeSrgb } from '#core/colour/srgb.ts';
import type { RgbaRaster } from '#core/base/raster.ts';

/**
 * Where decoders disagree about colours, this app decides, and page and command line do the same:
 *
 * - A gAMA chunk of a PNG counts, unless it says the usual 1/2.2 or the file has a better word (iCCP, sRGB, cICP); a cHRM chunk does not
 *   (PNG, third edition, 4.3 and 11.3.2).
 * - 16 bits become 8 by rounding, in PNG without a profile and in TIFF.
 * - CMYK becomes RGB by the plain formula (1 - ink) (1 - black), profiles or not: what differs between converters is more than
 *   what a profile would bring on a print of a few filaments.
 */

const SIGNATURE_BYTES = 8;

interface Chunk {
  readonly type: string;
  readonly from: number;
  /** First byte after it. */
  readonly to: number;
}

/** The chunks of a PNG up to its pixels; as far as they are whole. */
function chunksOf(bytes: Uint8Array): Chunk[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const chunks: Chunk[] = [];
  for (let at = SIGNATURE_BYTES; at + 12 <= bytes.length;) {
    const to = at + 12 + view.getUint32(at);
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (to > bytes.length || type === 'IDAT') break;
    chunks.push({ type, from: at, to });
    at = to;
  }
  return chunks;
}

/** Chunks that say more of the colours than gAMA does. */
const BETTER = ['iCCP', 'sRGB', 'cICP'];

/** So near to 1/2.2 a gamma is the usual one, which sRGB stands for. libpng's own threshold. */
const USUAL_WITHIN = 0.05;

/** What is special about the colours of a PNG. */
export interface PngColours {
  /** The file without what would be counted twice. */
  readonly bytes: Uint8Array<ArrayBuffer>;
  /** sRGB code of each code of the file; undefined where they are the same. */
  readonly table?: Uint8ClampedArray | undefined;
  /** 16 bits a sample, and no profile. */
  readonly deep: boolean;
}

/** Looks at the colours of a PNG. */
export function pngColours(bytes: Uint8Array<ArrayBuffer>): PngColours {
  const chunks = chunksOf(bytes);
  const managed = chunks.some(({ type }) => BETTER.includes(type));
  const profiled = chunks.some(({ type }) => type === 'iCCP' || type === 'cICP');
  const deep = bytes[SIGNATURE_BYTES + 16] === 16 && !profiled;
  const gamma = chunks.find(({ type }) => type === 'gAMA');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const value = gamma ? view.getUint32(gamma.from + 8) / 100_000 : 0;
  const counts = !managed && value > 0 && Math.abs(2.2 * value - 1) >= USUAL_WITHIN;
  const unsaid = chunks.filter(({ type }) => type === 'gAMA' || type === 'cHRM');
  return {
    bytes: managed ? bytes : without(bytes, unsaid),
    deep,
    table: counts
      ? Uint8ClampedArray.from({ length: 256 }, (_, code) => 255 * gammaCode(code / 255, value))
      : undefined,
  };
}

/** An sRGB code, 0..1, of a sample of a file with a gamma (PNG, third edition, 13.13). */
const gammaCode = (sample: number, gamma: number): number => encodeSrgb(sample ** (1 / gamma));

/** Puts colours through a table, in place; alpha stays. */
export function throughTable({ data }: RgbaRaster, table: Uint8ClampedArray | undefined): void {
  if (!table) return;
  for (let i = 0; i < data.length; i += 4)
    for (let c = 0; c < 3; c += 1) data[i + c] = table[data[i + c] as number] as number;
}

/** Is a JPEG one of four inks? Its frame tells the number of components (ISO/IEC 10918-1, B.2.2). */
export function isCmykJpeg(bytes: Uint8Array): boolean {
  for (const { marker, from } of segmentsOf(bytes))
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return bytes[from + 9] === 4;
  return false;
}

/** A JPEG without its profile (ICC.1:2022, annex B.4: APP2 segments). */
export function withoutProfile(bytes: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> {
  return without(
    bytes,
    segmentsOf(bytes).filter(
      ({ marker, from }) =>
        marker === 0xe2 &&
        String.fromCharCode(...bytes.subarray(from + 4, from + 15)) === 'ICC_PROFILE',
    ),
  );
}

/** The segments of a JPEG before its scan. */
function segmentsOf(bytes: Uint8Array): { marker: number; from: number; to: number }[] {
  const found: { marker: number; from: number; to: number }[] = [];
  for (let at = 2; at + 4 <= bytes.length && bytes[at] === 0xff;) {
    const marker = bytes[at + 1] as number;
    if (marker === 0xff) {
      at += 1;
      continue;
    }
    if (marker === 0xda) break;
    const bare = marker === 0x01 || (marker >= 0xd0 && marker <= 0xd8);
    const to = at + 2 + (bare ? 0 : (bytes[at + 2] as number) * 256 + (bytes[at + 3] as number));
    found.push({ marker, from: at, to });
    at = to;
  }
  return found;
}

/** Pixels of four inks, 255 = all of one, as sRGB. */
export function rgbOfCmyk({
  width,
  height,
  data,
}: {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}): RgbaRaster {
  const out = new Uint8Array(4 * width * height);
  for (let i = 0; i < 4 * width * height; i += 4) {
    const paper = 255 - (data[i + 3] as number);
    for (let c = 0; c < 3; c += 1)
      out[i + c] = Math.round(((255 - (data[i + c] as number)) * paper) / 255);
    out[i + 3] = 255;
  }
  return { width, height, data: out };
}

function without(
  bytes: Uint8Array<ArrayBuffer>,
  parts: readonly { readonly from: number; readonly to: number }[],
): Uint8Array<ArrayBuffer> {
  if (parts.length === 0) return bytes;
  const out = new Uint8Array(
    bytes.length - parts.reduce((sum, { from, to }) => sum + to - from, 0),
  );
  let [at, put] = [0, 0];
  for (const { from, to } of [...parts, { from: bytes.length, to: bytes.length }]) {
    out.set(bytes.subarray(at, from), put);
    put += from - at;
    at = to;
  }
  return out;
}
