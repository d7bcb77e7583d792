import { MAX_LAYERS } from '#core/base/raster.ts';
import { fail, succeed, type Fault, type Result } from '#core/base/result.ts';
import { layerInGrid, type LayerGrid } from '#core/stack/layer-grid.ts';
import { bandEnds, totalLayers } from '#core/stack/stack.ts';
import type { ProjectDocument } from './project-document.ts';

/**
 * A document on another layer grid: every height in it goes to the layer whose top is nearest to where it was, and each band
 * keeps one layer at least. It fails where the same height would take more layers than can be printed; `detail` has how many.
 */
export function withGrid(
  document: ProjectDocument,
  grid: LayerGrid,
): Result<ProjectDocument, Fault<'too-many-layers'>> {
  const {
    stack: { grid: from, bands },
    heights: { closest, flat, leastLayers },
    piece: { shape },
  } = document;
  const { baseLayers = 1 } = grid;
  if (baseLayers > MAX_LAYERS) return fail('too-many-layers', undefined, String(baseLayers));
  const moved = (layers: number): number => layerInGrid(layers, from, grid);
  let below = 0;
  const ends = bandEnds(bands).map((end) => (below = Math.max(below + 1, moved(end))));
  const changed = bands.map((band, i) => ({
    ...band,
    layers: (ends[i] ?? 1) - (ends[i - 1] ?? 0),
  }));
  const top = totalLayers(changed);
  if (top > MAX_LAYERS) return fail('too-many-layers', undefined, String(top));
  const within = (layers: number): number => Math.min(top, moved(layers));
  return succeed({
    ...document,
    stack: { ...document.stack, grid: { ...grid }, bands: changed },
    heights: {
      ...document.heights,
      leastLayers: within(leastLayers),
      closest: {
        ...closest,
        aims: closest.aims.map((aim) => ({ ...aim, layerNumber: within(aim.layerNumber) })),
      },
      flat: { colours: flat.colours.map((one) => ({ ...one, layers: within(one.layers) })) },
    },
    piece: {
      ...document.piece,
      shape: {
        ...shape,
        border: shape.border && { ...shape.border, layers: within(shape.border.layers) },
        plate: shape.plate && { ...shape.plate, layers: within(shape.plate.layers) },
      },
    },
  });
}
