import type { Raster } from '#core/base/raster.ts';

/** A place as shares of a picture's sides. */
interface Spot {
  readonly x: number;
  readonly y: number;
}

/**
 * For each zone the place that is farthest from all others, by steps across sides: room for its numeral. Two passes (A. Rosenfeld,
 * J. Pfaltz, "Sequential operations in digital picture processing", Journal of the ACM 13 (1966)).
 * @param labels zones counted from 1
 */
export function innermostOf({ width, height, data }: Raster<Uint8Array>): (Spot | undefined)[] {
  const steps = new Uint16Array(data.length);
  const near = (i: number, beside: number, inside: boolean): number =>
    inside && data[beside] === data[i] ? (steps[beside] as number) + 1 : 1;
  for (let i = 0; i < data.length; i += 1) {
    const x = i % width;
    steps[i] = Math.min(near(i, i - 1, x > 0), near(i, i - width, i >= width));
  }
  const best: (Spot | undefined)[] = [];
  const most: number[] = [];
  for (let i = data.length - 1; i >= 0; i -= 1) {
    const x = i % width;
    const y = (i - x) / width;
    steps[i] = Math.min(
      steps[i] as number,
      near(i, i + 1, x + 1 < width),
      near(i, i + width, y + 1 < height),
    );
    const zone = (data[i] as number) - 1;
    if (zone < 0 || (steps[i] as number) <= (most[zone] ?? 0)) continue;
    most[zone] = steps[i] as number;
    best[zone] = { x: (x + 0.5) / width, y: (y + 0.5) / height };
  }
  return best;
}
