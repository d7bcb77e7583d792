import type { HeightMap } from '../base/raster.ts';

/**
 * The part of a relief that one band prints: its heights counted from the bottom of the band, 0 where the relief does not
 * reach into it. Clamping makes no new diagonal contacts, so a parted map stays parted.
 * @param below layers under the band
 * @param end last layer of the band, counted from 1
 */
export function bandHeights(heights: HeightMap, below: number, end: number): HeightMap {
  const data = heights.data.map((layers) => (layers > below ? Math.min(layers, end) - below : 0));
  return { width: heights.width, height: heights.height, data };
}

/** Printed volume in mm3 between two layer tops: sum over all samples of area x height within the band. */
export function bandVolumeMm3(
  counts: Uint32Array,
  below: number,
  end: number,
  topsMm: Float64Array,
  sampleMm: number,
): number {
  let sum = 0;
  for (let layers = below + 1; layers < counts.length; layers += 1) {
    const top = topsMm[Math.min(layers, end)] as number;
    sum += (counts[layers] as number) * (top - (topsMm[below] as number));
  }
  return sum * sampleMm * sampleMm;
}
