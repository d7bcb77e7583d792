import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { crc32 } from 'node:zlib';
import { encode } from 'fast-png';
import sharp from 'sharp';

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

const WIDTH = 64;
const HEIGHT = 48;

/** The colour of a place of a palette: all three channels differ. */
const paletteColour = (i: number): [red: number, green: number, blue: number] => [
  (40 + 13 * i) % 256,
  (91 * i) % 256,
  (37 + 53 * i) % 256,
];

/** A BMP of 1, 4 or 8 bits with a palette (BITMAPINFOHEADER, Win32), and what it shows. */
export function paletteBmp(bits: 1 | 4 | 8): OddPicture {
  const count = 2 ** bits;
  const stride = 4 * Math.ceil((WIDTH * bits) / 32);
  const offset = 54 + 4 * count;
  const bytes = Buffer.alloc(offset + stride * HEIGHT);
  bytes.write('BM', 'latin1');
  bytes.writeUInt32LE(bytes.length, 2);
  bytes.writeUInt32LE(offset, 10);
  bytes.writeUInt32LE(40, 14);
  bytes.writeInt32LE(WIDTH, 18);
  bytes.writeInt32LE(HEIGHT, 22);
  bytes.writeUInt16LE(1, 26);
  bytes.writeUInt16LE(bits, 28);
  bytes.writeUInt32LE(stride * HEIGHT, 34);
  bytes.writeUInt32LE(count, 46);
  for (let i = 0; i < count; i += 1)
    Buffer.from(paletteColour(i).toReversed()).copy(bytes, 54 + 4 * i);
  const indexAt = (x: number, y: number): number => (x + 3 * y) % count;
  for (let y = 0; y < HEIGHT; y += 1)
    for (let x = 0; x < WIDTH; x += 1) {
      const at = offset + stride * (HEIGHT - 1 - y) + Math.floor((x * bits) / 8);
      bytes[at] = (bytes[at] as number) | (indexAt(x, y) << (8 - bits - ((x * bits) % 8)));
    }
  return oddPicture(`palette-${bits}.bmp`, bytes, (x, y) => [...paletteColour(indexAt(x, y)), 255]);
}

/** A picture that decoders read differently, with the pixels that it is to have. */
export interface OddPicture {
  readonly name: string;
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly width: number;
  readonly height: number;
  /** RGBA. */
  readonly pixels: readonly number[];
}

function oddPicture(
  name: string,
  bytes: Uint8Array,
  at: (x: number, y: number) => readonly number[],
): OddPicture {
  const pixels: number[] = [];
  for (let y = 0; y < HEIGHT; y += 1) for (let x = 0; x < WIDTH; x += 1) pixels.push(...at(x, y));
  return { name, bytes: new Uint8Array(bytes), width: WIDTH, height: HEIGHT, pixels };
}

/** A chunk put behind the header of a PNG (PNG, third edition, 5.3). */
export function pngWith(png: Uint8Array, type: string, data: Uint8Array): Uint8Array<ArrayBuffer> {
  const chunk = Buffer.alloc(12 + data.length);
  chunk.writeUInt32BE(data.length);
  chunk.write(type, 4, 'latin1');
  Buffer.from(data).copy(chunk, 8);
  chunk.writeUInt32BE(crc32(chunk.subarray(4, 8 + data.length)), 8 + data.length);
  const header = 8 + 25;
  return new Uint8Array(Buffer.concat([png.subarray(0, header), chunk, png.subarray(header)]));
}

const sRgb = (linear: number): number =>
  linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055;

/** A PNG with a gAMA chunk; what it shows follows from the standards' formulas alone. */
export function gammaPng(
  gamma: number,
  beside?: readonly [type: string, data: Uint8Array],
): OddPicture {
  const codes = (x: number, y: number): number[] => [4 * x, 5 * y, (7 * x + 3 * y) % 256];
  const data = Uint8Array.from({ length: 3 * WIDTH * HEIGHT }, (_, i) => {
    const pixel = Math.floor(i / 3);
    return codes(pixel % WIDTH, Math.floor(pixel / WIDTH))[i % 3] as number;
  });
  const plain = encode({ width: WIDTH, height: HEIGHT, data, channels: 3, depth: 8 });
  const value = Buffer.alloc(4);
  value.writeUInt32BE(Math.round(100_000 * gamma));
  const counts = Math.abs(2.2 * gamma - 1) >= 0.05 && !beside;
  const png = pngWith(plain, 'gAMA', value);
  return oddPicture(`gamma-${gamma}.png`, beside ? pngWith(png, ...beside) : png, (x, y) => [
    ...codes(x, y).map((code) =>
      counts ? Math.round(255 * sRgb((code / 255) ** (1 / gamma))) : code,
    ),
    255,
  ]);
}

/** A PNG of 16 bits a sample: grey, or colours with alpha. */
export function deepPng(channels: 1 | 4): OddPicture {
  const sample = (i: number): number => (i * 2311 + 77) % 65_536;
  const data = Uint16Array.from({ length: channels * WIDTH * HEIGHT }, (_, i) => sample(i));
  const bytes = encode({ width: WIDTH, height: HEIGHT, data, channels, depth: 16 });
  const rounded = (i: number): number => Math.round(sample(i) / 257);
  return oddPicture(`deep-${channels}.png`, bytes, (x, y) => {
    const i = y * WIDTH + x;
    const grey = rounded(i);
    return channels === 1 ? [grey, grey, grey, 255] : [0, 1, 2, 3].map((c) => rounded(4 * i + c));
  });
}

/** A TIFF of one strip of 16-bit greys (TIFF 6.0, section 4), in either order of bytes. */
export function deepTiff(little: boolean): OddPicture {
  const sample = (i: number): number => (i * 2311 + 77) % 65_536;
  const entries: readonly (readonly [tag: number, type: number, value: number])[] = [
    [256, 3, WIDTH],
    [257, 3, HEIGHT],
    [258, 3, 16],
    [259, 3, 1],
    [262, 3, 1],
    [273, 4, 200],
    [277, 3, 1],
    [278, 3, HEIGHT],
    [279, 4, 2 * WIDTH * HEIGHT],
  ];
  const bytes = new Uint8Array(200 + 2 * WIDTH * HEIGHT);
  const view = new DataView(bytes.buffer);
  bytes.set(new TextEncoder().encode(little ? 'II' : 'MM'));
  view.setUint16(2, 42, little);
  view.setUint32(4, 8, little);
  view.setUint16(8, entries.length, little);
  entries.forEach(([tag, type, value], n) => {
    const at = 10 + 12 * n;
    view.setUint16(at, tag, little);
    view.setUint16(at + 2, type, little);
    view.setUint32(at + 4, 1, little);
    if (type === 3) view.setUint16(at + 8, value, little);
    else view.setUint32(at + 8, value, little);
  });
  for (let i = 0; i < WIDTH * HEIGHT; i += 1) view.setUint16(200 + 2 * i, sample(i), little);
  return oddPicture(`deep-${little ? 'little' : 'big'}.tif`, bytes, (x, y) => {
    const grey = Math.round(sample(y * WIDTH + x) / 257);
    return [grey, grey, grey, 255];
  });
}

/**
 * A JPEG of four inks in large even areas, with a profile and without. What it shows follows from its inks by the plain formula;
 * the page's own decoder, which knows nothing of sharp, is the other witness.
 */
export async function cmykJpeg(profiled: boolean): Promise<OddPicture> {
  const data = Uint8Array.from({ length: 3 * WIDTH * HEIGHT }, (_, i) => {
    const pixel = Math.floor(i / 3);
    const area = Math.floor((pixel % WIDTH) / 16) + 4 * Math.floor(pixel / WIDTH / 16);
    return [area * 21, 255 - area * 19, (area * 97) % 256][i % 3] as number;
  });
  const colours = sharp(data, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } });
  const inks = profiled ? colours.withIccProfile('cmyk') : colours.toColourspace('cmyk');
  const bytes = await inks.jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
  const raw = await sharp(bytes, { ignoreIcc: true })
    .pipelineColourspace('cmyk')
    .toColourspace('cmyk')
    .raw()
    .toBuffer();
  return oddPicture(`cmyk${profiled ? '-profile' : ''}.jpg`, bytes, (x, y) => {
    const at = 4 * (y * WIDTH + x);
    const [c = 0, m = 0, yellow = 0, k = 0] = raw.subarray(at, at + 4);
    return [...[c, m, yellow].map((one) => Math.round(((255 - one) * (255 - k)) / 255)), 255];
  });
}

/** All that decoders are known to read differently. */
export const oddPictures = async (): Promise<OddPicture[]> => [
  paletteBmp(1),
  paletteBmp(4),
  paletteBmp(8),
  gammaPng(1),
  gammaPng(0.3),
  gammaPng(0.45455),
  gammaPng(1, ['sRGB', Uint8Array.of(0)]),
  deepPng(1),
  deepPng(4),
  deepTiff(true),
  deepTiff(false),
  await cmykJpeg(false),
  await cmykJpeg(true),
];

/** How far values are apart in the mean. */
export function meanDifference(one: ArrayLike<number>, other: ArrayLike<number>): number {
  let sum = one.length === other.length ? 0 : Infinity;
  for (let i = 0; i < one.length; i += 1)
    sum += Math.abs((one[i] as number) - (other[i] as number));
  return sum / one.length;
}
