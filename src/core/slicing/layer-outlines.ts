import type { HeightMap } from '../base/raster.ts';
import { traceOutlines } from '../relief/outlines.ts';
import { simplifyClosed } from '../relief/simplify-line.ts';
import { outlinesAt, type SharedOutlines } from '../relief/smooth-outlines.ts';

/** How far an outline may move by being simplified, mm: a third of what a nozzle could show. */
export const SIMPLIFY_MM = 0.03;

/**
 * Closed outlines of a layer through the middles of the sides of samples, simplified, so that stairs of samples become the slope
 * that they stand for. Outer ones run clockwise as seen in the picture, holes the other way.
 * @param heights free of diagonal contacts (see `partDiagonals`)
 * @param smooth outlines shared by all layers, where the piece has such; its files have the same
 * @returns x and y of the corners, mm from the top left corner of the picture
 */
export function layerOutlines(
  heights: HeightMap,
  level: number,
  sampleMm: number,
  smooth?: SharedOutlines,
): Float64Array[] {
  if (smooth)
    return outlinesAt(smooth, level).map((line) => Float64Array.from(line, (at) => at * sampleMm));
  return traceOutlines(heights, level).map((corners) =>
    simplifyClosed(throughMiddles(corners, sampleMm), SIMPLIFY_MM),
  );
}

/** Both sides of a corner of the piece are at least this many samples long; at shorter ones it is a step of a slope. */
const REAL_CORNER = 2;

/** The first and last middle of a sample's side on each straight run of an outline, and the corners between long runs. */
function throughMiddles(corners: readonly number[], sampleMm: number): Float64Array {
  const points: number[] = [];
  const count = corners.length;
  const sidesFrom = (n: number): number =>
    Math.abs((corners[(n + 2) % count] as number) - (corners[n] as number)) +
    Math.abs((corners[(n + 3) % count] as number) - (corners[n + 1] as number));
  let before = sidesFrom(count - 2);
  for (let n = 0; n < count; n += 2) {
    const next = (n + 2) % count;
    const [x0, y0] = [corners[n] as number, corners[n + 1] as number];
    const [x1, y1] = [corners[next] as number, corners[next + 1] as number];
    const sides = sidesFrom(n);
    const dx = (x1 - x0) / sides / 2;
    const dy = (y1 - y0) / sides / 2;
    if (Math.min(before, sides) >= REAL_CORNER) points.push(x0, y0);
    points.push(x0 + dx, y0 + dy);
    if (sides > 1) points.push(x1 - dx, y1 - dy);
    before = sides;
  }
  return Float64Array.from(points, (at) => at * sampleMm);
}
