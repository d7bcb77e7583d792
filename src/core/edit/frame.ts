import { clamp } from '../base/numbers.ts';
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
