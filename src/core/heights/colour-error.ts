import type { HeightMap, RgbaRaster } from '../base/raster.ts';
import type { Ramp } from '../optics/ramp.ts';
import { differenceOf } from './difference.ts';

/** Mean CIEDE2000 of print and artwork over all printed samples; undefined where nothing is printed. */
export function meanColourError(
  samples: RgbaRaster,
  heights: HeightMap,
  ramp: Ramp,
): number | undefined {
  return differenceOf(samples, heights, ramp)?.mean;
}
