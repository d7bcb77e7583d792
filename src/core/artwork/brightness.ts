import type { Raster, RgbaRaster } from '../base/raster.ts';
import { lightnessOfLuminance } from '../colour/lab.ts';
import { LINEAR_OF_BYTE } from '../colour/srgb.ts';
import { XYZ_OF_LINEAR } from '../colour/xyz.ts';

/** Steps of brightness that are told apart: L* 0..100 in 4095 steps, much finer than any layer. */
export const BRIGHTNESS_STEPS = 4096;

/** Marks a sample that is cut away. */
export const NO_BRIGHTNESS = 65535;

/** Brightness of each sample: L* x 4095 / 100, rounded, or {@link NO_BRIGHTNESS} where the picture is cut away. */
export type BrightnessMap = Raster<Uint16Array>;

const LUMINANCE_STEPS = 32768;
const STEP_OF_LUMINANCE = Uint16Array.from({ length: LUMINANCE_STEPS + 1 }, (_, i) =>
  Math.round((lightnessOfLuminance(i / LUMINANCE_STEPS) / 100) * (BRIGHTNESS_STEPS - 1)),
);

/** L* (0..100) that a brightness step stands for. */
export function lightnessOfStep(step: number): number {
  return (step / (BRIGHTNESS_STEPS - 1)) * 100;
}

/** Measures L* at every sample; samples with alpha below one half are cut away. */
export function measureBrightness(samples: RgbaRaster): BrightnessMap {
  const { width, height, data } = samples;
  const out = new Uint16Array(width * height);
  const [redShare, greenShare, blueShare] = XYZ_OF_LINEAR[1];
  for (let i = 0, at = 0; i < out.length; i += 1, at += 4) {
    if ((data[at + 3] as number) < 128) {
      out[i] = NO_BRIGHTNESS;
      continue;
    }
    const luminance =
      redShare * (LINEAR_OF_BYTE[data[at] as number] as number) +
      greenShare * (LINEAR_OF_BYTE[data[at + 1] as number] as number) +
      blueShare * (LINEAR_OF_BYTE[data[at + 2] as number] as number);
    out[i] = STEP_OF_LUMINANCE[Math.round(Math.min(1, luminance) * LUMINANCE_STEPS)] as number;
  }
  return { width, height, data: out };
}

/** How many samples have each brightness step; cut-away samples are left out. */
export function brightnessHistogram(map: BrightnessMap): Uint32Array {
  const counts = new Uint32Array(BRIGHTNESS_STEPS);
  for (const step of map.data)
    if (step < BRIGHTNESS_STEPS) counts[step] = (counts[step] as number) + 1;
  return counts;
}
