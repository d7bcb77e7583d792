import type { HeightMap } from '../base/raster.ts';
import { withoutIslands, withoutPits } from '../heights/islands.ts';
import { partDiagonals, type HeightPrices, type PartedHeights } from './part-diagonals.ts';

/**
 * Heights free of diagonal contacts and of islands, both at once: parting makes new islands (a lowered sample cuts a spot in two, a
 * raised one closes a pit in), and taking those away makes new contacts. After one round that may lower, samples are only raised:
 * a raised one joins what stands beside it, so no raised spot becomes too small again, and since heights never pass the tallest
 * one, it ends.
 * @param leastSamples area of the smallest island that stays; up to 1 keeps all
 * @param pricesOf see `partDiagonals`
 */
export function partWithoutIslands(
  source: HeightMap,
  leastSamples: number,
  pricesOf?: () => HeightPrices | undefined,
): PartedHeights {
  const parted = partDiagonals(source, pricesOf);
  if (leastSamples <= 1 || parted.raisedSamples + parted.loweredSamples === 0) return parted;
  let heights = withoutIslands(parted.heights, leastSamples);
  for (;;) {
    const again = partDiagonals(heights);
    heights = withoutPits(again.heights, leastSamples);
    if (again.raisedSamples === 0 && isSame(heights, again.heights)) break;
  }
  let [raisedSamples, loweredSamples] = [0, 0];
  source.data.forEach((before, i) => {
    const after = heights.data[i] as number;
    if (after > before) raisedSamples += 1;
    else if (after < before) loweredSamples += 1;
  });
  return { heights, raisedSamples, loweredSamples };
}

const isSame = (one: HeightMap, other: HeightMap): boolean =>
  one.data.every((layers, i) => layers === other.data[i]);
