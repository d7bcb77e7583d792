import type { Checkpoint } from '../../base/checkpoint.ts';
import type { RgbaRaster } from '../../base/raster.ts';
import { writeRuleScale } from '../similar.ts';

/** Neighbours within this distance in the rule scale make a pixel calm. */
const CALM = 5;
/** A thin line differs from both of its sides by more than this, the same way. */
const CREST = 15;
/** Side of a cell of colours, in the rule scale. */
const CELL = 3;

/** What a pixel is. */
export const PLAIN = 0;
export const CALM_PIXEL = 1;
export const CREST_PIXEL = 2;
export const CUT_AWAY = 3;

/** Pixels of nearly one colour, counted. */
export interface ColourCell {
  /** Mean sRGB codes. */
  readonly codes: readonly [number, number, number];
  /** Mean in the rule scale. */
  readonly colour: readonly [number, number, number];
  readonly calm: number;
  readonly crest: number;
  /** Crests that are darker than both of their sides. */
  readonly darkCrest: number;
}

/** A picture looked at for its colours. */
export interface CalmPicture {
  /** What each pixel is. */
  readonly kinds: Uint8Array;
  readonly cells: readonly ColourCell[];
  readonly calmPixels: number;
}

interface Sums {
  readonly codes: Float64Array;
  readonly colour: Float64Array;
  calm: number;
  crest: number;
  darkCrest: number;
}

/**
 * Finds the pixels that are of a colour of their own (in the middle of areas, and along thin lines) and gathers their colours.
 * Goes row by row, so a large picture needs no floats of its size.
 */
export function lookForCalm(
  { width, height, data }: RgbaRaster,
  checkpoint: Checkpoint,
): CalmPicture {
  const kinds = new Uint8Array(width * height);
  const rows = [0, 1, 2].map(() => new Float32Array(3 * width));
  const fill = (y: number): void => {
    const row = rows[y % 3] as Float32Array;
    for (let x = 0, at = 4 * y * width; x < width; x += 1, at += 4)
      writeRuleScale(
        data[at] as number,
        data[at + 1] as number,
        data[at + 2] as number,
        row,
        3 * x,
      );
  };
  const cells = new Map<number, Sums>();
  let calmPixels = 0;
  fill(0);
  for (let y = 0; y < height; y += 1) {
    if (y % 64 === 0) checkpoint(y / height);
    if (y + 1 < height) fill(y + 1);
    const here = rows[y % 3] as Float32Array;
    const above = rows[(y + 2) % 3] as Float32Array;
    const below = rows[(y + 1) % 3] as Float32Array;
    for (let x = 0; x < width; x += 1) {
      const i = y * width + x;
      if ((data[4 * i + 3] as number) < 128) {
        kinds[i] = CUT_AWAY;
        continue;
      }
      const left = x > 0 ? distance(here, x, here, x - 1) : 0;
      const right = x + 1 < width ? distance(here, x, here, x + 1) : 0;
      const up = y > 0 ? distance(here, x, above, x) : 0;
      const down = y + 1 < height ? distance(here, x, below, x) : 0;
      const isCalm = left <= CALM && right <= CALM && up <= CALM && down <= CALM;
      let crest = 0;
      if (!isCalm) {
        if (left > CREST && right > CREST) crest = crestOf(here, x, here, x - 1, here, x + 1);
        if (crest === 0 && up > CREST && down > CREST) crest = crestOf(here, x, above, x, below, x);
        if (crest === 0) continue;
      }
      kinds[i] = isCalm ? CALM_PIXEL : CREST_PIXEL;
      const key =
        ((Math.round((here[3 * x] as number) / CELL) + 64) << 16) |
        ((Math.round((here[3 * x + 1] as number) / CELL) + 128) << 8) |
        (Math.round((here[3 * x + 2] as number) / CELL) + 128);
      let sums = cells.get(key);
      if (!sums) {
        sums = {
          codes: new Float64Array(3),
          colour: new Float64Array(3),
          calm: 0,
          crest: 0,
          darkCrest: 0,
        };
        cells.set(key, sums);
      }
      for (let c = 0; c < 3; c += 1) {
        sums.codes[c] = (sums.codes[c] as number) + (data[4 * i + c] as number);
        sums.colour[c] = (sums.colour[c] as number) + (here[3 * x + c] as number);
      }
      if (isCalm) {
        sums.calm += 1;
        calmPixels += 1;
      } else {
        sums.crest += 1;
        if (crest === 2) sums.darkCrest += 1;
      }
    }
  }
  return {
    kinds,
    calmPixels,
    cells: [...cells.values()].map(({ codes, colour, calm, crest, darkCrest }) => {
      const all = calm + crest;
      const mean = (sums: Float64Array): [number, number, number] => [
        (sums[0] as number) / all,
        (sums[1] as number) / all,
        (sums[2] as number) / all,
      ];
      return { codes: mean(codes), colour: mean(colour), calm, crest, darkCrest };
    }),
  };
}

function distance(a: Float32Array, x: number, b: Float32Array, y: number): number {
  const u = (a[3 * x] as number) - (b[3 * y] as number);
  const v = (a[3 * x + 1] as number) - (b[3 * y + 1] as number);
  const w = (a[3 * x + 2] as number) - (b[3 * y + 2] as number);
  return Math.sqrt(u * u + v * v + w * w);
}

/** 0: no crest; 1: a crest; 2: one that is darker than both of its sides. */
function crestOf(
  own: Float32Array,
  x: number,
  a: Float32Array,
  ax: number,
  b: Float32Array,
  bx: number,
): number {
  let along = 0;
  for (let c = 0; c < 3; c += 1)
    along +=
      ((own[3 * x + c] as number) - (a[3 * ax + c] as number)) *
      ((own[3 * x + c] as number) - (b[3 * bx + c] as number));
  if (along <= 0) return 0;
  const light = own[3 * x] as number;
  return light < (a[3 * ax] as number) - CREST / 2 && light < (b[3 * bx] as number) - CREST / 2
    ? 2
    : 1;
}
