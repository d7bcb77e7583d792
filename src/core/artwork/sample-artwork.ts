import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import type { RgbaRaster } from '../base/raster.ts';
import { encodeSrgb, LINEAR_OF_BYTE } from '../colour/srgb.ts';

/** Coverage from which on a sample counts as part of the picture. Half, so that outlines keep their place. */
const PRINTED_ALPHA = 127.5;

const LINEAR_STEPS = 65535;
const BYTE_OF_LINEAR = Uint8Array.from({ length: LINEAR_STEPS + 1 }, (_, i) =>
  Math.round(encodeSrgb(i / LINEAR_STEPS) * 255),
);

/** For each target cell: the first source cell it touches, and the shares of it and of the following ones. */
interface Spans {
  readonly first: Int32Array;
  readonly shares: readonly Float32Array[];
}

function spansOf(source: number, target: number): Spans {
  const first = new Int32Array(target);
  const shares: Float32Array[] = [];
  const step = source / target;
  for (let i = 0; i < target; i += 1) {
    const from = i * step;
    const to = Math.min(source, (i + 1) * step);
    const start = Math.min(source - 1, Math.floor(from + 1e-9));
    const end = Math.max(start + 1, Math.ceil(to - 1e-9));
    first[i] = start;
    shares.push(
      Float32Array.from({ length: end - start }, (_, k) => {
        const covered = Math.min(to, start + k + 1) - Math.max(from, start + k);
        return Math.max(0, covered) / step;
      }),
    );
  }
  return { first, shares };
}

/** Adds one source row, averaged down to the target columns, as linear light times alpha, and alpha. */
function reduceRow(source: RgbaRaster, row: number, columns: Spans, out: Float32Array): void {
  const { width, data } = source;
  const { first, shares } = columns;
  for (let column = 0; column < first.length; column += 1) {
    const parts = shares[column] as Float32Array;
    let red = 0;
    let green = 0;
    let blue = 0;
    let alpha = 0;
    let at = (row * width + (first[column] as number)) * 4;
    for (let k = 0; k < parts.length; k += 1, at += 4) {
      const share = (parts[k] as number) * (data[at + 3] as number);
      red += share * (LINEAR_OF_BYTE[data[at] as number] as number);
      green += share * (LINEAR_OF_BYTE[data[at + 1] as number] as number);
      blue += share * (LINEAR_OF_BYTE[data[at + 2] as number] as number);
      alpha += share;
    }
    out[column * 4] = red;
    out[column * 4 + 1] = green;
    out[column * 4 + 2] = blue;
    out[column * 4 + 3] = alpha;
  }
}

/**
 * Averages a picture onto a grid of samples (each sample is the mean of the area it covers, in linear light,
 * weighted by alpha), so that neither fine detail nor edges shift the colour. Also works upwards, where samples are
 * finer than pixels. A picture already of that size comes back as it is, as a copy.
 *
 * @returns sRGB bytes; alpha is 255 where the sample is printed and 0 where the picture is cut away there
 */
export function sampleArtwork(
  source: RgbaRaster,
  columns: number,
  rows: number,
  checkpoint: Checkpoint = noCheckpoint,
): RgbaRaster {
  const out = new Uint8ClampedArray(columns * rows * 4);
  if (columns === source.width && rows === source.height) {
    out.set(source.data);
    for (let i = 3; i < out.length; i += 4) out[i] = (out[i] as number) >= PRINTED_ALPHA ? 255 : 0;
    return { width: columns, height: rows, data: out };
  }
  const acrossSpans = spansOf(source.width, columns);
  const downSpans = spansOf(source.height, rows);
  const reduced = new Float32Array(columns * 4);
  const sum = new Float32Array(columns * 4);
  let reducedRow = -1;
  for (let row = 0; row < rows; row += 1) {
    if (row % 16 === 0) checkpoint(row / rows);
    sum.fill(0);
    const parts = downSpans.shares[row] as Float32Array;
    for (let k = 0; k < parts.length; k += 1) {
      const sourceRow = (downSpans.first[row] as number) + k;
      if (sourceRow !== reducedRow) {
        reduceRow(source, sourceRow, acrossSpans, reduced);
        reducedRow = sourceRow;
      }
      const share = parts[k] as number;
      for (let i = 0; i < sum.length; i += 1)
        sum[i] = (sum[i] as number) + share * (reduced[i] as number);
    }
    writeRow(sum, out, row * columns * 4);
  }
  checkpoint(1);
  return { width: columns, height: rows, data: out };
}

/**
 * Samples a picture of few flat colours: each sample is of the colour that covers most of its area, so none is mixed that the
 * picture has not.
 */
export function sampleMostly(
  source: RgbaRaster,
  columns: number,
  rows: number,
  checkpoint: Checkpoint = noCheckpoint,
): RgbaRaster {
  const { width, height } = source;
  const data = new Uint8ClampedArray(source.data);
  const pixels = new Uint32Array(data.buffer);
  const out = new Uint32Array(columns * rows);
  const across = spansOf(width, columns);
  const down = spansOf(height, rows);
  for (let i = 3; i < data.length; i += 4) {
    if ((data[i] as number) >= PRINTED_ALPHA) data[i] = 255;
    else pixels[i >> 2] = 0;
  }
  const areas = new Map<number, number>();
  for (let row = 0; row < rows; row += 1) {
    if (row % 16 === 0) checkpoint(row / rows);
    const downParts = down.shares[row] as Float32Array;
    for (let column = 0; column < columns; column += 1) {
      const acrossParts = across.shares[column] as Float32Array;
      areas.clear();
      let [best, most] = [0, -1];
      for (let k = 0; k < downParts.length; k += 1)
        for (let j = 0; j < acrossParts.length; j += 1) {
          const at =
            ((down.first[row] as number) + k) * width + (across.first[column] as number) + j;
          const pixel = pixels[at] as number;
          const area =
            (areas.get(pixel) ?? 0) + (downParts[k] as number) * (acrossParts[j] as number);
          areas.set(pixel, area);
          if (area > most + 1e-6) [best, most] = [pixel, area];
        }
      out[row * columns + column] = best;
    }
  }
  checkpoint(1);
  return { width: columns, height: rows, data: new Uint8ClampedArray(out.buffer) };
}

/** A picture with transparent samples around it on each side. */
export function padSamples({ width, height, data }: RgbaRaster, pad: number): RgbaRaster {
  if (pad === 0) return { width, height, data };
  const columns = width + 2 * pad;
  const out = new Uint8ClampedArray(4 * columns * (height + 2 * pad));
  for (let y = 0; y < height; y += 1)
    out.set(data.subarray(4 * y * width, 4 * (y + 1) * width), 4 * ((y + pad) * columns + pad));
  return { width: columns, height: height + 2 * pad, data: out };
}

/** The smallest rectangle that holds all that is printed, in pixels; undefined where nothing is. */
export function printedBox({
  width,
  height,
  data,
}: RgbaRaster):
  | { readonly left: number; readonly top: number; readonly width: number; readonly height: number }
  | undefined {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      if ((data[4 * (y * width + x) + 3] as number) < PRINTED_ALPHA) continue;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = y;
    }
  return right < 0 ? undefined : { left, top, width: right - left + 1, height: bottom - top + 1 };
}

function writeRow(sum: Float32Array, out: Uint8ClampedArray, start: number): void {
  for (let i = 0; i < sum.length; i += 4) {
    const alpha = sum[i + 3] as number;
    const at = start + i;
    if (alpha > 0) {
      for (let channel = 0; channel < 3; channel += 1) {
        const linear = Math.min(1, (sum[i + channel] as number) / alpha);
        out[at + channel] = BYTE_OF_LINEAR[Math.round(linear * LINEAR_STEPS)] as number;
      }
    }
    out[at + 3] = alpha >= PRINTED_ALPHA - 1e-3 ? 255 : 0;
  }
}
