import { tidyMm } from '../base/numbers.ts';

/** Heights of the layers of a print, mm. */
export interface LayerGrid {
  readonly firstLayerMm: number;
  readonly layerMm: number;
}

/** 0.16 mm first layer, then 0.08 mm: common practice, no source. */
export const USUAL_GRID: LayerGrid = { firstLayerMm: 0.16, layerMm: 0.08 };

/** Limits within which a layer height can be set, mm. Beyond them no filament nozzle prints. */
export const LEAST_LAYER_MM = 0.02;
export const GREATEST_LAYER_MM = 1;

/**
 * Height of the top of a layer above the plate, mm: first + (n - 1) x layer.
 * @param layerNumber counted from 1; 0 gives the plate itself, 0 mm
 */
export function layerTopMm(grid: LayerGrid, layerNumber: number): number {
  if (layerNumber <= 0) return 0;
  return tidyMm(grid.firstLayerMm + (layerNumber - 1) * grid.layerMm);
}

/** Thickness of one layer, mm; `layerNumber` is counted from 1. */
export function layerThicknessMm(grid: LayerGrid, layerNumber: number): number {
  return layerNumber <= 1 ? grid.firstLayerMm : grid.layerMm;
}

/** Tops of the plate and of every layer up to `layers`, mm: element n is the top of layer n, element 0 is 0. */
export function layerTopsMm(grid: LayerGrid, layers: number): Float64Array {
  return Float64Array.from({ length: layers + 1 }, (_, number) => layerTopMm(grid, number));
}

/** True when both heights are ones a printer could use. */
export function isUsableGrid(grid: LayerGrid): boolean {
  return [grid.firstLayerMm, grid.layerMm].every(
    (mm) => mm >= LEAST_LAYER_MM && mm <= GREATEST_LAYER_MM,
  );
}
