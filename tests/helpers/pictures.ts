import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** What two independent decoders found in a picture. */
export interface ExpectedPicture {
  readonly width: number;
  readonly height: number;
  readonly opaqueShare: number;
  readonly meanRgb: readonly number[];
  /** x, y, red, green, blue, alpha; means of a small neighbourhood. */
  readonly probes: readonly (readonly number[])[];
}

/** Path of a picture among the fixtures. */
export function fixture(name: string): string {
  return fileURLToPath(new URL(`../fixtures/images/${name}`, import.meta.url));
}

export const EXPECTED_PICTURES = JSON.parse(
  readFileSync(fixture('expected.json'), 'utf8'),
) as Readonly<Record<string, ExpectedPicture>>;

/**
 * A BMP of 24 bits a pixel whose colours are known: red grows to the right, green downwards, blue is 128.
 * Layout: Microsoft's BITMAPFILEHEADER and BITMAPINFOHEADER, rows from the bottom up, padded to four bytes.
 */
export function makeBmp(width: number, height: number): Buffer {
  const stride = Math.ceil((width * 3) / 4) * 4;
  const bytes = Buffer.alloc(54 + stride * height);
  bytes.write('BM', 'latin1');
  bytes.writeUInt32LE(bytes.length, 2);
  bytes.writeUInt32LE(54, 10);
  bytes.writeUInt32LE(40, 14);
  bytes.writeInt32LE(width, 18);
  bytes.writeInt32LE(height, 22);
  bytes.writeUInt16LE(1, 26);
  bytes.writeUInt16LE(24, 28);
  bytes.writeUInt32LE(stride * height, 34);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1)
      Buffer.from([128, ...bmpColour(width, height, x, y)]).copy(
        bytes,
        54 + (height - 1 - y) * stride + x * 3,
      );
  return bytes;
}

/** Green and red of a pixel of {@link makeBmp}, as they stand in the file behind blue. */
export function bmpColour(width: number, height: number, x: number, y: number): [number, number] {
  return [Math.round((255 * y) / (height - 1)), Math.round((255 * x) / (width - 1))];
}
