import { BRIGHTNESS_STEPS, type BrightnessMap } from '../artwork/brightness.ts';
import type { HeightMap } from '../base/raster.ts';

/**
 * How natural a relief is: the rank correlation of height with brightness over all printed samples of the picture (C. Spearman,
 * "The proof and measurement of association between two things", American Journal of Psychology 15 (1904)), equal values at the
 * mean of their ranks. 1: the lighter, the higher; -1: the other way about; near 0: heights tell nothing of the picture.
 * @returns undefined where all is of one height or one brightness, or nothing is printed
 */
export function naturalness(brightness: BrightnessMap, heights: HeightMap): number | undefined {
  const ofSteps = new Float64Array(BRIGHTNESS_STEPS);
  const ofHeights = new Float64Array(256);
  let total = 0;
  const { data } = heights;
  for (let i = 0; i < data.length; i += 1) {
    const step = brightness.data[i] as number;
    const height = data[i] as number;
    if (height === 0 || step >= BRIGHTNESS_STEPS) continue;
    ofSteps[step] = (ofSteps[step] as number) + 1;
    ofHeights[height] = (ofHeights[height] as number) + 1;
    total += 1;
  }
  const spreadOfSteps = rank(ofSteps, total);
  const spreadOfHeights = rank(ofHeights, total);
  if (spreadOfSteps === 0 || spreadOfHeights === 0) return undefined;
  let sum = 0;
  for (let i = 0; i < data.length; i += 1) {
    const step = brightness.data[i] as number;
    const height = data[i] as number;
    if (height === 0 || step >= BRIGHTNESS_STEPS) continue;
    sum += (ofSteps[step] as number) * (ofHeights[height] as number);
  }
  return sum / Math.sqrt(spreadOfSteps * spreadOfHeights);
}

/** Puts mean ranks, less the mean of all, in place of counts; returns the sum of their squares. */
function rank(counts: Float64Array, total: number): number {
  let below = 0;
  let squares = 0;
  for (let value = 0; value < counts.length; value += 1) {
    const own = counts[value] as number;
    const middle = below + own / 2 - total / 2;
    counts[value] = middle;
    squares += own * middle * middle;
    below += own;
  }
  return squares;
}
