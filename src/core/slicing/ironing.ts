import type { Ironing } from './ironing-settings.ts';
import type { LinePath } from './line-path.ts';
import { rowsWithin } from './rows.ts';
import { shrink } from './shrink.ts';

/**
 * Rows over what a layer shows: what belongs to it, but not to the next one.
 * @param own outlines of the layer, mm; above those of the next one
 * @param isShown whether a place is seen from above in this layer
 */
export function ironRows(
  own: readonly Float64Array[],
  above: readonly Float64Array[],
  degrees: number,
  lineMm: number,
  { spacingMm, flow }: Ironing,
  isShown: (x: number, y: number) => boolean,
): LinePath[] {
  // Half a line within the rim, so that nothing is pushed over it. Both are shrunk alike: where a wall is common to both nothing is left.
  const shown = [...shrink(own, lineMm / 2), ...shrink(above, lineMm / 2)];
  return rowsWithin(shown, spacingMm, degrees, isShown).map((points) => ({
    kind: 'iron',
    points,
    closed: false,
    widthMm: spacingMm * flow,
  }));
}
