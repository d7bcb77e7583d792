import type { ColourCells } from '../artwork/colour-cells.ts';
import { ciede2000Of } from '../colour/ciede2000.ts';
import type { Ramp } from '../optics/ramp.ts';
import { heightScale, positionOfLayer } from '../stack/height-scale.ts';
import { cellWeights, clusterCells } from './clusters.ts';

/** Colours that the curve is decided by. */
const COLOURS = 96;

/** How much lightness counts more than colour: a curve can only tell colours of different lightness apart. */
export const TONE_LIGHTNESS = 3;

/** A point of a curve; the shape that `ToneCurve` has. */
export interface RisingPoint {
  /** L* */
  readonly lightness: number;
  /** 0 is the least height, 1 the top of the stack. */
  readonly position: number;
}

/**
 * The rising tone curve that brings a stack closest to a picture: dynamic programming over the colours from dark to light
 * and the heights from low to high (R. Bellman, "Dynamic Programming", 1957), drawn through the middles of its steps.
 * @param tops see `evenTops`
 * @param mostPoints points of the curve at most, 2 or more; what is over is left out where it is missed least
 */
export function risingCurve(
  cells: Pick<ColourCells, 'colour' | 'count'>,
  ramp: Ramp,
  leastLayers: number,
  mostPoints: number,
  tops?: readonly number[],
): RisingPoint[] {
  const { lab, weight } = clusterCells(cells, cellWeights(cells.count), COLOURS, TONE_LIGHTNESS);
  const scale = heightScale(ramp.length, leastLayers, tops);
  const heights = risingHeights(lab, weight, ramp, scale.least);
  const runs: { height: number; weight: number; lightness: number }[] = [];
  heights.forEach((height, k) => {
    const share = weight[k] as number;
    const lightness = lab[3 * k] as number;
    const run = runs.at(-1);
    if (run?.height === height) {
      run.lightness = (run.lightness * run.weight + lightness * share) / (run.weight + share);
      run.weight += share;
    } else runs.push({ height, weight: share, lightness });
  });
  while (runs.length > mostPoints) {
    let out = 1;
    for (let i = 1; i < runs.length - 1; i += 1)
      if ((runs[i]?.weight ?? 0) < (runs[out]?.weight ?? 0)) out = i;
    runs.splice(out, 1);
  }
  const points = runs.map(({ height, lightness }) => ({
    lightness: Math.round(lightness * 10) / 10,
    position: Math.round(1000 * positionOfLayer(scale, height)) / 1000,
  }));
  const [only] = points;
  // One height for everything: a level line.
  return points.length === 1 && only
    ? [
        { ...only, lightness: 0 },
        { ...only, lightness: 100 },
      ]
    : points;
}

/** Height of each colour, never falling from one to the next. */
function risingHeights(
  lab: Float64Array,
  weight: Float64Array,
  ramp: Ramp,
  least: number,
): number[] {
  const colours = weight.length;
  // From[h][k]: does colour k lie on height h (1), or is everything up to it as it was with lower heights (0)?
  const from: Uint8Array[] = [];
  let best = new Float64Array(colours).fill(Infinity);
  for (let layer = least; layer <= ramp.length; layer += 1) {
    const [l = 0, a = 0, b = 0] = ramp[layer - 1]?.lab ?? [];
    const next = new Float64Array(colours);
    const here = new Uint8Array(colours);
    for (let k = 0; k < colours; k += 1) {
      const i = 3 * k;
      const difference = ciede2000Of(
        l,
        a,
        b,
        lab[i] as number,
        lab[i + 1] as number,
        lab[i + 2] as number,
      );
      const price = (k > 0 ? (next[k - 1] as number) : 0) + (weight[k] as number) * difference;
      here[k] = price < (best[k] as number) ? 1 : 0;
      next[k] = Math.min(price, best[k] as number);
    }
    from.push(here);
    best = next;
  }
  const heights = new Array<number>(colours).fill(least);
  let level = from.length - 1;
  for (let k = colours - 1; k >= 0; k -= 1) {
    while (level > 0 && from[level]?.[k] === 0) level -= 1;
    heights[k] = least + level;
  }
  return heights;
}
