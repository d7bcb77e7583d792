import type { HeightMap } from '#core/base/raster.ts';
import { countEdges, countHeights, middlesOf, printedPart } from '#core/heights/height-map.ts';
import type { ArtworkJobs } from './artwork/jobs.ts';

/** What is counted in a relief, and where the middles of its layers lie. */
export function measureWhole(heights: HeightMap): ArtworkJobs['counts']['output'] {
  return { ...measure(heights), middles: middlesOf(heights) };
}

/** What is counted in a relief. */
export function measure(heights: HeightMap): Omit<ArtworkJobs['counts']['output'], 'middles'> {
  const { columns = 0, rows = 0 } = printedPart(heights) ?? {};
  return { counts: countHeights(heights), edges: countEdges(heights), extent: { columns, rows } };
}
