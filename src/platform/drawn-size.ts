import { WORKING_AREA_PX } from './check-picture.ts';

/** Sides of a drawing, in any unit. */
interface Proportions {
  readonly width: number;
  readonly height: number;
}

/** Longer side at which a drawing is drawn at least, pixels: finer than reliefs of the usual sizes are sampled. */
export const LEAST_DRAWN_PX = 2400;

/** Longer side at which a drawing of these proportions is drawn at most, pixels: the working area of every picture. */
export function mostDrawnPx({ width, height }: Proportions): number {
  const ratio = Math.max(width, height) / Math.min(width, height);
  return Math.floor(Math.sqrt(WORKING_AREA_PX * ratio));
}

/**
 * The pixels that a drawing is drawn on.
 * @param longerPx what its longer side should have; kept between {@link LEAST_DRAWN_PX} and {@link mostDrawnPx}
 */
export function drawnSize(
  { width, height }: Proportions,
  longerPx = LEAST_DRAWN_PX,
): {
  readonly width: number;
  readonly height: number;
} {
  const most = mostDrawnPx({ width, height });
  const factor =
    Math.min(most, Math.max(LEAST_DRAWN_PX, Math.round(longerPx))) / Math.max(width, height);
  return {
    width: Math.max(1, Math.round(width * factor)),
    height: Math.max(1, Math.round(height * factor)),
  };
}
