import { partOf, type Checkpoint } from '../../base/checkpoint.ts';
import { clamp } from '../../base/numbers.ts';
import type { RgbaRaster } from '../../base/raster.ts';
import { LINEAR_OF_BYTE } from '../../colour/srgb.ts';
import { borderBand, widened } from './graph-cut.ts';

/** Smoothness of the guided filter, for codes 0..1. */
const EPSILON = 1e-3;

/** Sums that a window of the guided filter needs: three means, six products, and the same of what is kept. */
const SUMS = 13;

/**
 * Sums over square windows around some pixels: a column of the window is summed once a row, and the window slides along the
 * runs of pixels that are asked for.
 */
class WindowSums {
  private readonly columns: Float64Array;
  private readonly window: Float64Array;
  /** The row around which each column was summed last. */
  private readonly summedAt: Int32Array;

  /**
   * @param add adds the numbers of one pixel to `into`, from `to` on, `sign` times
   * @param whole the numbers are whole, so that adding and taking away leaves no trace: columns are carried from row to row
   */
  constructor(
    private readonly numbers: number,
    private readonly width: number,
    private readonly height: number,
    private readonly reach: number,
    private readonly whole: boolean,
    private readonly add: (pixel: number, into: Float64Array, to: number, sign: number) => void,
  ) {
    this.summedAt = new Int32Array(width).fill(-2);
    this.columns = new Float64Array(numbers * width);
    this.window = new Float64Array(numbers);
  }

  /** @param each is told a pixel, the sums of its window, and how many pixels that has */
  over(
    wanted: Uint8Array,
    checkpoint: Checkpoint,
    each: (pixel: number, sums: Float64Array, count: number) => void,
  ): void {
    const { width, height, reach, window } = this;
    for (let y = 0; y < height; y += 1) {
      if (y % 64 === 0) checkpoint(y / height);
      const rows = Math.min(height - 1, y + reach) - Math.max(0, y - reach) + 1;
      let summed = -1;
      for (let x = 0; x < width; x += 1) {
        if (wanted[y * width + x] !== 1) continue;
        const [left, right] = [Math.max(0, x - reach), Math.min(width - 1, x + reach)];
        const slides = x > 0 && wanted[y * width + x - 1] === 1;
        for (let px = Math.max(summed + 1, left); px <= right; px += 1) this.sumColumn(px, y);
        summed = right;
        if (slides) {
          if (x - reach > 0) this.join(x - reach - 1, -1);
          if (x + reach < width) this.join(x + reach, 1);
        } else {
          window.fill(0);
          for (let px = left; px <= right; px += 1) this.join(px, 1);
        }
        each(y * width + x, window, rows * (right - left + 1));
      }
    }
  }

  private sumColumn(x: number, y: number): void {
    const { columns, numbers, width, height, reach } = this;
    const bottom = Math.min(height - 1, y + reach);
    const before = this.summedAt[x] as number;
    this.summedAt[x] = y;
    if (before === y) return;
    if (this.whole && before === y - 1) {
      if (y - reach > 0) this.add((y - reach - 1) * width + x, columns, numbers * x, -1);
      if (y + reach < height) this.add((y + reach) * width + x, columns, numbers * x, 1);
      return;
    }
    columns.fill(0, numbers * x, numbers * (x + 1));
    for (let py = Math.max(0, y - reach); py <= bottom; py += 1)
      this.add(py * width + x, columns, numbers * x, 1);
  }

  private join(x: number, sign: number): void {
    const { columns, numbers, window } = this;
    for (let k = 0; k < numbers; k += 1)
      window[k] = (window[k] as number) + sign * (columns[numbers * x + k] as number);
  }
}

/** The inverse of a symmetric 3 x 3 matrix [xx, xy, xz, yy, yz, zz], written to `out` in the same order. */
export function invertSymmetric(
  s: ArrayLike<number>,
  out: Float64Array | Float32Array,
  at = 0,
): void {
  const [a, b, c, d, e, f] = [s[0], s[1], s[2], s[3], s[4], s[5]] as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const [A, B, C] = [d * f - e * e, c * e - b * f, b * e - c * d];
  const det = a * A + b * B + c * C;
  out[at] = A / det;
  out[at + 1] = B / det;
  out[at + 2] = C / det;
  out[at + 3] = (a * f - c * c) / det;
  out[at + 4] = (b * c - a * e) / det;
  out[at + 5] = (a * d - b * b) / det;
}

/**
 * A soft edge that follows the colours: the guided filter with a colour picture as guide, only in a band along the border.
 * Source: K. He, J. Sun, X. Tang, "Guided image filtering" (2013), equations 19 to 21.
 * @param inside 1 for what is kept
 * @param r radius of the windows and half width of the band, pixels
 * @returns alpha 0..255
 */
export function softEdge(
  { width, height, data }: RgbaRaster,
  inside: Uint8Array,
  r: number,
  checkpoint: Checkpoint,
): Uint8Array {
  const band = borderBand(inside, width, height, r);
  const centres = widened(band, width, height, r);
  const slot = new Int32Array(width * height).fill(-1);
  let count = 0;
  for (let i = 0; i < slot.length; i += 1) if (centres[i] === 1) slot[i] = count++;
  const lines = new Float32Array(4 * count);
  const inverse = new Float64Array(6);
  const s = new Float64Array(6);
  // Codes, so that the sums are whole numbers.
  const sums = new WindowSums(SUMS, width, height, r, true, (at, into, to, sign) => {
    const red = sign * (data[4 * at] as number);
    const green = sign * (data[4 * at + 1] as number);
    const blue = sign * (data[4 * at + 2] as number);
    into[to] = (into[to] as number) + red;
    into[to + 1] = (into[to + 1] as number) + green;
    into[to + 2] = (into[to + 2] as number) + blue;
    into[to + 3] = (into[to + 3] as number) + sign * red * red;
    into[to + 4] = (into[to + 4] as number) + sign * red * green;
    into[to + 5] = (into[to + 5] as number) + sign * red * blue;
    into[to + 6] = (into[to + 6] as number) + sign * green * green;
    into[to + 7] = (into[to + 7] as number) + sign * green * blue;
    into[to + 8] = (into[to + 8] as number) + sign * blue * blue;
    if (inside[at] !== 1) return;
    into[to + 9] = (into[to + 9] as number) + sign;
    into[to + 10] = (into[to + 10] as number) + red;
    into[to + 11] = (into[to + 11] as number) + green;
    into[to + 12] = (into[to + 12] as number) + blue;
  });
  sums.over(centres, partOf(checkpoint, 0, 0.7), (i, sum, n) => {
    const own = slot[i] as number;
    const codes = 255 * n;
    const squares = 255 * codes;
    const m0 = (sum[0] as number) / codes;
    const m1 = (sum[1] as number) / codes;
    const m2 = (sum[2] as number) / codes;
    s[0] = (sum[3] as number) / squares - m0 * m0 + EPSILON;
    s[1] = (sum[4] as number) / squares - m0 * m1;
    s[2] = (sum[5] as number) / squares - m0 * m2;
    s[3] = (sum[6] as number) / squares - m1 * m1 + EPSILON;
    s[4] = (sum[7] as number) / squares - m1 * m2;
    s[5] = (sum[8] as number) / squares - m2 * m2 + EPSILON;
    invertSymmetric(s, inverse);
    const p = (sum[9] as number) / n;
    const c0 = (sum[10] as number) / codes - m0 * p;
    const c1 = (sum[11] as number) / codes - m1 * p;
    const c2 = (sum[12] as number) / codes - m2 * p;
    // Read one by one: taking a typed array apart by name asks its iterator, which costs more than all the rest.
    const v1 = inverse[1] as number;
    const v2 = inverse[2] as number;
    const v4 = inverse[4] as number;
    const a0 = (inverse[0] as number) * c0 + v1 * c1 + v2 * c2;
    const a1 = v1 * c0 + (inverse[3] as number) * c1 + v4 * c2;
    const a2 = v2 * c0 + v4 * c1 + (inverse[5] as number) * c2;
    lines[4 * own] = a0;
    lines[4 * own + 1] = a1;
    lines[4 * own + 2] = a2;
    lines[4 * own + 3] = p - a0 * m0 - a1 * m1 - a2 * m2;
  });
  const out = inside.map((one) => 255 * one);
  const means = new WindowSums(4, width, height, r, false, (at, into, to) => {
    const from = 4 * (slot[at] as number);
    for (let k = 0; k < 4; k += 1)
      into[to + k] = (into[to + k] as number) + (lines[from + k] as number);
  });
  means.over(band, partOf(checkpoint, 0.7, 1), (i, sum, n) => {
    const alpha =
      ((sum[0] as number) * (data[4 * i] as number) +
        (sum[1] as number) * (data[4 * i + 1] as number) +
        (sum[2] as number) * (data[4 * i + 2] as number)) /
        255 +
      (sum[3] as number);
    out[i] = Math.round(255 * clamp(alpha / n, 0, 1));
  });
  return out;
}

/**
 * An edge by colours: each pixel near the border is read as a mix, in linear light, of the nearest colours that surely lie
 * inside and outside.
 * @param reach pixels on both sides of the border that may be mixed
 */
export function mixedEdge(
  { width, height, data }: RgbaRaster,
  inside: Uint8Array,
  reach: number,
): Uint8Array {
  const band = borderBand(inside, width, height, reach);
  const out = inside.map((one) => 255 * one);
  const r = 2 * reach + 1;
  const [fore, back] = [new Float64Array(4), new Float64Array(4)];
  for (let i = 0; i < band.length; i += 1) {
    if (band[i] !== 1) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    fore.fill(0);
    back.fill(0);
    for (let py = Math.max(0, y - r); py <= Math.min(height - 1, y + r); py += 1)
      for (let px = Math.max(0, x - r); px <= Math.min(width - 1, x + r); px += 1) {
        const k = py * width + px;
        if (band[k] === 1) continue;
        const side = inside[k] === 1 ? fore : back;
        const weight = 1 / ((px - x) ** 2 + (py - y) ** 2) ** 2;
        for (let c = 0; c < 3; c += 1)
          side[c] =
            (side[c] as number) + weight * (LINEAR_OF_BYTE[data[4 * k + c] as number] as number);
        side[3] = (side[3] as number) + weight;
      }
    const [f, b] = [fore[3] as number, back[3] as number];
    if (f === 0 || b === 0) continue;
    let [along, square] = [0, 0];
    for (let c = 0; c < 3; c += 1) {
      const from = (back[c] as number) / b;
      const way = (fore[c] as number) / f - from;
      along += way * ((LINEAR_OF_BYTE[data[4 * i + c] as number] as number) - from);
      square += way * way;
    }
    if (square > 1e-6) out[i] = Math.round(255 * clamp(along / square, 0, 1));
  }
  return out;
}
