import { tidyMm } from '../base/numbers.ts';
import { MAX_LAYERS } from '../base/raster.ts';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';

/** Heights of the layers of a print, mm. */
export interface LayerGrid {
  readonly firstLayerMm: number;
  readonly layerMm: number;
  /** Height of the layers from the second one up to layer `baseLayers`, where the lowest part is printed in thicker ones. */
  readonly baseLayerMm?: number | undefined;
  /** Layers of the thicker base, the first one included. */
  readonly baseLayers?: number | undefined;
}

/** 0.16 mm first layer, then 0.08 mm: common practice, no source. */
export const USUAL_GRID: LayerGrid = { firstLayerMm: 0.16, layerMm: 0.08 };

/** Limits within which a layer height can be set, mm. Beyond them no filament nozzle prints. */
export const LEAST_LAYER_MM = 0.02;
export const GREATEST_LAYER_MM = 1;

/** Layers that belong to the base: the first one, and those of a thicker base. */
function baseLayersOf({ baseLayers = 1, baseLayerMm }: LayerGrid): number {
  return baseLayerMm === undefined ? 1 : Math.max(1, baseLayers);
}

/**
 * Height of the top of a layer above the plate, mm: first + (n - 1) x layer, where no base is thicker.
 * @param layerNumber counted from 1; 0 gives the plate itself, 0 mm
 */
export function layerTopMm(grid: LayerGrid, layerNumber: number): number {
  if (layerNumber <= 0) return 0;
  const inBase = Math.min(layerNumber, baseLayersOf(grid));
  return tidyMm(
    grid.firstLayerMm +
      (inBase - 1) * (grid.baseLayerMm ?? grid.layerMm) +
      (layerNumber - inBase) * grid.layerMm,
  );
}

/** Thickness of one layer, mm; `layerNumber` is counted from 1. */
export function layerThicknessMm(grid: LayerGrid, layerNumber: number): number {
  if (layerNumber <= 1) return grid.firstLayerMm;
  return layerNumber <= baseLayersOf(grid) ? (grid.baseLayerMm ?? grid.layerMm) : grid.layerMm;
}

/** Tops of the plate and of every layer up to `layers`, mm: element n is the top of layer n, element 0 is 0. */
export function layerTopsMm(grid: LayerGrid, layers: number): Float64Array {
  return Float64Array.from({ length: layers + 1 }, (_, number) => layerTopMm(grid, number));
}

/**
 * Where the tops of layers 1 to `layers` lie, counted in layers above the base: the first layer is at 1, and one three times
 * as thick as those is three farther. Undefined where no base is thicker: then layer n is at n.
 */
export function evenTops(grid: LayerGrid, layers: number): number[] | undefined {
  if (baseLayersOf(grid) === 1) return undefined;
  return Array.from({ length: layers }, (_, i) =>
    tidyMm(1 + (layerTopMm(grid, i + 1) - grid.firstLayerMm) / grid.layerMm),
  );
}

/** Top of a thicker base, mm; undefined where all layers but the first are alike. */
export function baseTopMm(grid: LayerGrid): number | undefined {
  const layers = baseLayersOf(grid);
  return layers > 1 ? layerTopMm(grid, layers) : undefined;
}

/** Why a base cannot be made of layers of some height; `detail` has the nearest heights that can, mm, with a blank between. */
export type BaseFault = Fault<'not-divisible' | 'below-first-layer' | 'too-many-layers'>;

/**
 * A grid whose lowest part, up to `untilMm`, is printed in layers of `baseLayerMm` above the first one:
 * 0.72 mm are 9 layers of 0.08 but 3 of 0.24 (common practice, no source).
 */
export function withThickBase(
  grid: LayerGrid,
  untilMm: number,
  baseLayerMm: number,
): Result<LayerGrid, BaseFault> {
  const { firstLayerMm, layerMm } = grid;
  const above = (untilMm - firstLayerMm) / baseLayerMm;
  if (above < 0.5)
    return fail('below-first-layer', undefined, String(tidyMm(firstLayerMm + baseLayerMm)));
  const whole = Math.round(above);
  if (Math.abs(above - whole) > 1e-6) {
    const heights = [Math.floor(above), Math.ceil(above)]
      .filter((layers) => layers > 0)
      .map((layers) => tidyMm(firstLayerMm + layers * baseLayerMm));
    return fail('not-divisible', undefined, heights.join(' '));
  }
  // A base alone must not have more layers than a whole stack can.
  if (whole + 1 > MAX_LAYERS) return fail('too-many-layers', undefined, String(whole + 1));
  return succeed({ firstLayerMm, layerMm, baseLayerMm, baseLayers: whole + 1 });
}

/** The layer, counted from 1, whose top is nearest to a height; of two as near, the lower one. */
export function layerNearMm(grid: LayerGrid, mm: number): number {
  let nearest = 1;
  // No stack is taller, but a grid may be compared with one of much thicker layers.
  while (nearest < 100 * MAX_LAYERS && layerTopMm(grid, nearest + 1) <= mm + 1e-9) nearest += 1;
  const short = mm - layerTopMm(grid, nearest);
  return short > layerTopMm(grid, nearest + 1) - mm + 1e-9 ? nearest + 1 : nearest;
}

/** The layer of another grid whose top is nearest to that of a layer of this one; at least 1. */
export function layerInGrid(layerNumber: number, from: LayerGrid, to: LayerGrid): number {
  return layerNearMm(to, layerTopMm(from, layerNumber));
}

/** True when both heights are ones a printer could use. */
export function isUsableGrid(grid: LayerGrid): boolean {
  return [grid.firstLayerMm, grid.layerMm, grid.baseLayerMm ?? grid.layerMm].every(
    (mm) => mm >= LEAST_LAYER_MM && mm <= GREATEST_LAYER_MM,
  );
}
