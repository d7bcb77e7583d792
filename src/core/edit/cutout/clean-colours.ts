import type { Checkpoint } from '../../base/checkpoint.ts';
import { clamp } from '../../base/numbers.ts';
import type { RgbaRaster } from '../../base/raster.ts';
import { encodeSrgb, LINEAR_OF_BYTE } from '../../colour/srgb.ts';

/** Largest level that is worked out as a whole; what is finer follows from it pixel by pixel. */
const LEVEL_PX = 250_000;
/** Weights and rounds as usual for this method; from memory. */
const STILL = 1e-5;
const SMALL_PX = 32;

interface Level {
  readonly width: number;
  readonly height: number;
  /** Linear light of foreground and background, three numbers a pixel each. */
  readonly fore: Float32Array;
  readonly back: Float32Array;
}

/**
 * Takes the background's share out of the colours of half-covered pixels, in linear light: foreground and background are
 * estimated from coarse to fine.
 * Source: T. Germer, T. Uelwer, S. Conrad, S. Harmeling, "Fast multi-level foreground estimation" (2020), equations 3 to 5.
 * @param raster changed in place where alpha lies between 0 and 255
 */
export function cleanColours(raster: RgbaRaster, alpha: Uint8Array, checkpoint: Checkpoint): void {
  const { width, height, data } = raster;
  if (!alpha.some((one) => one > 0 && one < 255)) return;
  const levels = Math.ceil(Math.log2(Math.max(width, height)));
  let present: Level | undefined;
  for (let n = 0; n <= levels; n += 1) {
    checkpoint(n / (levels + 1));
    const w = Math.max(1, Math.round(width ** (n / levels)));
    const h = Math.max(1, Math.round(height ** (n / levels)));
    if (w * h > LEVEL_PX) break;
    present = solveLevel(raster, alpha, w, h, present);
  }
  if (!present) return;
  const { fore, back, width: w, height: h } = present;
  for (let i = 0; i < alpha.length; i += 1) {
    const a = (alpha[i] as number) / 255;
    if (a === 0 || a === 1) continue;
    const from =
      3 *
      (Math.floor((Math.floor(i / width) * h) / height) * w +
        Math.floor(((i % width) * w) / width));
    for (let c = 0; c < 3; c += 1) {
      const own = LINEAR_OF_BYTE[data[4 * i + c] as number] as number;
      // The coarse colours, moved as little as possible until their mix is what is seen.
      const missing = own - a * (fore[from + c] as number) - (1 - a) * (back[from + c] as number);
      const colour = (fore[from + c] as number) + (missing * a) / (a * a + (1 - a) * (1 - a));
      data[4 * i + c] = Math.round(255 * encodeSrgb(clamp(colour, 0, 1)));
    }
  }
}

function solveLevel(
  { width, height, data }: RgbaRaster,
  alpha: Uint8Array,
  w: number,
  h: number,
  coarse: Level | undefined,
): Level {
  const area = w * h;
  const fore = new Float32Array(3 * area);
  const back = new Float32Array(3 * area);
  const colours = new Float32Array(3 * area);
  const cover = new Float32Array(area);
  for (let y = 0; y < h; y += 1)
    for (let x = 0; x < w; x += 1) {
      const i = y * w + x;
      const source =
        Math.floor(((y + 0.5) * height) / h) * width + Math.floor(((x + 0.5) * width) / w);
      cover[i] = (alpha[source] as number) / 255;
      const from = coarse
        ? 3 *
          (Math.floor((y * coarse.height) / h) * coarse.width + Math.floor((x * coarse.width) / w))
        : -1;
      for (let c = 0; c < 3; c += 1) {
        const colour = LINEAR_OF_BYTE[data[4 * source + c] as number] as number;
        colours[3 * i + c] = colour;
        fore[3 * i + c] = coarse ? (coarse.fore[from + c] as number) : colour;
        back[3 * i + c] = coarse ? (coarse.back[from + c] as number) : colour;
      }
    }
  const rounds = Math.max(w, h) <= SMALL_PX ? 10 : 2;
  const sums = new Float64Array(6);
  const near = new Int32Array(4);
  for (let round = 0; round < rounds; round += 1)
    for (let i = 0; i < area; i += 1) {
      const a = cover[i] as number;
      const x = i % w;
      near[0] = x > 0 ? i - 1 : -1;
      near[1] = x + 1 < w ? i + 1 : -1;
      near[2] = i - w;
      near[3] = i + w < area ? i + w : -1;
      let weight = 0;
      sums.fill(0);
      for (let n = 0; n < 4; n += 1) {
        const k = near[n] as number;
        if (k < 0) continue;
        const own = STILL + Math.abs(a - (cover[k] as number));
        weight += own;
        for (let c = 0; c < 3; c += 1) {
          sums[c] = (sums[c] as number) + own * (fore[3 * k + c] as number);
          sums[c + 3] = (sums[c + 3] as number) + own * (back[3 * k + c] as number);
        }
      }
      const b = 1 - a;
      const [p, q, r] = [a * a + weight, a * b, b * b + weight];
      const det = p * r - q * q;
      if (!(det > 0)) continue;
      for (let c = 0; c < 3; c += 1) {
        const own = colours[3 * i + c] as number;
        const [f, g] = [a * own + (sums[c] as number), b * own + (sums[c + 3] as number)];
        fore[3 * i + c] = clamp((r * f - q * g) / det, 0, 1);
        back[3 * i + c] = clamp((p * g - q * f) / det, 0, 1);
      }
    }
  return { width: w, height: h, fore, back };
}
