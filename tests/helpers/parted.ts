import type { HeightMap } from '#core/base/raster.ts';
import {
  heightsByRule,
  pricesOfHeights,
  type HeightRule,
  type RuleArtwork,
  type RuleLimits,
} from '#core/heights/height-rules.ts';
import { partDiagonals, type PartedHeights } from '#core/relief/part-diagonals.ts';

/** The heights of a picture by a rule, shaped, and free of diagonal contacts by what changes cost: all stages, nothing kept. */
export function partedByRule(
  artwork: RuleArtwork,
  rule: HeightRule,
  limits: RuleLimits,
  shaped: (heights: HeightMap) => HeightMap = (heights) => heights,
): PartedHeights {
  const own = heightsByRule(artwork, rule, limits);
  return partDiagonals(shaped(own), () => {
    const prices = pricesOfHeights(artwork, rule, limits);
    return prices && { ...prices, own, leastLayers: limits.leastLayers };
  });
}
