import { noCheckpoint, type Checkpoint } from '../base/checkpoint.ts';
import type { HeightMap, RgbaRaster } from '../base/raster.ts';
import { ciede2000Of } from '../colour/ciede2000.ts';
import { labOfBytes } from '../colour/lab.ts';
import type { Ramp } from '../optics/ramp.ts';

/**
 * Mean CIEDE2000 between the artwork's samples and the print predicted for them, over all printed samples; undefined
 * where nothing is printed. Equal pairs of colour and height are computed once: pictures repeat them a lot.
 */
export function meanColourError(
  samples: RgbaRaster,
  heights: HeightMap,
  ramp: Ramp,
  checkpoint: Checkpoint = noCheckpoint,
): number | undefined {
  const counts = new Map<number, number>();
  const { data } = samples;
  for (let i = 0, at = 0; i < heights.data.length; i += 1, at += 4) {
    const layers = heights.data[i] as number;
    if (layers === 0) continue;
    const rgb =
      ((data[at] as number) << 16) | ((data[at + 1] as number) << 8) | (data[at + 2] as number);
    const key = rgb * 256 + layers;
    counts.set(key, (counts.get(key) ?? 0) + 1);
    if ((i & 0xffff) === 0) checkpoint((0.4 * i) / heights.data.length);
  }
  let sum = 0;
  let printed = 0;
  let done = 0;
  for (const [key, count] of counts) {
    const step = ramp[Math.min(key % 256, ramp.length) - 1];
    const rgb = Math.floor(key / 256);
    if (!step) continue;
    const [l, a, b] = labOfBytes([rgb >> 16, (rgb >> 8) & 255, rgb & 255]);
    sum += count * ciede2000Of(l, a, b, step.lab[0], step.lab[1], step.lab[2]);
    printed += count;
    done += 1;
    if ((done & 0x3fff) === 0) checkpoint(0.4 + (0.6 * done) / counts.size);
  }
  return printed === 0 ? undefined : sum / printed;
}
