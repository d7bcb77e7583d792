import { layerNearMm, layerTopMm, type LayerGrid } from '#core/stack/layer-grid.ts';

/** How the section is drawn: pixels from the top of the drawing. */
export interface SectionScale {
  /** Where the plate lies. */
  readonly plateY: number;
  readonly pixelsPerMm: number;
}

/** From the bracket of one zone to that of the next. */
export const BRACKET_PX = 13;

const TOP_MARGIN = 18;
const BOTTOM_MARGIN = 8;
/** So that a stack of three layers does not fill the panel with three slabs. */
const MOST_PIXELS_PER_LAYER = 26;

/** The scale at which a stack of some height fills a drawing of some height. */
export function sectionScale(
  drawingHeight: number,
  totalMm: number,
  layerMm: number,
): SectionScale {
  const room = Math.max(40, drawingHeight - TOP_MARGIN - BOTTOM_MARGIN);
  return {
    plateY: drawingHeight - BOTTOM_MARGIN,
    pixelsPerMm: Math.min(room / totalMm, MOST_PIXELS_PER_LAYER / layerMm),
  };
}

/** Place of a height on the drawing. */
export function yOf(scale: SectionScale, mm: number): number {
  return scale.plateY - mm * scale.pixelsPerMm;
}

/** The layer (counted from 1; 0 is the plate) whose top is nearest to a place on the drawing. */
export function layerAt(scale: SectionScale, grid: LayerGrid, y: number): number {
  const mm = (scale.plateY - y) / scale.pixelsPerMm;
  return mm < layerTopMm(grid, 1) / 2 ? 0 : layerNearMm(grid, mm);
}

/** Heights in mm at which the axis has a mark: a round step that leaves room for the figures. */
export function axisMarks(scale: SectionScale, totalMm: number): number[] {
  const step = [0.1, 0.2, 0.4, 0.5, 1, 2, 5].find((mm) => mm * scale.pixelsPerMm >= 46) ?? 10;
  return Array.from({ length: Math.floor(totalMm / step + 1e-9) + 1 }, (_, i) =>
    Number((i * step).toFixed(3)),
  );
}

/** A label that wants to be at a height of the drawing and needs some room. */
export interface LabelWish {
  readonly middle: number;
  readonly height: number;
}

/**
 * Tops of labels so that none overlap, in the given order from top to bottom, each as near to its wish as that allows.
 */
export function placeLabels(wishes: readonly LabelWish[], top: number, bottom: number): number[] {
  const tops: number[] = [];
  let free = top;
  for (const { middle, height } of wishes) {
    const at = Math.max(free, middle - height / 2);
    tops.push(at);
    free = at + height;
  }
  let limit = bottom;
  for (let i = wishes.length - 1; i >= 0; i -= 1) {
    const height = wishes[i]?.height ?? 0;
    tops[i] = Math.min(tops[i] ?? 0, limit - height);
    limit = tops[i] ?? 0;
  }
  return tops;
}
