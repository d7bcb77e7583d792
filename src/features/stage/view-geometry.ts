import { clamp } from '#core/base/numbers.ts';
import type { Spot } from '../../state/view-store.ts';

/** Where the picture lies on the stage, in screen pixels from its top left corner. */
export interface Frame {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  /** Screen pixels per millimetre. */
  readonly scale: number;
}

/** What the view needs to know of the stage and the picture. */
export interface Placement {
  readonly stageWidth: number;
  readonly stageHeight: number;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly zoom: number | null;
  readonly panX: number;
  readonly panY: number;
  /** Height of what stands at the foot of the stage, px; none by default. */
  readonly footPx?: number | undefined;
}

/** Free space around a fitted picture, screen pixels; more at top and bottom, where the tools are. */
const MARGIN_X = 28;
const MARGIN_Y = 56;

const LEAST_SCALE = 0.05;
const GREATEST_SCALE = 400;

/** The scale at which the whole picture fits. */
export function fitScale(placement: Placement): number {
  const { stageWidth, stageHeight, widthMm, heightMm, footPx = 0 } = placement;
  return Math.max(
    LEAST_SCALE,
    Math.min(
      (stageWidth - 2 * MARGIN_X) / widthMm,
      (stageHeight - footPx - 2 * MARGIN_Y) / heightMm,
    ),
  );
}

/** The frame of the picture. */
export function frameOf(placement: Placement): Frame {
  const { stageWidth, stageHeight, widthMm, heightMm, zoom, panX, panY, footPx = 0 } = placement;
  const scale = zoom ?? fitScale(placement);
  const width = widthMm * scale;
  const height = heightMm * scale;
  return {
    left: (stageWidth - width) / 2 + panX,
    top: (stageHeight - footPx - height) / 2 + panY,
    width,
    height,
    scale,
  };
}

/** Zooms by a factor so that the point of the picture under (x, y) stays there. */
export function zoomAt(
  placement: Placement,
  factor: number,
  x: number,
  y: number,
): Pick<Placement, 'zoom' | 'panX' | 'panY'> {
  const before = frameOf(placement);
  const zoom = clamp(before.scale * factor, LEAST_SCALE, GREATEST_SCALE);
  const ratio = zoom / before.scale;
  const centreX = before.left + before.width / 2;
  const centreY = before.top + before.height / 2;
  return {
    zoom,
    panX: x + (centreX - x) * ratio - placement.stageWidth / 2,
    panY: y + (centreY - y) * ratio - (placement.stageHeight - (placement.footPx ?? 0)) / 2,
  };
}

/** The spot of the picture at a place on the stage, or null beside it. */
export function spotAt(frame: Frame, x: number, y: number): Spot | null {
  const spot = { x: (x - frame.left) / frame.width, y: (y - frame.top) / frame.height };
  return spot.x >= 0 && spot.x < 1 && spot.y >= 0 && spot.y < 1 ? spot : null;
}
