import { clamp } from '../base/numbers.ts';
import { linearOfOklab, oklabOfLinear } from '../colour/oklab.ts';
import { decodeSrgb, encodeSrgb, type Triple } from '../colour/srgb.ts';
import type { Codes, ColourMap, EditSettings } from './artwork-edit.ts';

/** Lightness 0..1, chroma 0..0.4 and hue 0..360 in Oklab (Ottosson 2020). */
export type Lch = Triple;

/** An angle as -180..180. */
export function wrap180(degrees: number): number {
  return degrees - 360 * Math.round(degrees / 360);
}

/** 0 below `low`, 1 above `high`, and 3t^2 - 2t^3 between; a step where both are equal. */
export function smoothstep(low: number, high: number, x: number): number {
  if (high <= low) return x < low ? 0 : 1;
  const t = clamp((x - low) / (high - low), 0, 1);
  return t * t * (3 - 2 * t);
}

/** Codes 0..1 of sRGB as Oklab lightness, chroma and hue. */
export function lchOfCodes(codes: ArrayLike<number>): Lch {
  const [lightness, a, b] = oklabOfLinear([
    decodeSrgb(codes[0] as number),
    decodeSrgb(codes[1] as number),
    decodeSrgb(codes[2] as number),
  ]);
  const degrees = (Math.atan2(b, a) * 180) / Math.PI;
  return [lightness, Math.hypot(a, b), degrees < 0 ? degrees + 360 : degrees];
}

/** Steps of halving towards the greatest chroma of the gamut. */
const GAMUT_STEPS = 12;
/** How far a channel may lie outside before it counts as outside, linear light. */
const GAMUT_SLACK = 1e-4;

function isInside([red, green, blue]: Triple): boolean {
  return (
    Math.min(red, green, blue) >= -GAMUT_SLACK && Math.max(red, green, blue) <= 1 + GAMUT_SLACK
  );
}

/**
 * Writes a colour as sRGB codes. Outside of the gamut lightness and hue stay, and chroma goes down by bisection: a clipped
 * channel would turn the hue.
 */
export function codesOfLch([lightness, chroma, hue]: Lch, out: Codes): void {
  const angle = (hue * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const at = (c: number): Triple => linearOfOklab([lightness, c * cos, c * sin]);
  let linear = at(chroma);
  if (!isInside(linear)) {
    let low = 0;
    let high = chroma;
    for (let i = 0; i < GAMUT_STEPS; i += 1) {
      const middle = (low + high) / 2;
      if (isInside(at(middle))) low = middle;
      else high = middle;
    }
    linear = at(low);
  }
  for (let i = 0; i < 3; i += 1) out[i] = encodeSrgb(clamp(linear[i] as number, 0, 1));
}

/**
 * How much a colour belongs to a range of hues, 0..1: `(1 - smoothstep(half, half + soft, |hue - centre|)) smoothstep(c0, c1,
 * chroma)`.
 */
export function hueWeight(
  { centre, half, soft, leastChroma: [c0, c1] }: Omit<EditSettings['hue'], 'turn'>,
  [, chroma, hue]: Lch,
): number {
  const off = Math.abs(wrap180(hue - centre));
  return (1 - smoothstep(half, half + soft, off)) * smoothstep(c0, c1, chroma);
}

/** Softness that a turn needs: below a sixth of it, neighbouring hues are torn apart. */
export function softNeeded(turn: number): number {
  return Math.abs(turn) / 6;
}

/** Moves a range of hues: `h + w turn`, `C (1 + w (k - 1))`, and L towards white or black by w times the lightness. */
export function hueMap(settings: EditSettings['hue']): ColourMap {
  const { turn, chroma, lightness } = settings;
  const soft = Math.max(settings.soft, softNeeded(turn));
  const range = { ...settings, soft };
  return (codes) => {
    const lch = lchOfCodes(codes);
    const weight = hueWeight(range, lch);
    if (weight === 0) return;
    const [l, c, h] = lch;
    const step = weight * lightness;
    codesOfLch(
      [
        step >= 0 ? l + step * (1 - l) : l * (1 + step),
        c * (1 + weight * (chroma - 1)),
        h + weight * turn,
      ],
      codes,
    );
  };
}

/** How far from black and white, in lightness, a tone family has its full chroma. */
const EASED = 0.15;

/**
 * Gives colours one hue and keeps their shading: lightness stays (with an offset), chroma is `target x clamp(C / median,
 * 0.4, 1.6)`, eased to 0 at black and white.
 * @param median chroma of the colours that are changed
 */
export function recolourMap(
  { hue, chroma, lightness }: EditSettings['recolour'],
  median: number,
): ColourMap {
  return (codes) => {
    const [l, c] = lchOfCodes(codes);
    const ratio = median > 1e-4 ? clamp(c / median, 0.4, 1.6) : 1;
    const moved = clamp(l + lightness, 0, 1);
    const eased = smoothstep(0, EASED, moved) * smoothstep(0, EASED, 1 - moved);
    codesOfLch([moved, chroma * ratio * eased, hue], codes);
  };
}

/** Bars of a strip of hues. */
export const HUE_BARS = 72;

/** How much of each hue a picture has. */
export interface HueStrip {
  /** Chroma-weighted pixels in each of {@link HUE_BARS} ranges from 0 degrees on, as shares of the greatest. */
  readonly bars: readonly number[];
  /** A colour that stands for each range, `#rrggbb` codes 0..255. */
  readonly colours: readonly Triple[];
}

/** Chroma from which on a pixel has a hue that one could name. */
const LEAST_CHROMA = 0.02;

/** Counts the hues of a picture; at most about 100,000 of its pixels, evenly spread. */
export function hueStrip(data: ArrayLike<number>, pixels: number): HueStrip {
  const sums = new Float64Array(HUE_BARS);
  const colours = Array.from({ length: HUE_BARS }, () => new Float64Array(3));
  const step = Math.max(1, Math.ceil(pixels / 100_000));
  const codes = new Float64Array(3);
  for (let i = 0; i < pixels; i += step) {
    if ((data[4 * i + 3] as number) < 128) continue;
    for (let c = 0; c < 3; c += 1) codes[c] = (data[4 * i + c] as number) / 255;
    const [, chroma, hue] = lchOfCodes(codes);
    if (chroma < LEAST_CHROMA) continue;
    const bar = Math.min(HUE_BARS - 1, Math.floor((hue / 360) * HUE_BARS));
    sums[bar] = (sums[bar] as number) + chroma;
    const colour = colours[bar] as Float64Array;
    for (let c = 0; c < 3; c += 1)
      colour[c] = (colour[c] as number) + chroma * (codes[c] as number);
  }
  const most = Math.max(...sums, 1e-9);
  const plain = new Float64Array(3);
  return {
    bars: Array.from(sums, (sum) => sum / most),
    colours: colours.map((colour, bar): Triple => {
      const sum = sums[bar] as number;
      if (sum > 0) {
        const [r = 0, g = 0, b = 0] = colour.map((one) => Math.round((255 * one) / sum));
        return [r, g, b];
      }
      codesOfLch([0.7, 0.1, ((bar + 0.5) * 360) / HUE_BARS], plain);
      const [r = 0, g = 0, b = 0] = plain.map((one) => Math.round(255 * one));
      return [r, g, b];
    }),
  };
}
