import type { RgbaRaster } from '../base/raster.ts';
import { LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { clamp } from '../base/numbers.ts';

/**
 * Colours in the rule scale: Oklab (Ottosson 2020) x 100 with a and b doubled. Cube roots come out of a table of 4096 steps,
 * read between two of them: within 0.03 of the scale.
 */
const ROOT_STEPS = 4096;
const ROOTS = Float32Array.from({ length: ROOT_STEPS + 2 }, (_, i) => Math.cbrt(i / ROOT_STEPS));
const LINEAR = Float32Array.from(LINEAR_OF_BYTE);

function root(linear: number): number {
  // Near black the root is too steep for the table.
  if (linear < 0.004) return Math.cbrt(linear);
  const at = linear * ROOT_STEPS;
  const i = at | 0;
  const low = ROOTS[i] as number;
  return low + (at - i) * ((ROOTS[i + 1] as number) - low);
}

/** Writes three bytes in the rule scale. */
export function writeRuleScale(
  red: number,
  green: number,
  blue: number,
  out: Float32Array | Float64Array,
  at = 0,
): void {
  const r = LINEAR[red] as number;
  const g = LINEAR[green] as number;
  const b = LINEAR[blue] as number;
  const l = root(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = root(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = root(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  out[at] = 100 * (0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s);
  out[at + 1] = 200 * (1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s);
  out[at + 2] = 200 * (0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s);
}

/** A picture in the rule scale, three numbers a pixel. */
export function ruleScaleOf({ data, width, height }: RgbaRaster): Float32Array {
  const out = new Float32Array(3 * width * height);
  for (let i = 0, at = 0; at < out.length; i += 4, at += 3)
    writeRuleScale(data[i] as number, data[i + 1] as number, data[i + 2] as number, out, at);
  return out;
}

/** Pixels of the largest picture that is kept in the rule scale: what a hand tries tolerances on. */
const KEPT_PX = 2_000_000;
const kept = new WeakMap<RgbaRaster, Float32Array>();

/** A picture in the rule scale; of a smaller one it is worked out once, so its pixels must not change any more. */
export function keptScaleOf(raster: RgbaRaster): Float32Array {
  if (raster.width * raster.height > KEPT_PX) return ruleScaleOf(raster);
  const known = kept.get(raster) ?? ruleScaleOf(raster);
  kept.set(raster, known);
  return known;
}

/** Greatest distance that the tolerance reaches, in the rule scale. */
const WIDEST = 60;
/** How far beyond the tolerance a selection fades out. */
const SOFT_EDGE = 6;

/**
 * Selects what looks like a place: distance in the rule scale to the mean of 3 x 3 pixels there.
 * @param tolerance 0..1
 * @param connected only what touches the place
 * @returns how much each pixel is selected, 0..255
 */
export function selectSimilar(
  raster: RgbaRaster,
  x: number,
  y: number,
  tolerance: number,
  connected: boolean,
): Uint8Array {
  const { width, height, data } = raster;
  const [sx, sy] = [clamp(Math.floor(x), 0, width - 1), clamp(Math.floor(y), 0, height - 1)];
  const seed = meanAround(raster, sx, sy);
  const reach = WIDEST * tolerance;
  const out = new Uint8Array(width * height);
  const [s0, s1, s2] = [seed[0] as number, seed[1] as number, seed[2] as number];
  if (!connected && out.length <= KEPT_PX) {
    selectEverywhere(keptScaleOf(raster), s0, s1, s2, reach, out);
    return out;
  }
  const lab = new Float32Array(3);
  const shareAt = (i: number): number => {
    const at = 4 * i;
    writeRuleScale(data[at] as number, data[at + 1] as number, data[at + 2] as number, lab);
    const d0 = (lab[0] as number) - s0;
    const d1 = (lab[1] as number) - s1;
    const d2 = (lab[2] as number) - s2;
    return shareOf(d0 * d0 + d1 * d1 + d2 * d2, reach);
  };
  if (connected) flood(width, height, sx, sy, shareAt, out);
  else for (let i = 0; i < out.length; i += 1) out[i] = shareAt(i);
  return out;
}

/** How much a colour at a squared distance is selected, 0..255. */
function shareOf(square: number, reach: number): number {
  if (square <= reach * reach) return 255;
  const t = (Math.sqrt(square) - reach) / SOFT_EDGE;
  return t >= 1 ? 0 : Math.round(255 * (1 - t * t * (3 - 2 * t)));
}

/** A loop by itself, of numbers alone: within {@link selectSimilar} it took twice as long. */
function selectEverywhere(
  all: Float32Array,
  s0: number,
  s1: number,
  s2: number,
  reach: number,
  out: Uint8Array,
): void {
  const near = reach * reach;
  const far = (reach + SOFT_EDGE) ** 2;
  for (let i = 0, at = 0; i < out.length; i += 1, at += 3) {
    const d0 = (all[at] as number) - s0;
    const d1 = (all[at + 1] as number) - s1;
    const d2 = (all[at + 2] as number) - s2;
    const square = d0 * d0 + d1 * d1 + d2 * d2;
    if (square <= near) out[i] = 255;
    else if (square < far) out[i] = shareOf(square, reach);
  }
}

function meanAround({ width, height, data }: RgbaRaster, x: number, y: number): Float32Array {
  const sum = new Float32Array(3);
  let count = 0;
  for (let dy = -1; dy <= 1; dy += 1)
    for (let dx = -1; dx <= 1; dx += 1) {
      const [px, py] = [x + dx, y + dy];
      if (px < 0 || py < 0 || px >= width || py >= height) continue;
      const at = 4 * (py * width + px);
      for (let c = 0; c < 3; c += 1)
        sum[c] = (sum[c] as number) + (LINEAR[data[at + c] as number] as number);
      count += 1;
    }
  const codes = sum.map((linear) => linear / count);
  const lab = new Float32Array(3);
  writeLinear(codes, lab);
  return lab;
}

/** As {@link writeRuleScale}, from linear light. */
function writeLinear([r = 0, g = 0, b = 0]: Float32Array, out: Float32Array): void {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  out[0] = 100 * (0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s);
  out[1] = 200 * (1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s);
  out[2] = 200 * (0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s);
}

/** Fills from a place as far as shares are above 0, row by row in spans. */
export function flood(
  width: number,
  height: number,
  x: number,
  y: number,
  shareAt: (index: number) => number,
  out: Uint8Array,
): void {
  const seen = new Uint8Array(width * height);
  const stack = [y * width + x];
  while (stack.length > 0) {
    const start = stack.pop() as number;
    if (seen[start] === 1) continue;
    const row = start - (start % width);
    let left = start;
    let share = shareAt(start);
    if (share === 0) {
      seen[start] = 1;
      continue;
    }
    // To the left end of the span, then along it to the right.
    for (;;) {
      out[left] = share;
      seen[left] = 1;
      if (left === row || seen[left - 1] === 1) break;
      share = shareAt(left - 1);
      if (share === 0) {
        seen[left - 1] = 1;
        break;
      }
      left -= 1;
    }
    let right = start;
    while (right + 1 < row + width && seen[right + 1] !== 1) {
      share = shareAt(right + 1);
      seen[right + 1] = 1;
      if (share === 0) break;
      right += 1;
      out[right] = share;
    }
    for (const next of [row - width, row + width]) {
      if (next < 0 || next >= width * height) continue;
      const last = right - row + next;
      for (let i = left - row + next; i <= last; i += 1) if (seen[i] !== 1) stack.push(i);
    }
  }
}
