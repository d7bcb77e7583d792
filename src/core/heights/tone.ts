import { BRIGHTNESS_STEPS, lightnessOfStep, type BrightnessMap } from '../artwork/brightness.ts';
import type { HeightMap } from '../base/raster.ts';
import { clamp } from '../base/numbers.ts';
import {
  heightScale,
  layerAtPosition,
  placeOnScale,
  positionOfLayer,
  topOnScale,
} from '../stack/height-scale.ts';

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
  /** A curve in place of the three points, where there is one. */
  readonly curve?: ToneCurve | undefined;
}

/** One point of a curve: brightness L* 0..100 and the height it gets, 0 (lowest) to 1 (highest). */
export interface CurvePoint {
  readonly lightness: number;
  readonly position: number;
}

/** Points in ascending order of brightness, joined by straight lines; level before the first and after the last. */
export type ToneCurve = readonly CurvePoint[];

export const LEAST_CURVE_POINTS = 2;
export const GREATEST_CURVE_POINTS = 16;

/** Where a curve takes a brightness, 0..1. */
export function curvePosition(curve: ToneCurve, lightness: number): number {
  const next = curve.findIndex((point) => point.lightness >= lightness);
  const after = curve[next];
  if (!after) return clamp(curve.at(-1)?.position ?? 0, 0, 1);
  const before = curve[next - 1];
  if (!before) return clamp(after.position, 0, 1);
  const span = after.lightness - before.lightness;
  const share = span > 0 ? (lightness - before.lightness) / span : 1;
  return clamp(before.position + share * (after.position - before.position), 0, 1);
}

/** The curve on which every height gets the same area of the picture: the running share of its histogram. */
export function equalisedCurve(histogram: Uint32Array): ToneCurve {
  let count = 0;
  for (const n of histogram) count += n;
  if (count === 0) return STRAIGHT_CURVE;
  const shares = new Float64Array(histogram.length);
  let seen = 0;
  histogram.forEach((n, step) => {
    // Half of a step lies below its middle.
    shares[step] = (seen + n / 2) / count;
    seen += n;
  });
  return sampleCurve((lightness) => {
    const step = Math.round((lightness / 100) * (BRIGHTNESS_STEPS - 1));
    return shares[step] ?? 1;
  });
}

/**
 * The curve on which each brightness goes to the layer that looks as bright: light lands on light even where a stack is not
 * evenly graded.
 * @param lightnesses L* seen at each layer, element 0 for the first
 * @param tops see `evenTops`
 */
export function matchedCurve(
  lightnesses: readonly number[],
  leastLayers: number,
  tops?: readonly number[],
): ToneCurve {
  const scale = heightScale(lightnesses.length, leastLayers, tops);
  const { least } = scale;
  return sampleCurve((lightness) => {
    let best = least - 1;
    for (let layer = least - 1; layer < lightnesses.length; layer += 1)
      if (
        Math.abs((lightnesses[layer] as number) - lightness) <
        Math.abs((lightnesses[best] as number) - lightness)
      )
        best = layer;
    return positionOfLayer(scale, best + 1);
  });
}

/** From black at the bottom to white at the top. */
export const STRAIGHT_CURVE: ToneCurve = [
  { lightness: 0, position: 0 },
  { lightness: 100, position: 1 },
];

/** A function as a curve of as many points as one may have. */
function sampleCurve(at: (lightness: number) => number): ToneCurve {
  const last = GREATEST_CURVE_POINTS - 1;
  return Array.from({ length: GREATEST_CURVE_POINTS }, (_, i) => {
    const lightness = Math.round((1000 * i) / last) / 10;
    return { lightness, position: Math.round(1000 * clamp(at(lightness), 0, 1)) / 1000 };
  });
}

/** The three points of a rule as a curve, to go on from. */
export function curveOfPoints(rule: ToneRule): ToneCurve {
  const plain = { ...rule, curve: undefined, reversed: false };
  const { blackPoint, midpoint, whitePoint } = rule;
  const between = (a: number, b: number): number => (a + b) / 2;
  return [
    blackPoint,
    between(blackPoint, midpoint),
    midpoint,
    between(midpoint, whitePoint),
    whitePoint,
  ].map((lightness) => ({ lightness, position: tonePosition(plain, lightness) }));
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
  const { blackPoint, whitePoint, midpoint, reversed, curve } = rule;
  if (curve) {
    const position = curvePosition(curve, lightness);
    return reversed ? 1 - position : position;
  }
  const span = whitePoint - blackPoint;
  const share = clamp((lightness - blackPoint) / span, 0, 1);
  const middle = clamp((midpoint - blackPoint) / span, 0.001, 0.999);
  const position = share ** (Math.log(0.5) / Math.log(middle));
  return reversed ? 1 - position : position;
}

/** Where a rule puts L* 0, 1, .. 100: 0 lowest, 1 highest. */
export function placesOfTone(rule: ToneRule): number[] {
  return Array.from({ length: 101 }, (_, lightness) => tonePosition(rule, lightness));
}

/** Where a curve puts L* 0, 1, .. 100: 0 lowest, 1 highest. */
export function placesOfCurve(curve: ToneCurve): number[] {
  return Array.from({ length: 101 }, (_, lightness) => curvePosition(curve, lightness));
}

/**
 * Height in layers for each brightness step. The heights from `leastLayers` to `layers` share the range of positions in
 * equal parts, so that no height is favoured; thicker layers in the base by their thickness.
 * @param tops see `evenTops`
 * @returns {@link BRIGHTNESS_STEPS} layer counts, each `leastLayers..layers` (all `layers` when the stack is no taller)
 */
export function toneTable(
  rule: ToneRule,
  layers: number,
  leastLayers: number,
  tops?: readonly number[],
): Uint8Array {
  const scale = heightScale(layers, leastLayers, tops);
  return Uint8Array.from({ length: BRIGHTNESS_STEPS }, (_, step) =>
    layerAtPosition(scale, tonePosition(rule, lightnessOfStep(step))),
  );
}

/**
 * What every height costs each brightness, for calm: two for each layer that it is away from where the rule would have it,
 * in fractions of a layer. `layers + 1` numbers a step; Infinity below the least height.
 */
export function toneCosts(
  rule: ToneRule,
  layers: number,
  leastLayers: number,
  tops?: readonly number[],
): Float32Array {
  const scale = heightScale(layers, leastLayers, tops);
  const costs = new Float32Array(BRIGHTNESS_STEPS * (layers + 1)).fill(Infinity);
  for (let step = 0; step < BRIGHTNESS_STEPS; step += 1) {
    const place = placeOnScale(scale, tonePosition(rule, lightnessOfStep(step)));
    for (let height = scale.least; height <= layers; height += 1)
      costs[step * (layers + 1) + height] = 2 * Math.abs(topOnScale(scale, height) - place);
  }
  return costs;
}

/** Heights by tone for every sample; cut-away samples get 0. */
export function toneHeights(
  brightness: BrightnessMap,
  rule: ToneRule,
  layers: number,
  leastLayers: number = LEAST_LAYERS,
  tops?: readonly number[],
): HeightMap {
  const table = toneTable(rule, layers, leastLayers, tops);
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
