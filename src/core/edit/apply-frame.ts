import { clamp } from '../base/numbers.ts';
import type { RgbaRaster } from '../base/raster.ts';
import { encodeSrgb, LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { croppedBox, partsOfTurn, shareAfterTurn, type Frame, type FrameEdit } from './frame.ts';

/**
 * What an edit of the frame makes of a picture that may be smaller than full size.
 * @param before frame of the picture at full size
 */
export function applyFrame(raster: RgbaRaster, edit: FrameEdit, before: Frame): RgbaRaster {
  const scale = raster.width / before.width;
  const scaleY = raster.height / before.height;
  if (edit.kind === 'crop') {
    const { left, top, width, height } = croppedBox(edit, before);
    const x = Math.min(raster.width - 1, Math.round(left * scale));
    const y = Math.min(raster.height - 1, Math.round(top * scaleY));
    return cutOut(
      raster,
      x,
      y,
      clamp(Math.round(width * scale), 1, raster.width - x),
      clamp(Math.round(height * scaleY), 1, raster.height - y),
    );
  }
  if (edit.kind === 'mirror')
    return rearranged(raster, edit.across === 'width' ? 'mirror' : 'flip');
  const { quarters, rest } = partsOfTurn(edit.degrees);
  const upright =
    quarters === 0
      ? raster
      : rearranged(raster, (['', 'right', 'around', 'left'] as const)[quarters] ?? '');
  if (rest === 0) return upright;
  const share = shareAfterTurn(upright.width, upright.height, rest);
  return spun(
    upright,
    (rest * Math.PI) / 180,
    Math.max(1, Math.floor(upright.width * share)),
    Math.max(1, Math.floor(upright.height * share)),
  );
}

/** A part of a picture, as a copy. */
export function cutOut(
  { width, data }: RgbaRaster,
  left: number,
  top: number,
  columns: number,
  rows: number,
): RgbaRaster {
  const out = new Uint8ClampedArray(4 * columns * rows);
  for (let y = 0; y < rows; y += 1) {
    const from = 4 * ((top + y) * width + left);
    out.set(data.subarray(from, from + 4 * columns), 4 * y * columns);
  }
  return { width: columns, height: rows, data: out };
}

/** Turns by quarters and mirrorings: no pixel is made anew. */
function rearranged(
  { width, height, data }: RgbaRaster,
  way: 'right' | 'around' | 'left' | 'mirror' | 'flip' | '',
): RgbaRaster {
  const sideways = way === 'right' || way === 'left';
  const columns = sideways ? height : width;
  const rows = sideways ? width : height;
  const from = new Uint32Array(data.buffer, data.byteOffset, width * height);
  const out = new Uint32Array(columns * rows);
  for (let y = 0; y < rows; y += 1)
    for (let x = 0; x < columns; x += 1) {
      let [sx, sy] = [x, y];
      if (way === 'right') [sx, sy] = [y, height - 1 - x];
      else if (way === 'left') [sx, sy] = [width - 1 - y, x];
      else if (way === 'around') [sx, sy] = [width - 1 - x, height - 1 - y];
      else if (way === 'mirror') sx = width - 1 - x;
      else if (way === 'flip') sy = height - 1 - y;
      out[y * columns + x] = from[sy * width + sx] as number;
    }
  return { width: columns, height: rows, data: new Uint8ClampedArray(out.buffer) };
}

/** Turns a picture clockwise about its middle; each pixel is mixed of four in linear light, weighted by alpha. */
function spun(source: RgbaRaster, angle: number, columns: number, rows: number): RgbaRaster {
  const { width, height, data } = source;
  const out = new Uint8ClampedArray(4 * columns * rows);
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const sum = new Float64Array(4);
  for (let y = 0; y < rows; y += 1)
    for (let x = 0; x < columns; x += 1) {
      const dx = x + 0.5 - columns / 2;
      const dy = y + 0.5 - rows / 2;
      const sx = clamp(width / 2 + cos * dx + sin * dy - 0.5, 0, width - 1);
      const sy = clamp(height / 2 - sin * dx + cos * dy - 0.5, 0, height - 1);
      const [x0, y0] = [Math.min(width - 2, Math.floor(sx)), Math.min(height - 2, Math.floor(sy))];
      sum.fill(0);
      for (let k = 0; k < 4; k += 1) {
        const [px, py] = [Math.max(0, x0 + (k & 1)), Math.max(0, y0 + (k >> 1))];
        const share = Math.max(0, 1 - Math.abs(sx - px)) * Math.max(0, 1 - Math.abs(sy - py));
        const at = 4 * (py * width + px);
        const weight = share * (data[at + 3] as number);
        for (let c = 0; c < 3; c += 1)
          sum[c] = (sum[c] as number) + weight * (LINEAR_OF_BYTE[data[at + c] as number] as number);
        sum[3] = (sum[3] as number) + weight;
      }
      const at = 4 * (y * columns + x);
      const alpha = sum[3] as number;
      if (alpha > 0)
        for (let c = 0; c < 3; c += 1)
          out[at + c] = Math.round(255 * encodeSrgb(Math.min(1, (sum[c] as number) / alpha)));
      out[at + 3] = Math.round(alpha);
    }
  return { width: columns, height: rows, data: out };
}
