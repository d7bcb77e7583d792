import type { Triple } from './srgb.ts';

const DEGREE = Math.PI / 180;
const POW25_7 = 25 ** 7;

/**
 * Colour difference CIEDE2000 between two CIELAB colours, with kL = kC = kH = 1.
 * Source: G. Sharma, W. Wu, E. N. Dalal, "The CIEDE2000 Color-Difference Formula: Implementation Notes,
 * Supplementary Test Data, and Mathematical Observations", Color Research & Application 30 (2005),
 * equations (2) to (22).
 * @returns the difference, 0 or more; about 1 is just noticeable side by side.
 */
export function ciede2000(first: Triple, second: Triple): number {
  return ciede2000Of(first[0], first[1], first[2], second[0], second[1], second[2]);
}

/** {@link ciede2000} on six plain numbers, for loops over many samples that must not allocate. */
export function ciede2000Of(
  l1: number,
  a1: number,
  b1: number,
  l2: number,
  a2: number,
  b2: number,
): number {
  const meanChroma = (Math.sqrt(a1 * a1 + b1 * b1) + Math.sqrt(a2 * a2 + b2 * b2)) / 2;
  const chroma7 = meanChroma ** 7;
  const g = 1.5 - 0.5 * Math.sqrt(chroma7 / (chroma7 + POW25_7));
  const a1p = g * a1;
  const a2p = g * a2;
  const c1 = Math.sqrt(a1p * a1p + b1 * b1);
  const c2 = Math.sqrt(a2p * a2p + b2 * b2);
  const h1 = hueDegrees(a1p, b1);
  const h2 = hueDegrees(a2p, b2);
  const grey = c1 * c2 === 0;

  let hueStep = 0;
  let meanHue = h1 + h2;
  if (!grey) {
    hueStep = h2 - h1;
    if (hueStep > 180) hueStep -= 360;
    else if (hueStep < -180) hueStep += 360;
    if (Math.abs(h1 - h2) <= 180) meanHue = (h1 + h2) / 2;
    else meanHue = h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
  }
  const deltaL = l2 - l1;
  const deltaC = c2 - c1;
  const deltaH = 2 * Math.sqrt(c1 * c2) * Math.sin((hueStep / 2) * DEGREE);
  const meanL = (l1 + l2) / 2;
  const meanC = (c1 + c2) / 2;

  const t =
    1 -
    0.17 * Math.cos((meanHue - 30) * DEGREE) +
    0.24 * Math.cos(2 * meanHue * DEGREE) +
    0.32 * Math.cos((3 * meanHue + 6) * DEGREE) -
    0.2 * Math.cos((4 * meanHue - 63) * DEGREE);
  const lightnessOffset = (meanL - 50) ** 2;
  const sL = 1 + (0.015 * lightnessOffset) / Math.sqrt(20 + lightnessOffset);
  const sC = 1 + 0.045 * meanC;
  const sH = 1 + 0.015 * meanC * t;
  const meanC7 = meanC ** 7;
  const rotation =
    -2 *
    Math.sqrt(meanC7 / (meanC7 + POW25_7)) *
    Math.sin(60 * Math.exp(-(((meanHue - 275) / 25) ** 2)) * DEGREE);

  const dl = deltaL / sL;
  const dc = deltaC / sC;
  const dh = deltaH / sH;
  return Math.sqrt(dl * dl + dc * dc + dh * dh + rotation * dc * dh);
}

function hueDegrees(a: number, b: number): number {
  if (a === 0 && b === 0) return 0;
  const degrees = Math.atan2(b, a) / DEGREE;
  return degrees < 0 ? degrees + 360 : degrees;
}
