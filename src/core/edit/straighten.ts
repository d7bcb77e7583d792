import type { RgbaRaster } from '../base/raster.ts';
import { smallCopy } from './cutout/cut-out.ts';
import { lumaOf } from '../colour/luma.ts';

/** Largest angle that is looked for, degrees, and width of a bin. */
const WIDEST = 12;
const BIN = 0.05;
/** Trust from which on a straightening is offered: lettering has 16 and more, a landscape 1.2. */
export const TRUST = 3;
/** Pixels of the copy that is looked at. */
const LOOKED_AT_PX = 1_000_000;

/** By how much a picture hangs. */
export interface Slant {
  /** The turn that sets it straight, degrees clockwise. */
  readonly degrees: number;
  /** Peak over median of the directions; from {@link TRUST} on it is sure. */
  readonly trust: number;
}

/**
 * Measures how far the straight edges of a picture are from upright: directions of its gradients modulo 90 degrees, weighted
 * by their strength, in bins of 0.05 degrees, smoothed over 0.2.
 */
export function measureSlant(raster: RgbaRaster): Slant {
  const { width, height, data } = smallCopy(raster, LOOKED_AT_PX);
  const luma = Float32Array.from({ length: width * height }, (_, i) => lumaOf(data, 4 * i));
  const count = Math.round((2 * WIDEST) / BIN) + 1;
  const bins = new Float64Array(count);
  for (let y = 1; y < height - 1; y += 1)
    for (let x = 1; x < width - 1; x += 1) {
      const i = y * width + x;
      const at = (dx: number, dy: number): number => luma[i + dy * width + dx] as number;
      const gx = at(1, -1) + 2 * at(1, 0) + at(1, 1) - at(-1, -1) - 2 * at(-1, 0) - at(-1, 1);
      const gy = at(-1, 1) + 2 * at(0, 1) + at(1, 1) - at(-1, -1) - 2 * at(0, -1) - at(1, -1);
      const strength = Math.hypot(gx, gy);
      if (strength < 40) continue;
      const degrees = (Math.atan2(gy, gx) * 180) / Math.PI;
      const off = degrees - 90 * Math.round(degrees / 90);
      if (Math.abs(off) > WIDEST) continue;
      const bin = Math.round((off + WIDEST) / BIN);
      // Whole pixels favour exactly upright: the very middle says nothing of a turned picture.
      bins[bin] = (bins[bin] as number) + strength;
    }
  const reach = 4;
  const smooth = Float64Array.from(bins, (_, i) => {
    let [sum, all] = [0, 0];
    for (let k = -reach; k <= reach; k += 1) {
      const one = bins[i + k];
      if (one === undefined) continue;
      const weight = reach + 1 - Math.abs(k);
      sum += weight * one;
      all += weight;
    }
    return sum / all;
  });
  let best = Math.round(WIDEST / BIN);
  smooth.forEach((one, i) => {
    if (one > (smooth[best] as number)) best = i;
  });
  const median = [...smooth].sort((a, b) => a - b)[Math.floor(count / 2)] as number;
  const peak = smooth[best] as number;
  return {
    degrees: Math.round(100 * (WIDEST - best * BIN)) / 100,
    trust: median > 0 ? peak / median : peak > 0 ? 1000 : 0,
  };
}
