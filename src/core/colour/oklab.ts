import { linearOfBytes, type Triple } from './srgb.ts';

/**
 * Linear sRGB (0..1) to Oklab: [L 0..1, a, b].
 * Source: Björn Ottosson, "A perceptual color space for image processing" (2020), with the matrices of
 * 2021-01-25.
 */
export function oklabOfLinear([red, green, blue]: Triple): Triple {
  const l = Math.cbrt(0.4122214708 * red + 0.5363325363 * green + 0.0514459929 * blue);
  const m = Math.cbrt(0.2119034982 * red + 0.6806995451 * green + 0.1073969566 * blue);
  const s = Math.cbrt(0.0883024619 * red + 0.2817188376 * green + 0.6299787005 * blue);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

/** Oklab to linear sRGB, the inverse of {@link oklabOfLinear} with the matrices of the same source. */
export function linearOfOklab([lightness, a, b]: Triple): Triple {
  const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return [
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  ];
}

/** sRGB bytes (0..255) to Oklab. */
export function oklabOfBytes(bytes: Triple): Triple {
  return oklabOfLinear(linearOfBytes(bytes));
}
