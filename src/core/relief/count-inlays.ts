import type { HeightMap } from '../base/raster.ts';
import { middlesOf } from '../heights/height-map.ts';
import type { Inlaid } from './inlaid.ts';

/** Inlays of a face on the bed, counted. */
export interface CountedInlays {
  /** Samples of each. */
  readonly samples: readonly number[];
  /** Middles of the layers without them, see `middlesOf`; those above the inlays mean nothing. */
  readonly middles: readonly (readonly [number, number])[];
}

/** Counts the samples of each inlay, and looks where the middles of the rest of the lowest layers lie. */
export function countInlays(heights: HeightMap, { filaments, map }: Inlaid): CountedInlays {
  const samples = filaments.map(() => 0);
  const data = heights.data.map((layers, i) => {
    const own = map.data[i] as number;
    if (own === 0) return layers;
    samples[own - 1] = (samples[own - 1] as number) + 1;
    return 0;
  });
  return { samples, middles: middlesOf({ ...heights, data }) };
}
