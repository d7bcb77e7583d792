import { BRIGHTNESS_STEPS, lightnessOfStep, type BrightnessMap } from '../artwork/brightness.ts';
import type { HeightMap } from '../base/raster.ts';
import { clamp } from '../base/numbers.ts';

/**
 * Height rule *Tone*: darker is lower, lighter is higher, or the other way about.
 * All points are L* values, 0..100, with `blackPoint < midpoint < whitePoint`.
 */
export interface ToneRule {
  readonly kind: 'tone';
  /** Everything this dark or darker gets the end height. */
  readonly blackPoint: number;
  /** Everything this light or lighter gets the other end height. */
  readonly whitePoint: number;
  /** The brightness that lands half way up. */
  readonly midpoint: number;
  /** True: light is low and dark is high. */
  readonly reversed: boolean;
}

/** The whole range of brightness, straight. */
export const PLAIN_TONE: ToneRule = {
  kind: 'tone',
  blackPoint: 0,
  whitePoint: 100,
  midpoint: 50,
  reversed: false,
};

/** Least distance between two neighbouring points of the rule, in L*. */
export const LEAST_POINT_GAP = 1;

/** Layers that every printed spot has at least, so that the piece can be lifted off the bed: common practice, no source. */
export const LEAST_LAYERS = 3;

/**
 * Where a brightness lies in the rule, 0 (lowest) to 1 (highest).
 * Between the points the share is raised to the power that takes the midpoint to one half.
 */
export function tonePosition(rule: ToneRule, lightness: number): number {
  const { blackPoint, whitePoint, midpoint, reversed } = rule;
  const span = whitePoint - blackPoint;
  const share = clamp((lightness - blackPoint) / span, 0, 1);
  const middle = clamp((midpoint - blackPoint) / span, 0.001, 0.999);
  const position = share ** (Math.log(0.5) / Math.log(middle));
  return reversed ? 1 - position : position;
}

/**
 * Height in layers for each brightness step. The heights from `leastLayers` to `layers` share the range of positions in
 * equal parts, so that no height is favoured.
 * @returns {@link BRIGHTNESS_STEPS} layer counts, each `leastLayers..layers` (all `layers` when the stack is no taller)
 */
export function toneTable(rule: ToneRule, layers: number, leastLayers: number): Uint8Array {
  const least = Math.min(leastLayers, layers);
  const choices = layers - least + 1;
  return Uint8Array.from({ length: BRIGHTNESS_STEPS }, (_, step) => {
    const position = tonePosition(rule, lightnessOfStep(step));
    return least + Math.min(choices - 1, Math.floor(position * choices));
  });
}

/** Heights by tone for every sample; cut-away samples get 0. */
export function toneHeights(
  brightness: BrightnessMap,
  rule: ToneRule,
  layers: number,
  leastLayers: number = LEAST_LAYERS,
): HeightMap {
  const table = toneTable(rule, layers, leastLayers);
  const { width, height, data } = brightness;
  const out = new Uint8Array(data.length);
  for (let i = 0; i < data.length; i += 1) {
    const step = data[i] as number;
    out[i] = step < BRIGHTNESS_STEPS ? (table[step] as number) : 0;
  }
  return { width, height, data: out };
}

/**
 * A rule whose points fit a picture: black and white cut off `tail` (share, 0..0.2) of the samples at each end, and the
 * midpoint lies half way. A picture of one brightness, or with nothing printed, gets the plain rule.
 */
export function fitTone(histogram: Uint32Array, tail = 0.005): ToneRule {
  let count = 0;
  for (const n of histogram) count += n;
  if (count === 0) return PLAIN_TONE;
  const percentile = (share: number): number => {
    let seen = 0;
    for (let step = 0; step < histogram.length; step += 1) {
      seen += histogram[step] as number;
      if (seen > share * count) return lightnessOfStep(step);
    }
    return 100;
  };
  const blackPoint = Math.floor(percentile(tail));
  const whitePoint = Math.ceil(percentile(1 - tail));
  if (whitePoint - blackPoint < 2 * LEAST_POINT_GAP) return PLAIN_TONE;
  return { ...PLAIN_TONE, blackPoint, whitePoint, midpoint: (blackPoint + whitePoint) / 2 };
}

/** Forces the points into order and range: each at least {@link LEAST_POINT_GAP} from the next. */
export function tidyTone(rule: ToneRule): ToneRule {
  const blackPoint = clamp(rule.blackPoint, 0, 100 - 2 * LEAST_POINT_GAP);
  const whitePoint = clamp(rule.whitePoint, blackPoint + 2 * LEAST_POINT_GAP, 100);
  const midpoint = clamp(rule.midpoint, blackPoint + LEAST_POINT_GAP, whitePoint - LEAST_POINT_GAP);
  return { ...rule, blackPoint, whitePoint, midpoint };
}
