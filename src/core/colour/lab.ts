import { linearOfBytes, type Triple } from './srgb.ts';
import { linearOfXyz, WHITE_D65, xyzOfLinear } from './xyz.ts';

/** Limits of the linear part: CIE 15:2018, section 8.2.1.1, as exact fractions. */
const EPSILON = 216 / 24389;
const KAPPA = 24389 / 27;

function compress(ratio: number): number {
  return ratio > EPSILON ? Math.cbrt(ratio) : (KAPPA * ratio + 16) / 116;
}

/** CIE XYZ (D65, Y of white = 1) to CIELAB against D65: [L* 0..100, a*, b*]. Source: CIE 15:2018, 8.2.1. */
export function labOfXyz([x, y, z]: Triple): Triple {
  const fx = compress(x / WHITE_D65[0]);
  const fy = compress(y / WHITE_D65[1]);
  const fz = compress(z / WHITE_D65[2]);
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

/** Linear sRGB (0..1) to CIELAB D65. */
export function labOfLinear(linear: Triple): Triple {
  return labOfXyz(xyzOfLinear(linear));
}

/** sRGB bytes (0..255) to CIELAB D65. */
export function labOfBytes(bytes: Triple): Triple {
  return labOfLinear(linearOfBytes(bytes));
}

/** Relative luminance Y (0..1) to L* (0..100). Source: CIE 15:2018, 8.2.1. */
export function lightnessOfLuminance(luminance: number): number {
  return 116 * compress(luminance) - 16;
}

/** CIELAB D65 to linear sRGB, the inverse of {@link labOfLinear}; outside 0..1 where sRGB does not reach. */
export function linearOfLab([lightness, a, b]: Triple): Triple {
  const fy = (lightness + 16) / 116;
  const expand = (f: number): number => (f ** 3 > EPSILON ? f ** 3 : (116 * f - 16) / KAPPA);
  return linearOfXyz([
    expand(fy + a / 500) * WHITE_D65[0],
    expand(fy) * WHITE_D65[1],
    expand(fy - b / 200) * WHITE_D65[2],
  ]);
}
