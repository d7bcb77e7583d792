import type { HeightMap, RgbaRaster } from '../base/raster.ts';
import type { Ramp } from '../optics/ramp.ts';
import { differenceOf } from './difference.ts';

/** Mean CIEDE2000 of print and artwork over all printed samples; undefined where nothing is printed. See {@link differenceOf}. */
export function meanColourError(
  samples: RgbaRaster,
  heights: HeightMap,
  ramp: Ramp,
  sampleMm: number,
): number | undefined {
  return differenceOf(samples, heights, ramp, sampleMm)?.mean;
}
