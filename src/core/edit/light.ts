import { clamp } from '../base/numbers.ts';
import { decodeSrgb, encodeSrgb, linearOfBytes, type Triple } from '../colour/srgb.ts';
import { lumaOf } from '../colour/luma.ts';
import { XYZ_OF_LINEAR } from '../colour/xyz.ts';
import type { ColourMap, EditSettings } from './artwork-edit.ts';

type Curve = EditSettings['tone']['curve'];

/**
 * A smooth curve through points that never overshoots: monotone cubic pieces, level outside.
 * Source: F. N. Fritsch and R. E. Carlson, "Monotone piecewise cubic interpolation" (1980), with their limit of 3 on the
 * slopes.
 */
export function curveThrough(points: Curve): (x: number) => number {
  const sorted = [...points]
    .sort(([x], [y]) => x - y)
    .filter(([x], i, all) => x !== all[i + 1]?.[0]);
  const [first] = sorted;
  const last = sorted.at(-1);
  if (!first || !last || sorted.length < 2) return (x) => x;
  const secants = sorted.slice(1).map(([x, y], i) => {
    const [x0, y0] = sorted[i] as readonly [number, number];
    return (y - y0) / (x - x0);
  });
  const slopes = sorted.map((_, i) => {
    const [before, after] = [secants[i - 1], secants[i]];
    if (before === undefined) return after as number;
    if (after === undefined) return before;
    return before * after <= 0 ? 0 : (before + after) / 2;
  });
  secants.forEach((secant, i) => {
    if (secant === 0) {
      slopes[i] = 0;
      slopes[i + 1] = 0;
      return;
    }
    const [a, b] = [(slopes[i] as number) / secant, (slopes[i + 1] as number) / secant];
    const length = Math.hypot(a, b);
    if (length <= 3) return;
    slopes[i] = (3 * a * secant) / length;
    slopes[i + 1] = (3 * b * secant) / length;
  });
  return (x) => {
    if (x <= first[0]) return first[1];
    if (x >= last[0]) return last[1];
    const i = sorted.findIndex(([at]) => at > x) - 1;
    const [x0, y0] = sorted[i] as readonly [number, number];
    const [x1, y1] = sorted[i + 1] as readonly [number, number];
    const width = x1 - x0;
    const t = (x - x0) / width;
    const [m0, m1] = [(slopes[i] as number) * width, (slopes[i + 1] as number) * width];
    return (
      (1 + 2 * t) * (1 - t) ** 2 * y0 +
      t * (1 - t) ** 2 * m0 +
      t * t * (3 - 2 * t) * y1 +
      t * t * (t - 1) * m1
    );
  };
}

/**
 * Brightness, contrast, then the curve, on sRGB codes. Brightness raises the code to the power 2^-brightness, so black and
 * white stay; contrast pulls codes away from the middle with slope 4^contrast.
 */
export function toneOf({
  brightness,
  contrast,
  curve,
}: EditSettings['tone']): (code: number) => number {
  const power = 2 ** -brightness;
  const slope = 4 ** contrast;
  const through = curve.length >= 2 ? curveThrough(curve) : undefined;
  return (code) => {
    const lit = clamp(code, 0, 1) ** power;
    const apart = contrast === 0 ? lit : clamp(0.5 + (lit - 0.5) * slope, 0, 1);
    return through ? clamp(through(apart), 0, 1) : apart;
  };
}

/** Stops of light between the ends of a slider of white balance. */
const WHITE_STOPS = 2;

/** Gains of the three channels in linear light; their product is 1. */
export function whiteGains({ warmth, tint }: EditSettings['white']): Triple {
  const [w, t] = [WHITE_STOPS * warmth, WHITE_STOPS * tint];
  return [2 ** (w / 2 + t / 4), 2 ** (-t / 2), 2 ** (-w / 2 + t / 4)];
}

/** The white balance that makes a colour grey, as far as the sliders reach; undefined for black. */
export function whiteFromGrey(bytes: Triple): EditSettings['white'] | undefined {
  const [red, green, blue] = linearOfBytes(bytes);
  if (Math.min(red, green, blue) <= 0) return undefined;
  const stopsWarm = Math.log2(blue / red);
  const stopsTint = ((Math.log2(green / red) - stopsWarm / 2) * 4) / 3;
  return {
    warmth: clamp(stopsWarm / WHITE_STOPS, -1, 1),
    tint: clamp(stopsTint / WHITE_STOPS, -1, 1),
  };
}

/** Share of the pixels that may be lost at either end of automatic levels. Common practice, no source. */
const LOST_SHARE = 0.005;

/**
 * The curve that spreads a picture's luma from black to white.
 * @param data RGBA bytes; pixels that are cut away do not count
 * @returns undefined where it is spread already, or has one brightness only
 */
export function automaticLevels(data: ArrayLike<number>, pixels: number): Curve | undefined {
  const counts = new Float64Array(256);
  let all = 0;
  for (let i = 0; i < pixels; i += 1) {
    if ((data[4 * i + 3] as number) < 128) continue;
    const luma = lumaOf(data, 4 * i);
    counts[luma] = (counts[luma] as number) + 1;
    all += 1;
  }
  const end = (from: number, step: number): number => {
    let [code, seen] = [from, 0];
    while (code >= 0 && code < 256) {
      seen += counts[code] as number;
      if (seen > LOST_SHARE * all) return code;
      code += step;
    }
    return from;
  };
  const [black, white] = [end(0, 1), end(255, -1)];
  if (white - black < 8 || (black === 0 && white === 255)) return undefined;
  return [
    [black / 255, 0],
    [white / 255, 1],
  ];
}

/** Grey of the same luminance. */
export const greyMap: ColourMap = (codes) => {
  const [r, g, b] = XYZ_OF_LINEAR[1];
  const luminance =
    r * decodeSrgb(codes[0] as number) +
    g * decodeSrgb(codes[1] as number) +
    b * decodeSrgb(codes[2] as number);
  codes.fill(encodeSrgb(clamp(luminance, 0, 1)));
};
