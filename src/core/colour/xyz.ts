import type { Triple } from './srgb.ts';

/**
 * White of sRGB: D65 as x = 0.3127, y = 0.3290, scaled to Y = 1.
 * Source: IEC 61966-2-1:1999, table 1.
 */
export const WHITE_D65: Triple = [0.3127 / 0.329, 1, (1 - 0.3127 - 0.329) / 0.329];

/**
 * Rows of the matrix from linear sRGB to CIE XYZ (D65, Y of white = 1), derived from the primaries of
 * IEC 61966-2-1 in double precision (the standard prints four digits).
 */
export const XYZ_OF_LINEAR: readonly [Triple, Triple, Triple] = [
  [0.41239079926595934, 0.357584339383878, 0.1804807884018343],
  [0.21263900587151027, 0.715168678767756, 0.07219231536073371],
  [0.01933081871559182, 0.11919477979462598, 0.9505321522496607],
];

/** Inverse of {@link XYZ_OF_LINEAR}. */
export const LINEAR_OF_XYZ: readonly [Triple, Triple, Triple] = [
  [3.2409699419045226, -1.537383177570094, -0.4986107602930034],
  [-0.9692436362808796, 1.8759675015077202, 0.04155505740717559],
  [0.05563007969699366, -0.20397695888897652, 1.0569715142428786],
];

function multiply(rows: readonly [Triple, Triple, Triple], [a, b, c]: Triple): Triple {
  const [p, q, r] = rows;
  return [
    p[0] * a + p[1] * b + p[2] * c,
    q[0] * a + q[1] * b + q[2] * c,
    r[0] * a + r[1] * b + r[2] * c,
  ];
}

/** Linear sRGB (0..1) to CIE XYZ, D65, Y of white = 1. */
export function xyzOfLinear(linear: Triple): Triple {
  return multiply(XYZ_OF_LINEAR, linear);
}

/** CIE XYZ, D65, to linear sRGB; values outside 0..1 mean the colour is outside sRGB. */
export function linearOfXyz(xyz: Triple): Triple {
  return multiply(LINEAR_OF_XYZ, xyz);
}
