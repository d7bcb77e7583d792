import type { Checkpoint } from '../base/checkpoint.ts';
import { clamp } from '../base/numbers.ts';
import type { RgbaRaster } from '../base/raster.ts';

/** Rows of a strip hold about this many pixels: a picture of 40 megapixels needs no floats of its whole size. */
const STRIP_PX = 1 << 20;

/** Means over squares of side 2 r + 1, smaller at the borders, by running sums. */
export function boxMeans(
  from: Float32Array,
  width: number,
  height: number,
  r: number,
  to: Float32Array = new Float32Array(from.length),
): Float32Array {
  const rows = new Float32Array(from.length);
  for (let y = 0; y < height; y += 1) {
    const row = y * width;
    let sum = 0;
    for (let x = 0; x < Math.min(r, width); x += 1) sum += from[row + x] as number;
    for (let x = 0; x < width; x += 1) {
      if (x + r < width) sum += from[row + x + r] as number;
      if (x - r - 1 >= 0) sum -= from[row + x - r - 1] as number;
      rows[row + x] = sum / (Math.min(width - 1, x + r) - Math.max(0, x - r) + 1);
    }
  }
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(r, height); y += 1)
    for (let x = 0; x < width; x += 1)
      sums[x] = (sums[x] as number) + (rows[y * width + x] as number);
  for (let y = 0; y < height; y += 1) {
    const count = Math.min(height - 1, y + r) - Math.max(0, y - r) + 1;
    for (let x = 0; x < width; x += 1) {
      let sum = sums[x] as number;
      if (y + r < height) sum += rows[(y + r) * width + x] as number;
      if (y - r - 1 >= 0) sum -= rows[(y - r - 1) * width + x] as number;
      sums[x] = sum;
      to[y * width + x] = sum / count;
    }
  }
  return to;
}

/**
 * Works one channel of a strip out: codes 0..1 in, codes out, over `width` columns.
 * @param cover how much of each pixel is there, 0..1; undefined where all of them are whole. Colours hide under see-through pixels
 * that nobody ever sees, so what is not there has no say (Porter and Duff 1984: filters work on colours times their cover)
 */
type PlaneFilter = (
  plane: Float32Array,
  width: number,
  height: number,
  cover: Float32Array | undefined,
) => Float32Array;

/** Means of a plane by a filter of means, with each pixel counting as much as it is there; 0 where nothing is. */
function coveredMeans(
  plane: Float32Array,
  cover: Float32Array | undefined,
  means: (values: Float32Array) => Float32Array,
): Float32Array {
  if (!cover) return means(plane);
  const sums = means(plane.map((value, i) => value * (cover[i] as number)));
  const shares = means(cover);
  return sums.map((sum, i) => ((shares[i] as number) > 1e-6 ? sum / (shares[i] as number) : 0));
}

/**
 * Runs a filter over each channel of a picture in strips, with an apron of rows around each.
 * @param mask how much each pixel takes of it, 0..255
 */
function filterPlanes(
  raster: RgbaRaster,
  apron: number,
  filter: PlaneFilter,
  mask: Uint8Array | undefined,
  checkpoint: Checkpoint,
): RgbaRaster {
  const { width, height, data } = raster;
  const out = new Uint8ClampedArray(data);
  const rows = Math.max(1, Math.floor(STRIP_PX / width));
  for (let top = 0; top < height; top += rows) {
    checkpoint(top / height);
    const bottom = Math.min(height, top + rows);
    const [from, to] = [Math.max(0, top - apron), Math.min(height, bottom + apron)];
    const cover = coverOf(data, from * width, to * width);
    for (let c = 0; c < 3; c += 1) {
      const plane = new Float32Array(width * (to - from));
      for (let i = 0, at = 4 * from * width + c; i < plane.length; i += 1, at += 4)
        plane[i] = (data[at] as number) / 255;
      const done = filter(plane, width, to - from, cover);
      for (
        let i = (top - from) * width, pixel = top * width;
        pixel < bottom * width;
        i += 1, pixel += 1
      ) {
        const old = data[4 * pixel + c] as number;
        const share = mask ? (mask[pixel] as number) / 255 : 1;
        out[4 * pixel + c] = Math.round(old + (255 * clamp(done[i] as number, 0, 1) - old) * share);
      }
    }
  }
  return { width, height, data: out };
}

/** How much of each pixel is there, 0..1; undefined where all of them are whole. */
function coverOf(data: ArrayLike<number>, from: number, to: number): Float32Array | undefined {
  const cover = new Float32Array(to - from);
  let whole = true;
  for (let i = from; i < to; i += 1) {
    const alpha = data[4 * i + 3] as number;
    cover[i - from] = alpha / 255;
    if (alpha < 255) whole = false;
  }
  return whole ? undefined : cover;
}

/** Radius of the filter against noise, pixels. */
const DENOISE_RADIUS = 3;

/**
 * Takes noise away and keeps edges: each channel guided by itself.
 * Source: K. He, J. Sun, X. Tang, "Guided image filtering" (2013), equations 5 to 8, with I = p.
 * @param strength 0..1; variance that counts as noise is (strength / 8)^2 of the codes
 * @param scale pixels of this picture for one at full size
 */
export function denoise(
  raster: RgbaRaster,
  strength: number,
  scale: number,
  mask: Uint8Array | undefined,
  checkpoint: Checkpoint,
): RgbaRaster {
  const epsilon = (strength / 8) ** 2;
  const r = Math.max(1, Math.round(DENOISE_RADIUS * scale));
  if (epsilon === 0) return raster;
  const filter: PlaneFilter = (plane, width, height, cover) => {
    const means = (values: Float32Array): Float32Array =>
      coveredMeans(values, cover, (one) => boxMeans(one, width, height, r));
    const mean = means(plane);
    const square = means(plane.map((v) => v * v));
    const slope = square;
    const offset = new Float32Array(plane.length);
    for (let i = 0; i < plane.length; i += 1) {
      const m = mean[i] as number;
      const variance = Math.max(0, (square[i] as number) - m * m);
      const a = variance / (variance + epsilon);
      slope[i] = a;
      offset[i] = m * (1 - a);
    }
    const a = means(slope);
    const b = means(offset);
    return plane.map((v, i) => (a[i] as number) * v + (b[i] as number));
  };
  return filterPlanes(raster, 2 * r, filter, mask, checkpoint);
}

/** A Gaussian of standard deviation `sigma`, cut off at three of them, along rows and columns. */
export function gaussian(
  plane: Float32Array,
  width: number,
  height: number,
  sigma: number,
): Float32Array {
  const reach = Math.max(1, Math.ceil(3 * sigma));
  const kernel = Float64Array.from({ length: 2 * reach + 1 }, (_, i) =>
    Math.exp(-((i - reach) ** 2) / (2 * sigma * sigma)),
  );
  const all = kernel.reduce((sum, one) => sum + one, 0);
  const rows = new Float32Array(plane.length);
  const out = new Float32Array(plane.length);
  // A row with its ends repeated, so that no tap has to ask where it is.
  const row = new Float32Array(width + 2 * reach);
  for (let y = 0; y < height; y += 1) {
    const from = y * width;
    row.fill(plane[from] as number, 0, reach);
    row.set(plane.subarray(from, from + width), reach);
    row.fill(plane[from + width - 1] as number, reach + width);
    for (let x = 0; x < width; x += 1) {
      let sum = 0;
      for (let k = 0; k < kernel.length; k += 1)
        sum += (kernel[k] as number) * (row[x + k] as number);
      rows[from + x] = sum / all;
    }
  }
  for (let y = 0; y < height; y += 1)
    for (let k = -reach; k <= reach; k += 1) {
      const row = clamp(y + k, 0, height - 1) * width;
      const weight = (kernel[k + reach] as number) / all;
      for (let x = 0; x < width; x += 1)
        out[y * width + x] = (out[y * width + x] as number) + weight * (rows[row + x] as number);
    }
  return out;
}

/** How far a sharpened code may go beyond the codes around it: halos become ridges in a relief. */
const OVERSHOOT = 0.04;

/**
 * Unsharp masking: `out = in + amount (in - blurred)`, held within the range of the neighbours and a little more, so that no
 * halo stands up along an edge. Common practice, no source.
 * @param radius standard deviation of the blur, pixels at full size
 */
export function sharpen(
  raster: RgbaRaster,
  amount: number,
  radius: number,
  scale: number,
  mask: Uint8Array | undefined,
  checkpoint: Checkpoint,
): RgbaRaster {
  const sigma = radius * scale;
  if (amount === 0 || sigma < 0.2) return raster;
  const filter: PlaneFilter = (plane, width, height, cover) => {
    const blurred = coveredMeans(plane, cover, (one) => gaussian(one, width, height, sigma));
    const out = new Float32Array(plane.length);
    for (let y = 0, i = 0; y < height; y += 1)
      for (let x = 0; x < width; x += 1, i += 1) {
        const v = plane[i] as number;
        const seen = (is: boolean, at: number): number =>
          is && (!cover || (cover[at] as number) > 0) ? (plane[at] as number) : v;
        const left = seen(x > 0, i - 1);
        const right = seen(x + 1 < width, i + 1);
        const up = seen(y > 0, i - width);
        const down = seen(y + 1 < height, i + width);
        const low = Math.min(v, left, right, up, down) - OVERSHOOT;
        const high = Math.max(v, left, right, up, down) + OVERSHOOT;
        const sharp = v + amount * (v - (blurred[i] as number));
        out[i] = sharp < low ? low : sharp > high ? high : sharp;
      }
    return out;
  };
  return filterPlanes(raster, Math.ceil(3 * sigma) + 1, filter, mask, checkpoint);
}
