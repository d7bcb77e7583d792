import { clamp } from '../../base/numbers.ts';
import type { RgbaRaster } from '../../base/raster.ts';
import { flood, ruleScaleOf } from '../similar.ts';

/** Width of the border that the background is learnt from, pixels. */
const RIM_PX = 6;
const ROUNDS = 5;
/** Terms of a surface of second degree in x and y. */
const TERMS = 6;
/** Share of the border that must fit for a background to count as plain. */
export const PLAIN_SHARE = 0.9;

/** A background that is one smooth surface of colour. */
export interface PlainBackground {
  /** Share of the border that lies on it. */
  readonly share: number;
  /** Least distance from it, in the rule scale, that counts as something else. */
  readonly reach: number;
  /** Six coefficients for each of the three numbers of the rule scale, over x and y as -1..1. */
  readonly surface: Float64Array;
}

function terms(x: number, y: number, out: Float64Array): void {
  out[0] = 1;
  out[1] = x;
  out[2] = y;
  out[3] = x * x;
  out[4] = x * y;
  out[5] = y * y;
}

/** Solves the normal equations of a least-squares fit with three right sides, by elimination; 6 unknowns. */
function solve(normal: Float64Array, right: Float64Array): Float64Array {
  const a = normal.slice();
  const b = right.slice();
  for (let k = 0; k < TERMS; k += 1) {
    // A trace on the diagonal keeps a border of one row or column solvable.
    const pivot = (a[k * TERMS + k] as number) + 1e-9;
    for (let r = k + 1; r < TERMS; r += 1) {
      const f = (a[r * TERMS + k] as number) / pivot;
      for (let c = k; c < TERMS; c += 1)
        a[r * TERMS + c] = (a[r * TERMS + c] as number) - f * (a[k * TERMS + c] as number);
      for (let c = 0; c < 3; c += 1)
        b[3 * r + c] = (b[3 * r + c] as number) - f * (b[3 * k + c] as number);
    }
  }
  const x = new Float64Array(3 * TERMS);
  for (let r = TERMS - 1; r >= 0; r -= 1)
    for (let c = 0; c < 3; c += 1) {
      let sum = b[3 * r + c] as number;
      for (let k = r + 1; k < TERMS; k += 1)
        sum -= (a[r * TERMS + k] as number) * (x[3 * k + c] as number);
      x[3 * r + c] = sum / ((a[r * TERMS + r] as number) + 1e-9);
    }
  return x;
}

/**
 * Fits a surface of second degree to the border of a picture, in five rounds; each leaves out what lies farther than 4
 * standard deviations + 1. Pixels that are cut away already do not count.
 * @returns undefined where the border is cut away
 */
export function fitBackground(raster: RgbaRaster): PlainBackground | undefined {
  const { width, height, data } = raster;
  const colours = ruleScaleOf(raster);
  const rim: number[] = [];
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const inner = x >= RIM_PX && x < width - RIM_PX && y >= RIM_PX && y < height - RIM_PX;
      if (inner) {
        x = width - RIM_PX - 1;
        continue;
      }
      if ((data[4 * (y * width + x) + 3] as number) >= 128) rim.push(y * width + x);
    }
  if (rim.length < TERMS) return undefined;
  const row = new Float64Array(TERMS);
  const at = (i: number): void => {
    terms(
      (2 * ((i % width) + 0.5)) / width - 1,
      (2 * (Math.floor(i / width) + 0.5)) / height - 1,
      row,
    );
  };
  let surface: Float64Array = new Float64Array(3 * TERMS);
  let sigma = Infinity;
  const off = (i: number): number => {
    at(i);
    let square = 0;
    for (let c = 0; c < 3; c += 1) {
      let value = 0;
      for (let k = 0; k < TERMS; k += 1)
        value += (surface[3 * k + c] as number) * (row[k] as number);
      square += ((colours[3 * i + c] as number) - value) ** 2;
    }
    return Math.sqrt(square);
  };
  for (let round = 0; round < ROUNDS; round += 1) {
    const limit = round === 0 ? Infinity : 4 * sigma + 1;
    const normal = new Float64Array(TERMS * TERMS);
    const right = new Float64Array(3 * TERMS);
    for (const i of rim) {
      if (round > 0 && off(i) > limit) continue;
      at(i);
      for (let r = 0; r < TERMS; r += 1) {
        for (let c = 0; c < TERMS; c += 1)
          normal[r * TERMS + c] =
            (normal[r * TERMS + c] as number) + (row[r] as number) * (row[c] as number);
        for (let c = 0; c < 3; c += 1)
          right[3 * r + c] =
            (right[3 * r + c] as number) + (row[r] as number) * (colours[3 * i + c] as number);
      }
    }
    surface = solve(normal, right);
    let [sum, count] = [0, 0];
    for (const i of rim) {
      const distance = off(i);
      if (distance > limit) continue;
      sum += distance * distance;
      count += 1;
    }
    sigma = Math.sqrt(sum / Math.max(1, count) / 3);
  }
  const reach = clamp(4.5 * sigma + 1, 2.5, 12);
  const fitting = rim.filter((i) => off(i) <= reach).length;
  return { share: fitting / rim.length, reach, surface };
}

/** What is not background: everything that the background, flooding in from the border, does not reach. 1 is inside. */
export function outsideOfBackground(
  raster: RgbaRaster,
  { surface, reach }: PlainBackground,
): Uint8Array {
  const { width, height, data } = raster;
  const colours = ruleScaleOf(raster);
  const row = new Float64Array(TERMS);
  const isBackground = (i: number): number => {
    if ((data[4 * i + 3] as number) < 128) return 1;
    terms(
      (2 * ((i % width) + 0.5)) / width - 1,
      (2 * (Math.floor(i / width) + 0.5)) / height - 1,
      row,
    );
    let square = 0;
    for (let c = 0; c < 3; c += 1) {
      let value = 0;
      for (let k = 0; k < TERMS; k += 1)
        value += (surface[3 * k + c] as number) * (row[k] as number);
      square += ((colours[3 * i + c] as number) - value) ** 2;
    }
    return square <= reach * reach ? 1 : 0;
  };
  const background = new Uint8Array(width * height);
  for (let x = 0; x < width; x += 1)
    for (const y of [0, height - 1])
      if (background[y * width + x] === 0) flood(width, height, x, y, isBackground, background);
  for (let y = 0; y < height; y += 1)
    for (const x of [0, width - 1])
      if (background[y * width + x] === 0) flood(width, height, x, y, isBackground, background);
  return background.map((one) => 1 - one);
}
