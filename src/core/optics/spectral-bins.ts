import type { Triple } from '../colour/srgb.ts';
import { LINEAR_OF_XYZ } from '../colour/xyz.ts';

/** Number of spectral bins of the optical model. */
export const BIN_COUNT = 10;

/** First of the 36 wavelength steps (380 nm + 10 nm x step) of each bin; the last bin ends before step 36. */
const BIN_STARTS = [0, 7, 9, 12, 15, 17, 19, 21, 23, 25, 36] as const;

/** Wavelengths of the tables, nm. */
export const TABLE_WAVELENGTHS_NM: readonly number[] = Array.from(
  { length: 36 },
  (_, step) => 380 + 10 * step,
);

/**
 * Colour-matching functions of the CIE 1931 standard observer, x y z at 380..730 nm in steps of 10 nm.
 * Source: CIE 015:2018, table 5 (ISO/CIE 11664-1), typed in from memory; {@link TABLE_WHITE} checks the sums.
 */
const OBSERVER: readonly Triple[] = [
  [0.001368, 0.000039, 0.00645],
  [0.004243, 0.00012, 0.02005],
  [0.01431, 0.000396, 0.06785],
  [0.04351, 0.00121, 0.2074],
  [0.13438, 0.004, 0.6456],
  [0.2839, 0.0116, 1.3856],
  [0.34828, 0.023, 1.74706],
  [0.3362, 0.038, 1.77211],
  [0.2908, 0.06, 1.6692],
  [0.19536, 0.09098, 1.28764],
  [0.09564, 0.13902, 0.81295],
  [0.03201, 0.20802, 0.46518],
  [0.0049, 0.323, 0.272],
  [0.0093, 0.503, 0.1582],
  [0.06327, 0.71, 0.07825],
  [0.1655, 0.862, 0.04216],
  [0.2904, 0.954, 0.0203],
  [0.43345, 0.99495, 0.00875],
  [0.5945, 0.995, 0.0039],
  [0.7621, 0.952, 0.0021],
  [0.9163, 0.87, 0.00165],
  [1.0263, 0.757, 0.0011],
  [1.0622, 0.631, 0.0008],
  [1.0026, 0.503, 0.00034],
  [0.85445, 0.381, 0.00019],
  [0.6424, 0.265, 0.00005],
  [0.4479, 0.175, 0.00002],
  [0.2835, 0.107, 0],
  [0.1649, 0.061, 0],
  [0.0874, 0.032, 0],
  [0.04677, 0.017, 0],
  [0.0227, 0.00821, 0],
  [0.011359, 0.004102, 0],
  [0.00579, 0.002091, 0],
  [0.002899, 0.001047, 0],
  [0.00144, 0.00052, 0],
];

/** Relative power of CIE illuminant D65 at the same steps. Source: CIE 015:2018, table 11 (ISO/CIE 11664-2), typed in from memory. */
export const DAYLIGHT: readonly number[] = [
  49.9755, 54.6482, 82.7549, 91.486, 93.4318, 86.6823, 104.865, 117.008, 117.812, 114.861, 115.923,
  108.811, 109.354, 107.802, 104.79, 107.689, 104.405, 104.046, 100, 96.3342, 95.788, 88.6856,
  90.0062, 89.5991, 87.6987, 83.2886, 83.6992, 80.0268, 80.2146, 82.2778, 78.2842, 69.7213, 71.6091,
  74.349, 61.604, 69.8856,
];

/**
 * Weights from reflectance per bin to linear sRGB, three rows of {@link BIN_COUNT} in one array: daylight times
 * observer, summed over each bin, then through the sRGB matrix.
 * Each row is scaled to sum to 1, so that an even reflectance gives exactly that grey; the tables alone miss it by
 * a few parts in a thousand because they are cut off at 730 nm.
 */
export const LINEAR_WEIGHTS: Float64Array = linearWeights();

/** Wavelength that stands for each bin, nm: the mean over the bin of daylight times the observer's three responses. */
export const BIN_WAVELENGTHS_NM: Float64Array = binWavelengths();

/** Weights from reflectance per bin to luminance Y (0..1); they sum to 1. */
export const LUMINANCE_WEIGHTS: Float64Array = luminanceWeights();

/** XYZ of daylight on a perfect white by these tables, Y = 1: tells whether they were typed in right. */
export const TABLE_WHITE: Triple = tableWhite();

function tableWhite(): Triple {
  const [x, y, z] = binnedXyz(DAYLIGHT).reduce(
    ([a, b, c], [p, q, r]) => [a + p, b + q, c + r],
    [0, 0, 0],
  );
  return [x / y, 1, z / y];
}

/**
 * XYZ that a reflectance of 1 in each bin gives under a light, not scaled.
 * @param power relative power of the light at {@link TABLE_WAVELENGTHS_NM}
 */
export function binnedXyz(power: readonly number[]): Triple[] {
  const bins: Triple[] = [];
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    let x = 0;
    let y = 0;
    let z = 0;
    for (let step = BIN_STARTS[bin] ?? 0; step < (BIN_STARTS[bin + 1] ?? 0); step += 1) {
      const light = power[step] ?? 0;
      const [ox, oy, oz] = OBSERVER[step] ?? [0, 0, 0];
      x += light * ox;
      y += light * oy;
      z += light * oz;
    }
    bins.push([x, y, z]);
  }
  return bins;
}

function binWavelengths(): Float64Array {
  return Float64Array.from({ length: BIN_COUNT }, (_, bin) => {
    let sum = 0;
    let weight = 0;
    for (let step = BIN_STARTS[bin] ?? 0; step < (BIN_STARTS[bin + 1] ?? 0); step += 1) {
      const [x, y, z] = OBSERVER[step] ?? [0, 0, 0];
      const light = (DAYLIGHT[step] ?? 0) * (x + y + z);
      sum += light * (TABLE_WAVELENGTHS_NM[step] ?? 0);
      weight += light;
    }
    return sum / weight;
  });
}

function linearWeights(): Float64Array {
  const weights = new Float64Array(3 * BIN_COUNT);
  const xyz = binnedXyz(DAYLIGHT);
  LINEAR_OF_XYZ.forEach((row, channel) => {
    const values = xyz.map(([x, y, z]) => row[0] * x + row[1] * y + row[2] * z);
    const sum = values.reduce((total, value) => total + value, 0);
    values.forEach((value, bin) => (weights[channel * BIN_COUNT + bin] = value / sum));
  });
  return weights;
}

function luminanceWeights(): Float64Array {
  const values = binnedXyz(DAYLIGHT).map(([, y]) => y);
  const sum = values.reduce((total, value) => total + value, 0);
  return Float64Array.from(values, (value) => value / sum);
}

/**
 * Linear sRGB of a reflectance (or transmittance) spectrum of {@link BIN_COUNT} values from `offset` on.
 * @param weights three rows of {@link BIN_COUNT}: those of daylight, or of another light (`lights.ts`)
 */
export function linearOfSpectrum(
  spectrum: Float64Array,
  offset = 0,
  weights: Float64Array = LINEAR_WEIGHTS,
): Triple {
  let red = 0;
  let green = 0;
  let blue = 0;
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    const value = spectrum[offset + bin] ?? 0;
    red += (weights[bin] ?? 0) * value;
    green += (weights[BIN_COUNT + bin] ?? 0) * value;
    blue += (weights[2 * BIN_COUNT + bin] ?? 0) * value;
  }
  return [red, green, blue];
}

/** Luminance Y (0..1) of a spectrum of {@link BIN_COUNT} values. */
export function luminanceOfSpectrum(spectrum: Float64Array): number {
  let luminance = 0;
  for (let bin = 0; bin < BIN_COUNT; bin += 1)
    luminance += (LUMINANCE_WEIGHTS[bin] ?? 0) * (spectrum[bin] ?? 0);
  return luminance;
}
