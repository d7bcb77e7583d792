import { clamp } from '#core/base/numbers.ts';
import { MAX_LAYERS } from '#core/base/raster.ts';
import { fail, succeed, type Fault, type Result } from '#core/base/result.ts';
import { layerInGrid, type LayerGrid } from '#core/stack/layer-grid.ts';
import { bandEnds, totalLayers } from '#core/stack/stack.ts';
import { isColoured } from '#core/tags/tag.ts';
import type { ProjectDocument, TagSlice } from './project-document.ts';
import { MOST_FLUSH_LAYERS, MOST_PLATE_LAYERS } from '#core/tags/tag-limits.ts';

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
    tag: document.tag && tagOnGrid(document.tag, moved),
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

/** A tag whose levels lie at the layers that are nearest to where they were; each keeps one at least. */
function tagOnGrid(tag: TagSlice, moved: (layers: number) => number): TagSlice {
  const plate = clamp(moved(tag.plate.layers), 1, MOST_PLATE_LAYERS);
  // What an element wants may be more than any stack holds.
  const over = (layers: number): number =>
    clamp(moved(tag.plate.layers + layers) - plate, 1, MAX_LAYERS);
  return {
    ...tag,
    plate: { ...tag.plate, layers: plate },
    // They lie on the bed, whatever the plate has of layers.
    flush: { ...tag.flush, layers: clamp(moved(tag.flush.layers), 1, MOST_FLUSH_LAYERS) },
    elements: tag.elements.map((element) => {
      if (!isColoured(element)) return element;
      const { way, level, layers } = element;
      const down = clamp(plate - moved(Math.max(1, tag.plate.layers - level)), 1, MAX_LAYERS);
      return { ...element, layers: over(layers), level: way === 'raised' ? over(level) : down };
    }),
  };
}
