import type { HeightMap } from '#core/base/raster.ts';
import { countEdges, countHeights, printedPart } from '#core/heights/height-map.ts';
import type { ArtworkJobs } from './artwork/jobs.ts';

/** What is counted in a relief. */
export function measure(heights: HeightMap): ArtworkJobs['counts']['output'] {
  const { columns = 0, rows = 0 } = printedPart(heights) ?? {};
  return { counts: countHeights(heights), edges: countEdges(heights), extent: { columns, rows } };
}
