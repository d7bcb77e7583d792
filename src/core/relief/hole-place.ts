import type { HeightMap } from '../base/raster.ts';
import type { PieceShape } from './shape.ts';

type Hole = PieceShape['holes'][number];

/** Material that a hole for hanging needs around it, mm: common practice, no source. */
const RIM_MM = 3;

/** Steps in which places are tried, mm. */
const STEP_MM = 0.5;

/** Samples beyond a hole's edge that are looked at. */
const RING = 2;

/**
 * Where a hole for hanging can go: as near to the middle of the upper edge as there is material all around it; whole and
 * half millimetres from the upper left corner. Null where no place has enough.
 * @param heights of the finished piece; 0 where nothing is printed, other holes included
 */
export function placeForHole(
  heights: HeightMap,
  sampleMm: number,
  diameterMm: number,
): Omit<Hole, 'diameterMm'> | null {
  const widthMm = heights.width * sampleMm;
  const heightMm = heights.height * sampleMm;
  const reachMm = diameterMm / 2 + RIM_MM;
  let best: { xMm: number; yMm: number; far: number } | null = null;
  for (let xMm = reachMm; xMm <= widthMm - reachMm; xMm += STEP_MM)
    for (let yMm = reachMm; yMm <= heightMm - reachMm; yMm += STEP_MM) {
      const far = Math.hypot(xMm - widthMm / 2, yMm);
      // Lower places of this column are farther still.
      if (best && far >= best.far) break;
      if (allPrinted(heights, xMm / sampleMm, yMm / sampleMm, reachMm / sampleMm)) {
        best = { xMm, yMm, far };
        break;
      }
    }
  return best && { xMm: best.xMm, yMm: best.yMm };
}

/** Is every sample within reach of a place printed? All in samples. */
function allPrinted({ width, data }: HeightMap, cx: number, cy: number, reach: number): boolean {
  for (let y = Math.floor(cy - reach); y < cy + reach; y += 1)
    for (let x = Math.floor(cx - reach); x < cx + reach; x += 1)
      if (Math.hypot(x + 0.5 - cx, y + 0.5 - cy) <= reach && !((data[y * width + x] ?? 0) > 0))
        return false;
  return true;
}

/** Does a hole lie where nothing is printed anyway? `heights` are those of the piece with the hole in it. */
export function missesPrint(
  { width, height, data }: HeightMap,
  sampleMm: number,
  { xMm, yMm, diameterMm }: Hole,
): boolean {
  const [cx, cy] = [xMm / sampleMm, yMm / sampleMm];
  const reach = diameterMm / 2 / sampleMm + RING;
  for (let y = Math.max(0, Math.floor(cy - reach)); y < Math.min(height, cy + reach); y += 1)
    for (let x = Math.max(0, Math.floor(cx - reach)); x < Math.min(width, cx + reach); x += 1)
      if (Math.hypot(x + 0.5 - cx, y + 0.5 - cy) <= reach && (data[y * width + x] ?? 0) > 0)
        return false;
  return true;
}
