import { readFileSync } from 'node:fs';
import type { RgbaRaster } from '#core/base/raster.ts';
import { decodePicture } from '../../src/platform/node/decode-picture.ts';
import { fixture } from './pictures.ts';

/** A picture put together of two, with the alpha that it was put together with. */
export interface Scene {
  readonly raster: RgbaRaster;
  readonly alpha: Uint8Array;
}

export async function picture(name: string): Promise<RgbaRaster> {
  const decoded = await decodePicture(readFileSync(fixture(name)));
  if (!decoded.ok) throw new Error(name);
  return decoded.value;
}

/** A raster made pixel by pixel. */
export function rasterOf(
  width: number,
  height: number,
  at: (x: number, y: number) => readonly number[],
): RgbaRaster {
  const data = new Uint8ClampedArray(4 * width * height);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const [r = 0, g = 0, b = 0, a = 255] = at(x, y);
      data.set([r, g, b, a], 4 * (y * width + x));
    }
  return { width, height, data };
}

/** Means over areas, alpha kept; written apart from the product's own sampling. */
export function shrink(source: RgbaRaster, width: number, height: number): RgbaRaster {
  return rasterOf(width, height, (x, y) => {
    const sums = [0, 0, 0, 0];
    const x0 = Math.floor((x * source.width) / width);
    const x1 = Math.max(x0 + 1, Math.floor(((x + 1) * source.width) / width));
    const y0 = Math.floor((y * source.height) / height);
    const y1 = Math.max(y0 + 1, Math.floor(((y + 1) * source.height) / height));
    for (let py = y0; py < y1; py += 1)
      for (let px = x0; px < x1; px += 1) {
        const at = 4 * (py * source.width + px);
        const alpha = source.data[at + 3] ?? 0;
        for (let c = 0; c < 3; c += 1)
          sums[c] = (sums[c] ?? 0) + (source.data[at + c] ?? 0) * alpha;
        sums[3] = (sums[3] ?? 0) + alpha;
      }
    const all = sums[3] ?? 0;
    const count = (x1 - x0) * (y1 - y0);
    return [...sums.slice(0, 3).map((sum) => (all > 0 ? sum / all : 0)), all / count];
  });
}

const linear = (code: number): number =>
  code <= 10.31475 ? code / 255 / 12.92 : ((code / 255 + 0.055) / 1.055) ** 2.4;
const code = (light: number): number =>
  255 * (light <= 0.0031308 ? 12.92 * light : 1.055 * light ** (1 / 2.4) - 0.055);

/** Puts a cut-out over a background, in linear light, in the middle and `share` of its height tall. */
export function compose(
  cut: RgbaRaster,
  ground: (x: number, y: number) => readonly number[],
  width: number,
  height: number,
  share: number,
): Scene {
  const factor = Math.min((share * height) / cut.height, (share * width) / cut.width);
  const small = shrink(cut, Math.round(cut.width * factor), Math.round(cut.height * factor));
  const left = Math.round((width - small.width) / 2);
  const top = Math.round((height - small.height) / 2);
  const alpha = new Uint8Array(width * height);
  const raster = rasterOf(width, height, (x, y) => {
    const [sx, sy] = [x - left, y - top];
    const within = sx >= 0 && sy >= 0 && sx < small.width && sy < small.height;
    const at = 4 * (sy * small.width + sx);
    const a = within ? (small.data[at + 3] ?? 0) / 255 : 0;
    alpha[y * width + x] = Math.round(255 * a);
    const back = ground(x, y);
    return [0, 1, 2].map((c) =>
      code(a * linear(within ? (small.data[at + c] ?? 0) : 0) + (1 - a) * linear(back[c] ?? 0)),
    );
  });
  return { raster, alpha };
}

/** The box around what a scene's alpha covers, a little larger. */
export function boxAround({ raster: { width, height }, alpha }: Scene, marginPx: number) {
  let [left, top, right, bottom] = [width, height, 0, 0];
  alpha.forEach((one, i) => {
    if (one < 128) return;
    left = Math.min(left, i % width);
    right = Math.max(right, i % width);
    top = Math.min(top, Math.floor(i / width));
    bottom = Math.max(bottom, Math.floor(i / width));
  });
  return {
    left: Math.max(0, left - marginPx),
    top: Math.max(0, top - marginPx),
    width: right - left + 2 * marginPx,
    height: bottom - top + 2 * marginPx,
  };
}

/** Intersection over union of two alphas cut at one half. */
export function overlap(truth: Uint8Array, found: RgbaRaster): number {
  let [both, either] = [0, 0];
  truth.forEach((one, i) => {
    const [a, b] = [one >= 128, (found.data[4 * i + 3] ?? 0) >= 128];
    if (a && b) both += 1;
    if (a || b) either += 1;
  });
  return both / Math.max(1, either);
}

/** Mean error of alpha, 0..1, within 4 px of where the truth is neither 0 nor 255. */
export function alphaError(truth: Uint8Array, found: RgbaRaster): number {
  const { width, height } = found;
  const band = new Set<number>();
  truth.forEach((one, i) => {
    if (one === 0 || one === 255) return;
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let py = Math.max(0, y - 4); py <= Math.min(height - 1, y + 4); py += 1)
      for (let px = Math.max(0, x - 4); px <= Math.min(width - 1, x + 4); px += 1)
        band.add(py * width + px);
  });
  let sum = 0;
  for (const i of band) sum += Math.abs((truth[i] ?? 0) - (found.data[4 * i + 3] ?? 0)) / 255;
  return sum / Math.max(1, band.size);
}
