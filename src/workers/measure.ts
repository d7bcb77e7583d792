import type { HeightMap } from '#core/base/raster.ts';
import { countEdges, countHeights, middlesOf, printedPart } from '#core/heights/height-map.ts';
import { countInlays } from '#core/relief/count-inlays.ts';
import type { PlannedRelief } from '#core/plan/relief-plan.ts';
import type { ArtworkJobs } from './artwork/jobs.ts';

/** What is counted in a relief, and where the middles of its layers lie. */
export function measureWhole({
  heights,
  inlaid,
}: Pick<PlannedRelief, 'heights' | 'inlaid'>): ArtworkJobs['counts']['output'] {
  return {
    ...measure(heights),
    middles: middlesOf(heights),
    inlays: inlaid ? countInlays(heights, inlaid) : null,
  };
}

/** What is counted in a relief. */
export function measure(
  heights: HeightMap,
): Omit<ArtworkJobs['counts']['output'], 'middles' | 'inlays'> {
  const { columns = 0, rows = 0 } = printedPart(heights) ?? {};
  return { counts: countHeights(heights), edges: countEdges(heights), extent: { columns, rows } };
}
