import type { Raster, RgbaRaster } from '../base/raster.ts';
import type { ColourCells } from './colour-cells.ts';

/** What a stroke of the importance brush says of the samples under it. */
export const MARKS = ['more', 'less', 'plain'] as const;
export type Mark = (typeof MARKS)[number];

/** How much a sample counts under each mark. Found by trying: four times tips the search without drowning the rest. */
export const MARK_FACTORS: Readonly<Record<Mark, number>> = { more: 4, less: 0.25, plain: 1 };

/** One stroke of the importance brush. Lengths are shares of the picture's width, places of its sides, from top left. */
export interface ImportanceStroke {
  readonly mark: Mark;
  /** Above 0. */
  readonly radius: number;
  /** x and y of each place that the stroke goes through. */
  readonly points: readonly number[];
}

/** A mark on all of a selection. */
export interface SelectedImportance {
  readonly mark: Mark;
  /** Id of the selection. */
  readonly selection: string;
}

/** Samples that a mark says something of: 0 not at all, 255 wholly. */
export interface ImportanceArea {
  readonly mark: Mark;
  /** One byte a sample, row by row. */
  readonly samples: Uint8Array;
}

/**
 * Importance of each sample of a picture: 1 as usual, or what the last mark over its middle says; at the soft border of an
 * area in even steps of the factor.
 * @returns undefined where nothing leaves a mark
 */
export function paintImportance(
  marks: readonly (ImportanceStroke | ImportanceArea)[],
  width: number,
  height: number,
): Raster<Float32Array> | undefined {
  if (marks.every(({ mark }) => mark === 'plain')) return undefined;
  const data = new Float32Array(width * height).fill(1);
  for (const one of marks) {
    if ('samples' in one) {
      paintArea(data, one);
      continue;
    }
    const { mark, radius, points } = one;
    const reach = Math.max(0.5, radius * width);
    const at = (i: number): readonly [number, number] => [
      (points[2 * i] ?? 0) * width,
      (points[2 * i + 1] ?? 0) * height,
    ];
    const places = Math.floor(points.length / 2);
    for (let i = 0; i < places; i += 1)
      paintCapsule(data, width, height, at(Math.max(0, i - 1)), at(i), reach, MARK_FACTORS[mark]);
  }
  return { width, height, data };
}

/**
 * Importance of each sample by the greys of a mask: white counts as under the mark *more*, black as under *less*, the middle
 * grey (128) and what is cut away as usual, and what lies between in even steps of the factor.
 */
export function importanceOfGreys({ width, height, data }: RgbaRaster): Raster<Float32Array> {
  const greys = new Float32Array(width * height);
  for (let i = 0; i < greys.length; i += 1) {
    const at = 4 * i;
    const mean = ((data[at] as number) + (data[at + 1] as number) + (data[at + 2] as number)) / 3;
    greys[i] = data[at + 3] === 0 ? 1 : MARK_FACTORS.more ** ((mean - 128) / 127);
  }
  return { width, height, data: greys };
}

/** Moves each sample towards the factor of a mark, by as much as it belongs to the area. */
function paintArea(data: Float32Array, { mark, samples }: ImportanceArea): void {
  const factor = MARK_FACTORS[mark];
  for (let i = 0; i < data.length; i += 1) {
    const share = (samples[i] ?? 0) / 255;
    if (share > 0) data[i] = (data[i] as number) ** (1 - share) * factor ** share;
  }
}

/** Fills everything within `reach` of the line between two places. */
function paintCapsule(
  data: Float32Array,
  width: number,
  height: number,
  [x0, y0]: readonly [number, number],
  [x1, y1]: readonly [number, number],
  reach: number,
  factor: number,
): void {
  const left = Math.max(0, Math.floor(Math.min(x0, x1) - reach));
  const right = Math.min(width - 1, Math.ceil(Math.max(x0, x1) + reach));
  const top = Math.max(0, Math.floor(Math.min(y0, y1) - reach));
  const bottom = Math.min(height - 1, Math.ceil(Math.max(y0, y1) + reach));
  const dx = x1 - x0;
  const dy = y1 - y0;
  const square = dx * dx + dy * dy;
  for (let row = top; row <= bottom; row += 1)
    for (let column = left; column <= right; column += 1) {
      const px = column + 0.5 - x0;
      const py = row + 0.5 - y0;
      const along = square === 0 ? 0 : Math.min(1, Math.max(0, (px * dx + py * dy) / square));
      const off = (px - along * dx) ** 2 + (py - along * dy) ** 2;
      if (off <= reach * reach) data[row * width + column] = factor;
    }
}

/** Mean importance of the samples of each cell. The map has the size of the cells' picture. */
export function importanceOfCells(
  { cell, count }: Pick<ColourCells, 'cell' | 'count'>,
  { data }: Raster<Float32Array>,
): Float32Array {
  const sums = new Float64Array(count.length + 1);
  for (let i = 0; i < cell.length; i += 1) {
    const own = cell[i] as number;
    sums[own] = (sums[own] as number) + (data[i] as number);
  }
  return Float32Array.from(count, (samples, n) => (sums[n] as number) / samples);
}
