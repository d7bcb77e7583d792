import type { HeightMap, Raster } from '../base/raster.ts';

/** Marks of a map of fine parts. */
export const FINE_RIDGE = 1;
export const FINE_GAP = 2;

/** Where a relief is finer than one printed line. */
export interface FineParts {
  /** 0 where it can be printed, {@link FINE_RIDGE} or {@link FINE_GAP}. */
  readonly map: Raster<Uint8Array>;
  /** Share of what is marked in what is printed or would be closed, 0..1: a gap may lie where nothing is printed. */
  readonly share: number;
}

/**
 * Ridges and gaps narrower than a line, at all heights at once: the grey opening and closing by a square of one line's
 * width. Source: J. Serra, "Image Analysis and Mathematical Morphology", Academic Press 1982.
 */
export function findFineParts(heights: HeightMap, sampleMm: number, lineMm: number): FineParts {
  const { width, height, data } = heights;
  const side = Math.round(lineMm / sampleMm);
  const map = new Uint8Array(data.length);
  if (side < 2) return { map: { width, height, data: map }, share: 0 };
  const opened = slide(slide(heights, side, Math.min, 0), side, Math.max, side - 1);
  const closed = slide(slide(heights, side, Math.max, 0), side, Math.min, side - 1);
  let marked = 0;
  let considered = 0;
  for (let i = 0; i < data.length; i += 1) {
    const own = data[i] as number;
    if (own > 0 && (opened.data[i] as number) < own) map[i] = FINE_RIDGE;
    else if ((closed.data[i] as number) > own) map[i] = FINE_GAP;
    if (map[i] !== 0) marked += 1;
    if (own > 0 || map[i] !== 0) considered += 1;
  }
  return { map: { width, height, data: map }, share: considered === 0 ? 0 : marked / considered };
}

/** The least or greatest value in a square whose upper left corner lies `back` samples before each sample. */
function slide(
  { width, height, data }: HeightMap,
  side: number,
  pick: (a: number, b: number) => number,
  back: number,
): HeightMap {
  const rows = new Uint8Array(data.length);
  const out = new Uint8Array(data.length);
  for (let y = 0; y < height; y += 1)
    for (let x = 0; x < width; x += 1) {
      const from = Math.max(0, x - back);
      const to = Math.min(width - 1, x - back + side - 1);
      let value = data[y * width + from] as number;
      for (let k = from + 1; k <= to; k += 1) value = pick(value, data[y * width + k] as number);
      rows[y * width + x] = value;
    }
  for (let y = 0; y < height; y += 1) {
    const from = Math.max(0, y - back);
    const to = Math.min(height - 1, y - back + side - 1);
    for (let x = 0; x < width; x += 1) {
      let value = rows[from * width + x] as number;
      for (let k = from + 1; k <= to; k += 1) value = pick(value, rows[k * width + x] as number);
      out[y * width + x] = value;
    }
  }
  return { width, height, data: out };
}
