import type { Checkpoint } from '../../base/checkpoint.ts';
import { clamp } from '../../base/numbers.ts';
import type { RgbaRaster } from '../../base/raster.ts';
import { invertSymmetric } from './edge.ts';
import { widened } from './graph-cut.ts';

/** Smoothness within a window, for codes 0..1. */
const EPSILON = 1e-5;
/** Steps of conjugate gradients. */
const STEPS = 70;

/**
 * Closed-form matting: alpha is locally a linear function of the colour; the sum of what is left over is least.
 * Source: A. Levin, D. Lischinski, Y. Weiss, "A closed-form solution to natural image matting" (2008), equation 12 for windows of
 * 3 x 3; solved by conjugate gradients, with the matrix applied window by window.
 * @param alpha 0..255 where it is known; changed where it is not
 * @param unknown 1 where alpha is looked for
 * @throws Cancelled from the checkpoint
 */
export function solveMatte(
  { width, height, data }: RgbaRaster,
  alpha: Uint8Array,
  unknown: Uint8Array,
  checkpoint: Checkpoint,
): void {
  const touched = widened(unknown, width, height, 1);
  const windows: number[] = [];
  for (let y = 1; y < height - 1; y += 1)
    for (let x = 1; x < width - 1; x += 1)
      if (touched[y * width + x] === 1) windows.push(y * width + x);
  const around = [-width - 1, -width, 1 - width, -1, 0, 1, width - 1, width, width + 1];
  const code = (i: number, c: number): number => (data[4 * i + c] as number) / 255;
  const means = new Float32Array(3 * windows.length);
  const inverses = new Float32Array(6 * windows.length);
  const s = new Float64Array(6);
  windows.forEach((centre, w) => {
    const mean = [0, 0, 0];
    s.fill(0);
    for (const step of around)
      for (let c = 0; c < 3; c += 1) mean[c] = (mean[c] as number) + code(centre + step, c) / 9;
    const [m0 = 0, m1 = 0, m2 = 0] = mean;
    for (const step of around) {
      const i = centre + step;
      const [x, y, z] = [code(i, 0) - m0, code(i, 1) - m1, code(i, 2) - m2];
      [x * x, x * y, x * z, y * y, y * z, z * z].forEach((one, k) => {
        s[k] = (s[k] as number) + one / 9;
      });
    }
    for (const k of [0, 3, 5]) s[k] = (s[k] as number) + EPSILON / 9;
    means.set(mean, 3 * w);
    invertSymmetric(s, inverses, 6 * w);
  });

  /** The matting Laplacian times v. */
  const apply = (v: Float64Array, out: Float64Array): void => {
    out.fill(0);
    windows.forEach((centre, w) => {
      const [m0, m1, m2] = [
        means[3 * w] as number,
        means[3 * w + 1] as number,
        means[3 * w + 2] as number,
      ];
      let [mean, g0, g1, g2] = [0, 0, 0, 0];
      for (const step of around) {
        const i = centre + step;
        const one = v[i] as number;
        mean += one;
        g0 += one * (code(i, 0) - m0);
        g1 += one * (code(i, 1) - m1);
        g2 += one * (code(i, 2) - m2);
      }
      const q = 6 * w;
      const [a, b, c, d, e, f] = [
        inverses[q],
        inverses[q + 1],
        inverses[q + 2],
        inverses[q + 3],
        inverses[q + 4],
        inverses[q + 5],
      ] as [number, number, number, number, number, number];
      const t0 = (a * g0 + b * g1 + c * g2) / 9;
      const t1 = (b * g0 + d * g1 + e * g2) / 9;
      const t2 = (c * g0 + e * g1 + f * g2) / 9;
      for (const step of around) {
        const i = centre + step;
        out[i] =
          (out[i] as number) +
          (v[i] as number) -
          mean / 9 -
          (code(i, 0) - m0) * t0 -
          (code(i, 1) - m1) * t1 -
          (code(i, 2) - m2) * t2;
      }
    });
  };

  const free: number[] = [];
  for (let i = 0; i < unknown.length; i += 1) if (unknown[i] === 1) free.push(i);
  if (free.length === 0 || windows.length === 0) return;
  const v = Float64Array.from(alpha, (one) => one / 255);
  const product = new Float64Array(v.length);
  const direction = new Float64Array(v.length);
  apply(v, product);
  const residual = Float64Array.from(free, (i) => -(product[i] as number));
  let square = residual.reduce((sum, one) => sum + one * one, 0);
  free.forEach((i, k) => {
    direction[i] = residual[k] as number;
  });
  for (let step = 0; step < STEPS && square > 1e-9; step += 1) {
    checkpoint(step / STEPS);
    apply(direction, product);
    let along = 0;
    for (const i of free) along += (direction[i] as number) * (product[i] as number);
    if (!(along > 0)) break;
    const length = square / along;
    let next = 0;
    free.forEach((i, k) => {
      v[i] = (v[i] as number) + length * (direction[i] as number);
      const left = (residual[k] as number) - length * (product[i] as number);
      residual[k] = left;
      next += left * left;
    });
    free.forEach((i, k) => {
      direction[i] = (residual[k] as number) + (next / square) * (direction[i] as number);
    });
    square = next;
  }
  for (const i of free) alpha[i] = Math.round(255 * clamp(v[i] as number, 0, 1));
}
