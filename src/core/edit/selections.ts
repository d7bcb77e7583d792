import { bytesOf } from '../base/numbers.ts';
import type { RgbaRaster } from '../base/raster.ts';
import type { GreyPicture, Selection, SelectionStep } from './artwork-edit.ts';
import { signedDistances } from './distance.ts';
import { fillLine, fillPolygon } from './fill.ts';
import { smoothstep } from './hue.ts';
import { selectSimilar } from './similar.ts';

/** How much each pixel of a picture is selected, 0..255. */
export interface Mask {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** Selections that name each other go no deeper than this. */
const DEEPEST = 8;

/**
 * Works a selection out on a picture.
 * @param picture the upright original, or a smaller copy of it
 * @param scale pixels of `picture` for one of the original
 * @param others selections that steps may name; one that is not there, or names itself, selects nothing
 */
export function selectMask(
  picture: RgbaRaster,
  scale: number,
  selection: Selection,
  others: readonly Selection[] = [],
  depth = 0,
): Mask {
  const { width, height } = picture;
  let data: Uint8Array = new Uint8Array(width * height);
  for (const step of selection.steps)
    join(data, stepMask(picture, scale, step, others, depth), step.way);
  if (selection.grow !== 0 || selection.feather > 0)
    data = softened(data, width, height, selection.grow * scale, selection.feather * scale);
  if (selection.invert)
    for (let i = 0; i < data.length; i += 1) data[i] = 255 - (data[i] as number);
  return { width, height, data };
}

function stepMask(
  picture: RgbaRaster,
  scale: number,
  step: SelectionStep,
  others: readonly Selection[],
  depth: number,
): Uint8Array {
  const { width, height } = picture;
  const out = { width, height, data: new Uint8Array(width * height) };
  const scaled = (points: readonly number[]): number[] => points.map((one) => one * scale);
  switch (step.from) {
    case 'similar':
      return selectSimilar(picture, step.x * scale, step.y * scale, step.tolerance, step.connected);
    case 'box': {
      const { left, top } = step;
      const [right, bottom] = [left + step.width, top + step.height];
      fillPolygon(out, scaled([left, top, right, top, right, bottom, left, bottom]));
      return out.data;
    }
    case 'polygon':
      fillPolygon(out, scaled(step.points));
      return out.data;
    case 'brush':
      fillLine(out, scaled(step.points), step.radius * scale);
      return out.data;
    case 'mask': {
      const other = others.find(({ id }) => id === step.mask);
      if (!other || depth >= DEEPEST) return out.data;
      return selectMask(picture, scale, other, others, depth + 1).data;
    }
    case 'picture':
      return greysOn(step.picture, width, height);
  }
}

/** A grey picture on pixels of another size: the nearest grey. */
function greysOn(grey: GreyPicture, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y += 1) {
    const row = Math.floor(((y + 0.5) * grey.height) / height) * grey.width;
    for (let x = 0; x < width; x += 1)
      out[y * width + x] = grey.data[row + Math.floor(((x + 0.5) * grey.width) / width)] as number;
  }
  return out;
}

/** Puts a step to what was selected: the greater, the smaller of it and what is left, or the smaller of both. */
function join(into: Uint8Array, step: Uint8Array, way: SelectionStep['way']): void {
  for (let i = 0; i < into.length; i += 1) {
    const [a, b] = [into[i] as number, step[i] as number];
    if (way === 'add') into[i] = Math.max(a, b);
    else if (way === 'take') into[i] = Math.min(a, 255 - b);
    else into[i] = Math.min(a, b);
  }
}

/** Grows and feathers in one pass over the signed distance: `smoothstep(-r, r, distance + grow)`. */
function softened(
  data: Uint8Array,
  width: number,
  height: number,
  grow: number,
  feather: number,
): Uint8Array {
  const distance = signedDistances(data, width, height);
  // Without feather the border is as soft as one pixel.
  const reach = Math.max(0.5, feather);
  return bytesOf(distance.length, (i) =>
    Math.round(255 * smoothstep(-reach, reach, (distance[i] as number) + grow)),
  );
}

/** Share of a picture that is selected, 0..1. */
export function selectedShare({ data }: Mask): number {
  let sum = 0;
  for (const one of data) sum += one;
  return sum / (255 * Math.max(1, data.length));
}
