import type { Checkpoint } from '../base/checkpoint.ts';
import { clamp } from '../base/numbers.ts';
import type { RgbaRaster } from '../base/raster.ts';
import { decodeSrgb, encodeSrgb } from '../colour/srgb.ts';
import type { ArtworkEdit, ColourMap, PixelKind } from './artwork-edit.ts';
import { hueMap, recolourMap } from './hue.ts';
import { greyMap, toneOf, whiteGains } from './light.ts';

/** Neighbouring edits of single pixels with the same selection: they are worked out as one. */
export type PixelEdit = ArtworkEdit<PixelKind>;

/** Does an edit treat each channel by itself? Then three tables of 256 say all of it. */
function isChannelEdit({ kind }: PixelEdit): boolean {
  return kind === 'tone' || kind === 'white';
}

/** What an edit does to a colour. @param median see `recolourMap` */
function mapOf(edit: PixelEdit, median: number): ColourMap {
  switch (edit.kind) {
    case 'tone': {
      const tone = toneOf(edit);
      return (codes) => {
        for (let i = 0; i < 3; i += 1) codes[i] = tone(codes[i] as number);
      };
    }
    case 'white': {
      const gains = whiteGains(edit);
      return (codes) => {
        for (let i = 0; i < 3; i += 1) {
          const linear = decodeSrgb(codes[i] as number) * (gains[i] as number);
          codes[i] = encodeSrgb(clamp(linear, 0, 1));
        }
      };
    }
    case 'grey':
      return greyMap;
    case 'hue':
      return hueMap(edit);
    case 'recolour':
      return recolourMap(edit, median);
  }
}

/** A run of edits as one change of a colour. */
export function mapOfRun(run: readonly PixelEdit[], median: number): ColourMap {
  const maps = run.map((edit) => mapOf(edit, median));
  return (codes) => {
    for (const map of maps) map(codes);
  };
}

/** Pixels between two looks at whether anybody still wants the result. */
const STRIP_PX = 1 << 20;

/** A code 0..1 as a byte, rounded once. */
function byteOf(code: number): number {
  return Math.round(clamp(code, 0, 1) * 255);
}

/**
 * Every 24-bit colour that a run has met, with what became of it: a picture of 16 megapixels has half a million colours. Bit 24
 * marks what is known. 64 MB, kept for the next run.
 */
let memo: Uint32Array | undefined;
const KNOWN = 1 << 24;

function emptyMemo(): Uint32Array {
  if (memo) memo.fill(0);
  else memo = new Uint32Array(1 << 24);
  return memo;
}

type Writer = (data: Uint8Array | Uint8ClampedArray, at: number) => number;

/** Three tables of 256 for edits that treat each channel by itself. */
function channelTables(map: ColourMap): Uint8Array {
  const tables = new Uint8Array(768);
  const codes = new Float64Array(3);
  for (let byte = 0; byte < 256; byte += 1) {
    codes.fill(byte / 255);
    map(codes);
    for (let c = 0; c < 3; c += 1) tables[256 * c + byte] = byteOf(codes[c] as number);
  }
  return tables;
}

function channelWriter(tables: Uint8Array): Writer {
  return (data, at) =>
    ((tables[data[at] as number] as number) << 16) |
    ((tables[256 + (data[at + 1] as number)] as number) << 8) |
    (tables[512 + (data[at + 2] as number)] as number);
}

/** Are the bytes of a number in the order of their places in memory? They are on all that this runs on, today. */
const LITTLE_ENDIAN = new Uint8Array(Uint32Array.of(1).buffer)[0] === 1;

/** {@link channelWriter} over a whole strip, four bytes at once. */
function writeChannels(pixels: Uint32Array, tables: Uint8Array, from: number, to: number): void {
  for (let i = from; i < to; i += 1) {
    const pixel = pixels[i] as number;
    pixels[i] =
      (tables[pixel & 255] as number) |
      ((tables[256 + ((pixel >>> 8) & 255)] as number) << 8) |
      ((tables[512 + ((pixel >>> 16) & 255)] as number) << 16) |
      (pixel & 0xff000000);
  }
}

/** Each colour of the picture is worked out once. */
function memoWriter(map: ColourMap): Writer {
  const known = emptyMemo();
  const codes = new Float64Array(3);
  return (data, at) => {
    const [r, g, b] = [data[at] as number, data[at + 1] as number, data[at + 2] as number];
    const key = (r << 16) | (g << 8) | b;
    const found = known[key] as number;
    if (found !== 0) return found;
    codes[0] = r / 255;
    codes[1] = g / 255;
    codes[2] = b / 255;
    map(codes);
    const packed = KNOWN | (byteOf(codes[0]) << 16) | (byteOf(codes[1]) << 8) | byteOf(codes[2]);
    known[key] = packed;
    return packed;
  };
}

/** Nodes of the look-up each way. */
const NODES = 33;

/**
 * A look-up of 33 nodes each way, read in six tetrahedra (J. M. Kasson, S. I. Nin, W. Plouffe, J. L. Hafner, "Performing color
 * space conversions with three-dimensional linear interpolation", 1995). For what is shown while a hand moves; never for files.
 */
function lookUpWriter(map: ColourMap): Writer {
  const table = new Float32Array(3 * NODES ** 3).fill(Number.NaN);
  const codes = new Float64Array(3);
  /** Works a node out when it is first asked for: a picture touches a small part of them. */
  const ready = (at: number): void => {
    if (!Number.isNaN(table[at])) return;
    const node = at / 3;
    codes[0] = Math.floor(node / (NODES * NODES)) / (NODES - 1);
    codes[1] = (Math.floor(node / NODES) % NODES) / (NODES - 1);
    codes[2] = (node % NODES) / (NODES - 1);
    map(codes);
    for (let c = 0; c < 3; c += 1) table[at + c] = 255 * clamp(codes[c] as number, 0, 1);
  };
  const [stepR, stepG, stepB] = [3 * NODES * NODES, 3 * NODES, 3];
  return (data, pixel) => {
    const x = ((data[pixel] as number) * (NODES - 1)) / 255;
    const y = ((data[pixel + 1] as number) * (NODES - 1)) / 255;
    const z = ((data[pixel + 2] as number) * (NODES - 1)) / 255;
    const [i, j, k] = [
      Math.min(NODES - 2, Math.floor(x)),
      Math.min(NODES - 2, Math.floor(y)),
      Math.min(NODES - 2, Math.floor(z)),
    ];
    const [fx, fy, fz] = [x - i, y - j, z - k];
    const corner = i * stepR + j * stepG + k * stepB;
    const far = corner + stepR + stepG + stepB;
    // From the near corner to the far one along the axes, the greatest share first.
    let one: number;
    let two: number;
    let [a, b, c] = [fx, fy, fz];
    if (fx >= fy && fy >= fz) [one, two] = [corner + stepR, corner + stepR + stepG];
    else if (fx >= fz && fz >= fy) {
      [one, two] = [corner + stepR, corner + stepR + stepB];
      [a, b, c] = [fx, fz, fy];
    } else if (fz >= fx && fx >= fy) {
      [one, two] = [corner + stepB, corner + stepB + stepR];
      [a, b, c] = [fz, fx, fy];
    } else if (fy >= fx && fx >= fz) {
      [one, two] = [corner + stepG, corner + stepG + stepR];
      [a, b, c] = [fy, fx, fz];
    } else if (fy >= fz && fz >= fx) {
      [one, two] = [corner + stepG, corner + stepG + stepB];
      [a, b, c] = [fy, fz, fx];
    } else {
      [one, two] = [corner + stepB, corner + stepB + stepG];
      [a, b, c] = [fz, fy, fx];
    }
    ready(corner);
    ready(one);
    ready(two);
    ready(far);
    let packed = 0;
    for (let channel = 0; channel < 3; channel += 1) {
      const value =
        (1 - a) * (table[corner + channel] as number) +
        (a - b) * (table[one + channel] as number) +
        (b - c) * (table[two + channel] as number) +
        c * (table[far + channel] as number);
      packed = (packed << 8) | Math.round(value);
    }
    return packed;
  };
}

/**
 * Applies a run of edits to a picture, in place.
 * @param mask how much each pixel takes of it, 0..255; undefined for all of it: `out = in + (edit - in) mask / 255`
 * @param quick by a look-up, for what is shown while a hand moves
 * @param median see `recolourMap`
 * @throws Cancelled from the checkpoint
 */
export function applyRun(
  { data, width, height }: RgbaRaster,
  run: readonly PixelEdit[],
  mask: Uint8Array | undefined,
  quick: boolean,
  median: number,
  checkpoint: Checkpoint,
): void {
  const map = mapOfRun(run, median);
  const tables = run.every(isChannelEdit) ? channelTables(map) : undefined;
  const whole =
    tables && LITTLE_ENDIAN && data.byteOffset % 4 === 0
      ? new Uint32Array(data.buffer, data.byteOffset, width * height)
      : undefined;
  const writer = tables ? channelWriter(tables) : quick ? lookUpWriter(map) : memoWriter(map);
  const pixels = width * height;
  for (let from = 0; from < pixels; from += STRIP_PX) {
    checkpoint(from / pixels);
    const to = Math.min(pixels, from + STRIP_PX);
    if (mask) blendStrip(data, writer, mask, from, to);
    else if (whole && tables) writeChannels(whole, tables, from, to);
    else
      for (let i = from, at = 4 * from; i < to; i += 1, at += 4) {
        const packed = writer(data, at);
        data[at] = (packed >> 16) & 255;
        data[at + 1] = (packed >> 8) & 255;
        data[at + 2] = packed & 255;
      }
  }
}

function blendStrip(
  data: Uint8Array | Uint8ClampedArray,
  writer: Writer,
  mask: Uint8Array,
  from: number,
  to: number,
): void {
  for (let i = from, at = 4 * from; i < to; i += 1, at += 4) {
    const share = mask[i] as number;
    if (share === 0) continue;
    const packed = writer(data, at);
    for (let c = 0; c < 3; c += 1) {
      const old = data[at + c] as number;
      const edited = (packed >> (16 - 8 * c)) & 255;
      data[at + c] = Math.round(old + ((edited - old) * share) / 255);
    }
  }
}
