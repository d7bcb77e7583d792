import type { HeightMap, RgbaRaster } from '../base/raster.ts';
import { MAX_LAYERS } from '../base/raster.ts';
import type { Triple } from '../colour/srgb.ts';
import type { Ramp } from '../optics/ramp.ts';

/** How many samples end at each height: element 0 counts what is cut away, element n the samples n layers tall. */
export function countHeights(heights: HeightMap): Uint32Array {
  const counts = new Uint32Array(MAX_LAYERS + 1);
  for (const layers of heights.data) counts[layers] = (counts[layers] as number) + 1;
  return counts;
}

/**
 * Length of all outlines in sides of a sample: element n counts the sides between a sample that layer n is printed at and
 * one that it is not, the rim of the picture among them.
 */
export function countEdges({ width, height, data }: HeightMap): Uint32Array {
  // Steps up and down are noted where they begin and end, and added up in the end.
  const steps = new Int32Array(MAX_LAYERS + 2);
  const note = (one: number, other: number): void => {
    if (one === other) return;
    const low = Math.min(one, other) + 1;
    const high = Math.max(one, other) + 1;
    steps[low] = (steps[low] as number) + 1;
    steps[high] = (steps[high] as number) - 1;
  };
  for (let y = 0; y < height; y += 1) {
    let before = 0;
    for (let x = 0; x < width; x += 1) {
      const here = data[y * width + x] as number;
      note(before, here);
      note(y > 0 ? (data[(y - 1) * width + x] as number) : 0, here);
      if (y === height - 1) note(here, 0);
      before = here;
    }
    note(before, 0);
  }
  const edges = new Uint32Array(MAX_LAYERS + 1);
  let sum = 0;
  for (let n = 1; n <= MAX_LAYERS; n += 1) {
    sum += steps[n] as number;
    edges[n] = sum;
  }
  return edges;
}

/**
 * Middles of layers: element n - 1 is that of the samples which layer n is printed at, in samples to the right and to the back of
 * the middle of what is printed. The first row is the one at the back. Empty where nothing is printed.
 */
export function middlesOf(heights: HeightMap): (readonly [number, number])[] {
  const part = printedPart(heights);
  if (!part) return [];
  const counts = new Float64Array(MAX_LAYERS + 1);
  const across = new Float64Array(MAX_LAYERS + 1);
  const down = new Float64Array(MAX_LAYERS + 1);
  const { width, height, data } = heights;
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const layers = data[y * width + x] as number;
      counts[layers] = (counts[layers] as number) + 1;
      across[layers] = (across[layers] as number) + x;
      down[layers] = (down[layers] as number) + y;
    }
  const middleX = part.left + part.columns / 2 - 0.5;
  const middleY = part.top + part.rows / 2 - 0.5;
  const middles: (readonly [number, number])[] = [];
  let count = 0;
  let sumX = 0;
  let sumY = 0;
  for (let n = MAX_LAYERS; n >= 1; n -= 1) {
    count += counts[n] as number;
    sumX += across[n] as number;
    sumY += down[n] as number;
    if (count > 0) middles[n - 1] = [sumX / count - middleX, middleY - sumY / count];
  }
  return middles;
}

/** Packed colours, one for each byte a height can be. Alpha, blue, green, red from the top byte: canvas order on little-endian machines. */
export type Palette = Uint32Array;

/** An opaque colour of sRGB bytes as a {@link Palette} holds it. */
export function packColour([red, green, blue]: Triple): number {
  return ((255 << 24) | (blue << 16) | (green << 8) | red) >>> 0;
}

/**
 * Colour of each height: 0 is fully transparent, and heights above the stack show its top (a picture whose heights are
 * just being recomputed stays sensible for that moment).
 */
export function paletteOf(ramp: Ramp): Palette {
  const palette = new Uint32Array(256);
  for (let layers = 1; layers < 256; layers += 1) {
    const step = ramp[Math.min(layers, ramp.length) - 1];
    if (!step) continue;
    palette[layers] = packColour(step.colour);
  }
  return palette;
}

/** Paints a height map through a palette into `out` (one packed colour a sample). */
export function recolour(heights: Uint8Array, palette: Palette, out: Uint32Array): void {
  for (let i = 0; i < heights.length; i += 1) out[i] = palette[heights[i] as number] as number;
}

/** The predicted print, one pixel a sample; transparent where nothing is printed. */
export function paintPrint(heights: HeightMap, ramp: Ramp): RgbaRaster {
  const packed = new Uint32Array(heights.data.length);
  recolour(heights.data, paletteOf(ramp), packed);
  return { width: heights.width, height: heights.height, data: new Uint8Array(packed.buffer) };
}

/** Heights with at most so many samples: every nearest one is taken, none is made up. */
export function thinHeights(heights: HeightMap, mostSamples: number): HeightMap {
  const factor = Math.sqrt(mostSamples / (heights.width * heights.height));
  if (factor >= 1) return heights;
  const width = Math.max(1, Math.floor(heights.width * factor));
  const height = Math.max(1, Math.floor(heights.height * factor));
  const data = new Uint8Array(width * height);
  for (let y = 0; y < height; y += 1) {
    const row = Math.floor(((y + 0.5) * heights.height) / height) * heights.width;
    for (let x = 0; x < width; x += 1)
      data[y * width + x] = heights.data[
        row + Math.floor(((x + 0.5) * heights.width) / width)
      ] as number;
  }
  return { width, height, data };
}

/** The smallest rectangle that holds everything printed, in samples; undefined where nothing is. */
export function printedPart({ width, height, data }: HeightMap):
  | {
      readonly left: number;
      readonly top: number;
      readonly columns: number;
      readonly rows: number;
    }
  | undefined {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      if (data[y * width + x] === 0) continue;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = y;
    }
  return right < 0 ? undefined : { left, top, columns: right - left + 1, rows: bottom - top + 1 };
}

/** Heights without the empty rows and columns around them; a map in which nothing is printed comes back as it is. */
export function cropHeights(heights: HeightMap): HeightMap {
  const part = printedPart(heights);
  if (!part) return heights;
  const { left, top, columns, rows } = part;
  const { width, data } = heights;
  const out = new Uint8Array(columns * rows);
  for (let y = 0; y < rows; y += 1) {
    const from = (y + top) * width + left;
    out.set(data.subarray(from, from + columns), y * columns);
  }
  return { width: columns, height: rows, data: out };
}
