import { bisectLog } from '../base/numbers.ts';
import type { Triple } from '../colour/srgb.ts';
import { LINEAR_OF_XYZ, WHITE_D65 } from '../colour/xyz.ts';
import {
  BIN_COUNT,
  binnedXyz,
  DAYLIGHT,
  LINEAR_WEIGHTS,
  TABLE_WAVELENGTHS_NM,
} from './spectral-bins.ts';

/** Kinds of light that a piece is looked at in: daylight of 6504 K, warmer daylight of 5003 K, a white LED, an incandescent lamp. */
export const LIGHT_KINDS = ['d65', 'd50', 'led', 'a'] as const;
export type LightKind = (typeof LIGHT_KINDS)[number];

/** Colour temperature of the white LED, K: a neutral one. Common practice, no source. */
export const LED_KELVIN = 4000;

/**
 * Mean, first and second component of daylight at the wavelengths of the tables.
 * Source: CIE 015:2018, table 6 (D. B. Judd, D. L. MacAdam, G. Wyszecki, J. Opt. Soc. Am. 54 (1964)), typed in from memory; a test
 * makes D65 of them, which was typed in apart.
 */
const DAYLIGHT_PARTS: readonly Triple[] = [
  [63.3, 38.5, 3.0],
  [65.8, 35.0, 1.2],
  [94.8, 43.4, -1.1],
  [104.8, 46.3, -0.5],
  [105.9, 43.9, -0.7],
  [96.8, 37.1, -1.2],
  [113.9, 36.7, -2.6],
  [125.6, 35.9, -2.9],
  [125.5, 32.6, -2.8],
  [121.3, 27.9, -2.6],
  [121.3, 24.3, -2.6],
  [113.5, 20.1, -1.8],
  [113.1, 16.2, -1.5],
  [110.8, 13.2, -1.3],
  [106.5, 8.6, -1.2],
  [108.8, 6.1, -1.0],
  [105.3, 4.2, -0.5],
  [104.4, 1.9, -0.3],
  [100.0, 0.0, 0.0],
  [96.0, -1.6, 0.2],
  [95.1, -3.5, 0.5],
  [89.1, -3.5, 2.1],
  [90.5, -5.8, 3.2],
  [90.3, -7.2, 4.1],
  [88.4, -8.6, 4.7],
  [84.0, -9.5, 5.1],
  [85.1, -10.9, 6.7],
  [81.9, -10.7, 7.3],
  [82.6, -12.0, 8.6],
  [84.9, -14.0, 9.8],
  [81.3, -13.6, 10.2],
  [71.9, -12.0, 8.3],
  [74.3, -13.3, 9.6],
  [76.4, -12.9, 8.5],
  [63.3, -10.6, 7.0],
  [71.7, -11.6, 7.6],
];

/**
 * Relative power of a phase of daylight at the wavelengths of the tables.
 * Source: CIE 015:2018, 4.1.2 (chromaticity by colour temperature, and the shares of the components).
 * @param kelvin correlated colour temperature, 4000..7000
 */
export function daylightOf(kelvin: number): number[] {
  const t = 1000 / kelvin;
  const x = -4.607 * t ** 3 + 2.9678 * t ** 2 + 0.09911 * t + 0.244063;
  const y = -3 * x * x + 2.87 * x - 0.275;
  const scale = 0.0241 + 0.2562 * x - 0.7341 * y;
  const first = (-1.3515 - 1.7703 * x + 5.9114 * y) / scale;
  const second = (0.03 - 31.4424 * x + 30.0717 * y) / scale;
  return DAYLIGHT_PARTS.map(([mean, s1, s2]) => mean + first * s1 + second * s2);
}

/** Illuminant A: a black body of 2856 K. Source: CIE 015:2018, 4.1.1 (with its second radiation constant of 1.435e7 nm K and 2848 K). */
function incandescent(): number[] {
  const planck = (nm: number): number => nm ** -5 / (Math.exp(1.435e7 / (2848 * nm)) - 1);
  const at560 = planck(560);
  return TABLE_WAVELENGTHS_NM.map((nm) => (100 * planck(nm)) / at560);
}

/**
 * A white LED: a blue line at 450 nm, and a phosphor at 580 nm with as much of it as gives the colour temperature.
 * The shape of the line is that of Y. Ohno, "Spectral design considerations for white LED color rendering", Optical Engineering 44
 * (2005), 111302; the phosphor is a Gaussian. Wavelengths and widths are such that the white
 * lies on the black body's line; they are near those of common lamps: common practice, no source.
 */
function whiteLed(kelvin: number): number[] {
  const made = (phosphor: number): number[] =>
    TABLE_WAVELENGTHS_NM.map((nm) => {
      const g = Math.exp(-(((nm - 450) / 20) ** 2));
      return (g + 2 * g ** 5) / 3 + phosphor * Math.exp(-(((nm - 580) / 75) ** 2));
    });
  return made(bisectLog((phosphor) => kelvin - kelvinOf(whiteOfPower(made(phosphor))), 0.05, 20));
}

/**
 * Correlated colour temperature, K, of a white near the black body.
 * Source: C. S. McCamy, "Correlated color temperature as an explicit function of chromaticity coordinates", Color Research and
 * Application 17 (1992); within a few kelvins from 2856 to 6500 K.
 */
export function kelvinOf([x, y, z]: Triple): number {
  const sum = x + y + z;
  const n = (x / sum - 0.332) / (0.1858 - y / sum);
  return 449 * n ** 3 + 3525 * n ** 2 + 6823.3 * n + 5520.33;
}

function whiteOfPower(power: readonly number[]): Triple {
  let [x, y, z] = [0, 0, 0];
  for (const [bx, by, bz] of binnedXyz(power)) {
    x += bx;
    y += by;
    z += bz;
  }
  return [x / y, 1, z / y];
}

/** A light as the model needs it. */
interface Light {
  /** XYZ that each bin gives, scaled so that all together have Y = 1. */
  readonly bins: readonly Triple[];
  readonly white: Triple;
}

const POWERS: Readonly<Record<LightKind, () => readonly number[]>> = {
  d65: () => DAYLIGHT,
  // 5000 K by the radiation constant of 1967.
  d50: () => daylightOf((5000 * 1.4388) / 1.438),
  led: () => whiteLed(LED_KELVIN),
  a: incandescent,
};

const known = new Map<LightKind, Light>();

function lightOf(kind: LightKind): Light {
  let light = known.get(kind);
  if (!light) {
    const power = POWERS[kind]();
    const bins = binnedXyz(power);
    const sum = bins.reduce((total, [, y]) => total + y, 0);
    light = {
      bins: bins.map(([x, y, z]): Triple => [x / sum, y / sum, z / sum]),
      white: whiteOfPower(power),
    };
    known.set(kind, light);
  }
  return light;
}

/** XYZ of a perfect white in a light, Y = 1. */
export function whiteOf(kind: LightKind): Triple {
  return lightOf(kind).white;
}

/** XYZ, Y = 1, of what two lights of given brightness (0 and more) are together; the first light where both are out. */
export function mixOfWhites(
  [one, much]: readonly [LightKind, number],
  [other, more]: readonly [LightKind, number],
): Triple {
  const share = much + more > 0 ? more / (much + more) : 0;
  const [a, b] = [whiteOf(one), whiteOf(other)];
  return [a[0] + share * (b[0] - a[0]), 1, a[2] + share * (b[2] - a[2])];
}

/**
 * Rows of the Bradford transform, from XYZ to the responses in which an eye adapts.
 * Source: K. M. Lam (1985), as printed in ICC.1:2010, annex E; typed in from memory, checked by a test against another library.
 */
const BRADFORD: readonly [Triple, Triple, Triple] = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];

/** Its inverse. */
const BRADFORD_BACK: readonly [Triple, Triple, Triple] = [
  [0.9869929055, -0.1470542564, 0.1599626517],
  [0.4323052697, 0.5183602715, 0.0492912282],
  [-0.0085286646, 0.0400428217, 0.9684866958],
];

const dot = ([a, b, c]: Triple, [x, y, z]: Triple): number => a * x + b * y + c * z;

/** A colour as an eye that is adapted to `white` sees it, told for one that is adapted to D65. Both XYZ. */
export function adaptToD65(xyz: Triple, white: Triple): Triple {
  const to = (row: Triple): number => (dot(row, xyz) * dot(row, WHITE_D65)) / dot(row, white);
  const seen: Triple = [to(BRADFORD[0]), to(BRADFORD[1]), to(BRADFORD[2])];
  return [dot(BRADFORD_BACK[0], seen), dot(BRADFORD_BACK[1], seen), dot(BRADFORD_BACK[2], seen)];
}

/**
 * Weights from reflectance (or what comes through) per bin to linear sRGB on a screen, for an eye that is adapted to `adapted` (XYZ, Y =
 * 1): three rows of {@link BIN_COUNT}, as `linearOfSpectrum` takes them.
 */
export function weightsUnder(kind: LightKind, adapted: Triple): Float64Array {
  const { bins, white } = lightOf(kind);
  // Daylight alone is what everything else is reckoned in, to the last bit.
  if (kind === 'd65' && adapted.every((value, i) => value === white[i])) return LINEAR_WEIGHTS;
  const weights = new Float64Array(3 * BIN_COUNT);
  bins.forEach((xyz, bin) => {
    const seen = adaptToD65(xyz, adapted);
    LINEAR_OF_XYZ.forEach((row, channel) => {
      weights[channel * BIN_COUNT + bin] = dot(row, seen);
    });
  });
  return weights;
}
