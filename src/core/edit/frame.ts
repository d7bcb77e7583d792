import { clamp } from '../base/numbers.ts';
import type { RgbaRaster } from '../base/raster.ts';
import { encodeSrgb, LINEAR_OF_BYTE } from '../colour/srgb.ts';
import type { ArtworkEdit, PixelBox } from './artwork-edit.ts';

/** An affine map: x' = a x + b y + c, y' = d x + e y + f. */
export type Affine = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

/** Where an edited picture lies in the original. */
export interface Frame {
  /** Pixels of the edited picture at full size. */
  readonly width: number;
  readonly height: number;
  /** From places in the edited picture to places in the upright original, both in pixels from the top left corner. */
  readonly toOriginal: Affine;
  /** Place of the top left corner in the coordinates that crops are given in. */
  readonly corner: readonly [x: number, y: number];
}

/** The frame of a picture that is not cut or turned. */
export function wholeFrame(width: number, height: number): Frame {
  return { width, height, toOriginal: [1, 0, 0, 0, 1, 0], corner: [0, 0] };
}

/** Where a map takes a place. */
export function mapPlace(
  [a, b, c, d, e, f]: Affine,
  x: number,
  y: number,
): readonly [number, number] {
  return [a * x + b * y + c, d * x + e * y + f];
}

/** First `inner`, then `outer`. */
export function joinMaps(outer: Affine, inner: Affine): Affine {
  const [a, b, c, d, e, f] = outer;
  const [p, q, r, s, t, u] = inner;
  return [
    a * p + b * s,
    a * q + b * t,
    a * r + b * u + c,
    d * p + e * s,
    d * q + e * t,
    d * r + e * u + f,
  ];
}

/** The map back. The maps of frames keep areas, so there always is one. */
export function inverseMap([a, b, c, d, e, f]: Affine): Affine {
  const det = a * e - b * d;
  return [e / det, -b / det, (b * f - e * c) / det, -d / det, a / det, (d * c - a * f) / det];
}

export type FrameEdit = ArtworkEdit<'crop' | 'turn' | 'mirror'>;

/** Does an edit change the frame? */
export function isFrameEdit(edit: ArtworkEdit): edit is FrameEdit {
  return edit.kind === 'crop' || edit.kind === 'turn' || edit.kind === 'mirror';
}

/** The part of a picture that a crop leaves, in whole pixels from its top left corner; at least one pixel. */
export function croppedBox(crop: PixelBox, frame: Frame): PixelBox {
  const [x, y] = frame.corner;
  const left = clamp(Math.round(crop.left - x), 0, frame.width - 1);
  const top = clamp(Math.round(crop.top - y), 0, frame.height - 1);
  const right = clamp(Math.round(crop.left - x + crop.width), left + 1, frame.width);
  const bottom = clamp(Math.round(crop.top - y + crop.height), top + 1, frame.height);
  return { left, top, width: right - left, height: bottom - top };
}

/** A turn as quarter turns and the rest in -45..45 degrees. */
export function partsOfTurn(degrees: number): { readonly quarters: number; readonly rest: number } {
  const quarters = Math.round(degrees / 90);
  return { quarters: ((quarters % 4) + 4) % 4, rest: degrees - 90 * quarters };
}

/** How much smaller the greatest upright rectangle of the same proportions is in a turned one. */
export function shareAfterTurn(width: number, height: number, rest: number): number {
  const angle = (Math.abs(rest) * Math.PI) / 180;
  return 1 / (Math.cos(angle) + Math.sin(angle) * Math.max(width / height, height / width));
}

/** The frame after one edit. */
export function frameAfter(frame: Frame, edit: FrameEdit): Frame {
  const { width, height, toOriginal, corner } = frame;
  if (edit.kind === 'crop') {
    const box = croppedBox(edit, frame);
    return {
      width: box.width,
      height: box.height,
      toOriginal: joinMaps(toOriginal, [1, 0, box.left, 0, 1, box.top]),
      corner: [corner[0] + box.left, corner[1] + box.top],
    };
  }
  if (edit.kind === 'mirror') {
    const flip: Affine =
      edit.across === 'width' ? [-1, 0, width, 0, 1, 0] : [1, 0, 0, 0, -1, height];
    return { width, height, toOriginal: joinMaps(toOriginal, flip), corner: [0, 0] };
  }
  const { quarters, rest } = partsOfTurn(edit.degrees);
  const sideways = quarters % 2 === 1;
  const [upright, across] = sideways ? [height, width] : [width, height];
  const back: readonly Affine[] = [
    [1, 0, 0, 0, 1, 0],
    [0, 1, 0, -1, 0, height],
    [-1, 0, width, 0, -1, height],
    [0, -1, width, 1, 0, 0],
  ];
  const turned = joinMaps(toOriginal, back[quarters] as Affine);
  if (rest === 0) return { width: upright, height: across, toOriginal: turned, corner: [0, 0] };
  const share = shareAfterTurn(upright, across, rest);
  const [w, h] = [
    Math.max(1, Math.floor(upright * share)),
    Math.max(1, Math.floor(across * share)),
  ];
  const angle = (rest * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  // A place p of the result lies at the middle plus the turn back of p from the middle.
  const spin: Affine = [
    cos,
    sin,
    upright / 2 - (cos * w) / 2 - (sin * h) / 2,
    -sin,
    cos,
    across / 2 + (sin * w) / 2 - (cos * h) / 2,
  ];
  return { width: w, height: h, toOriginal: joinMaps(turned, spin), corner: [0, 0] };
}

/** The frame that a list of edits leaves of a picture; edits that are off do not count. */
export function frameOfEdits(width: number, height: number, edits: readonly ArtworkEdit[]): Frame {
  return edits
    .filter((edit) => edit.on)
    .filter(isFrameEdit)
    .reduce(frameAfter, wholeFrame(width, height));
}

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
