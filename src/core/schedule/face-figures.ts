import type { CountedInlays } from '../relief/count-inlays.ts';
import { flushOrders, type FlushFace } from '../stack/flush.ts';
import { LAYER_PAUSE_S } from './estimate.ts';

/** A face on the bed with its inlays counted. */
export interface CountedFace extends FlushFace {
  readonly counted: CountedInlays;
}

/** Samples of inlays that are not laid with the lowest layers: those that are printed first. */
export function samplesApart(flush: CountedFace | null | undefined, layer: number): number {
  return flush?.print === 'first' && layer <= flush.layers
    ? flush.counted.samples.reduce((sum, one) => sum + one, 0)
    : 0;
}

/** Samples of each layer; element n is layer n. */
function samplesOfLayers(counts: Uint32Array): number[] {
  const samples: number[] = new Array<number>(counts.length).fill(0);
  let sum = 0;
  for (let n = counts.length - 1; n >= 1; n -= 1) samples[n] = sum += counts[n] as number;
  return samples;
}

/**
 * Seconds of the parts of a face, in the order of its changes of filament: of inlays that are printed first, or of what is laid of a
 * layer before each change. They are taken from those of the layers, by area; what a slice tells of the first ones is in none.
 * @param layerS of the layers with all their parts; what the parts take goes out of them
 * @param inlayS what a slice tells of inlays that are printed first
 */
export function faceSeconds(
  flush: CountedFace,
  counts: Uint32Array,
  layerS: Float64Array,
  inlayS: readonly number[] | undefined,
): number[] {
  const samples = samplesOfLayers(counts);
  const { layers, filaments, counted } = flush;
  const shareOf = (part: number, layer: number): number => {
    const inlays = counted.samples.reduce((sum, one) => sum + one, 0);
    const all = samples[layer] ?? 0;
    const own = part === 0 ? all - inlays : (counted.samples[part - 1] ?? 0);
    return all > 0 ? own / all : 0;
  };
  if (flush.print === 'within')
    return flushOrders(flush).flatMap((order, n) => {
      const whole = layerS[n + 1] as number;
      const parts = order.slice(0, -1).map((part) => whole * shareOf(part, n + 1));
      layerS[n + 1] = whole - parts.reduce((sum, one) => sum + one, 0);
      return parts;
    });
  if (inlayS) return [...inlayS];
  const seconds = filaments.map(() => 0);
  for (let layer = 1; layer <= layers; layer += 1) {
    const whole = layerS[layer] as number;
    filaments.forEach((_, i) => {
      const own = whole * shareOf(i + 1, layer);
      seconds[i] = (seconds[i] as number) + own + LAYER_PAUSE_S;
      layerS[layer] = (layerS[layer] as number) - own;
    });
  }
  return seconds;
}
