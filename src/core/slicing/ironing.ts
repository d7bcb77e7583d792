import type { LinePath } from './line-path.ts';
import { rowsWithin } from './rows.ts';
import { shrink } from './shrink.ts';

/** How tops are smoothed: the nozzle goes over them once more, close, slowly, and with little filament. */
export interface Ironing {
  /** Bands whose tops are ironed, counted from 0. */
  readonly bands: readonly number[];
  readonly spacingMm: number;
  /** Share of the filament that a line of that spacing takes. */
  readonly flow: number;
  readonly speedMmS: number;
}

/** 0.12 mm, a tenth of the filament, 20 mm/s: common practice, no source. */
export const USUAL_IRONING: Omit<Ironing, 'bands'> = { spacingMm: 0.12, flow: 0.1, speedMmS: 20 };

/** What may be set. */
export const IRONING_LIMITS = {
  spacingMm: [0.05, 0.5],
  flow: [0, 0.5],
  speedMmS: [1, 200],
} as const;

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
