import { clamp } from '../base/numbers.ts';
import { mapTriple, type Triple } from '../colour/srgb.ts';
import { BIN_COUNT, LINEAR_WEIGHTS, linearOfSpectrum } from './spectral-bins.ts';

/** Least and greatest reflectance of an opaque plastic in the model: nothing real is perfectly black or white. */
export const LEAST_REFLECTANCE = 0.004;
export const GREATEST_REFLECTANCE = 0.985;

const SIZE = BIN_COUNT + 3;

/**
 * A smooth reflectance spectrum whose colour is `linear` (linear sRGB, 0..1): the spectrum
 * `(tanh z + 1) / 2` with the least sum of squared steps of z from bin to bin.
 * Source: Scott A. Burns, "Numerical methods for smoothest reflectance reconstruction", Color Research &
 * Application 45 (2020), the LHTSS method, here with Newton steps on the {@link BIN_COUNT} bins themselves.
 *
 * The result is limited to {@link LEAST_REFLECTANCE}..{@link GREATEST_REFLECTANCE}. Colours on the surface of sRGB
 * that no spectrum in between can have are moved towards grey of equal luminance by the smallest step (1 %) that works.
 */
export function reflectanceOfColour(linear: Triple): Float64Array {
  const limited = mapTriple(linear, (value) => clamp(value, 1e-4, 0.9999));
  const grey = 0.2126 * limited[0] + 0.7152 * limited[1] + 0.0722 * limited[2];
  const movedBy = (percent: number): Float64Array | undefined =>
    solve(mapTriple(limited, (value) => value + ((grey - value) * percent) / 100));
  let spectrum = movedBy(0);
  if (!spectrum) {
    // The nearer to grey, the easier: the smallest step that works is found by halving.
    let fails = 0;
    let works = 100;
    while (works - fails > 1) {
      const middle = (fails + works) >> 1;
      const trial = movedBy(middle);
      if (trial) {
        works = middle;
        spectrum = trial;
      } else fails = middle;
    }
  }
  if (spectrum)
    return spectrum.map((value) => clamp(value, LEAST_REFLECTANCE, GREATEST_REFLECTANCE));
  return new Float64Array(BIN_COUNT).fill(clamp(grey, LEAST_REFLECTANCE, GREATEST_REFLECTANCE));
}

/** Newton's method on the stationary point of the constrained problem; undefined when it does not settle. */
function solve(target: Triple): Float64Array | undefined {
  // Starting at the grey of equal luminance keeps the first steps short.
  const grey = clamp(
    0.2126 * target[0] + 0.7152 * target[1] + 0.0722 * target[2],
    LEAST_REFLECTANCE,
    GREATEST_REFLECTANCE,
  );
  const unknowns = new Float64Array(SIZE).fill(Math.atanh(2 * grey - 1), 0, BIN_COUNT);
  let residual = residuals(unknowns, target);
  let size = norm(residual);
  for (let round = 0; round < 60 && size > 1e-11; round += 1) {
    const step = solveLinear(jacobian(unknowns), residual);
    if (!step) return undefined;
    let damping = 1;
    for (;;) {
      const trial = unknowns.map((value, i) => value - damping * (step[i] ?? 0));
      const trialResidual = residuals(trial, target);
      const trialSize = norm(trialResidual);
      if (trialSize < size || damping < 1e-3) {
        unknowns.set(trial);
        residual = trialResidual;
        size = trialSize;
        break;
      }
      damping /= 2;
    }
  }
  if (!(size < 1e-8)) return undefined;
  return Float64Array.from(unknowns.subarray(0, BIN_COUNT), reflectance);
}

function reflectance(z: number): number {
  return (Math.tanh(z) + 1) / 2;
}

/** Slope of {@link reflectance}. */
function slope(z: number): number {
  return (1 - Math.tanh(z) ** 2) / 2;
}

function weight(channel: number, bin: number): number {
  return LINEAR_WEIGHTS[channel * BIN_COUNT + bin] ?? 0;
}

function residuals(unknowns: Float64Array, target: Triple): Float64Array {
  const out = new Float64Array(SIZE);
  const spectrum = Float64Array.from(unknowns.subarray(0, BIN_COUNT), reflectance);
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    const z = unknowns[bin] ?? 0;
    let pull = 0;
    if (bin > 0) pull += 2 * (z - (unknowns[bin - 1] ?? 0));
    if (bin < BIN_COUNT - 1) pull += 2 * (z - (unknowns[bin + 1] ?? 0));
    let price = 0;
    for (let channel = 0; channel < 3; channel += 1)
      price += (unknowns[BIN_COUNT + channel] ?? 0) * weight(channel, bin);
    out[bin] = pull + price * slope(z);
  }
  linearOfSpectrum(spectrum).forEach((value, channel) => {
    out[BIN_COUNT + channel] = value - (target[channel] ?? 0);
  });
  return out;
}

function jacobian(unknowns: Float64Array): Float64Array {
  const out = new Float64Array(SIZE * SIZE);
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    const z = unknowns[bin] ?? 0;
    const ends = bin === 0 || bin === BIN_COUNT - 1;
    let price = 0;
    for (let channel = 0; channel < 3; channel += 1) {
      price += (unknowns[BIN_COUNT + channel] ?? 0) * weight(channel, bin);
      out[bin * SIZE + BIN_COUNT + channel] = slope(z) * weight(channel, bin);
      out[(BIN_COUNT + channel) * SIZE + bin] = slope(z) * weight(channel, bin);
    }
    out[bin * SIZE + bin] = (ends ? 2 : 4) - 2 * price * slope(z) * Math.tanh(z);
    if (bin > 0) out[bin * SIZE + bin - 1] = -2;
    if (bin < BIN_COUNT - 1) out[bin * SIZE + bin + 1] = -2;
  }
  return out;
}

function norm(vector: Float64Array): number {
  let sum = 0;
  for (const value of vector) sum += value * value;
  return Math.sqrt(sum);
}

/**
 * Gaussian elimination with row exchange; undefined when the matrix is singular. `matrix` is used up. Page and worker both need
 * it before the first picture: with the matrix package in place of these lines they load 32 kB more (gzipped).
 */
function solveLinear(matrix: Float64Array, right: Float64Array): Float64Array | undefined {
  const x = right.slice();
  const at = (row: number, column: number): number => matrix[row * SIZE + column] ?? 0;
  for (let column = 0; column < SIZE; column += 1) {
    let best = column;
    for (let row = column + 1; row < SIZE; row += 1)
      if (Math.abs(at(row, column)) > Math.abs(at(best, column))) best = row;
    if (!(Math.abs(at(best, column)) > 1e-14)) return undefined;
    if (best !== column) {
      for (let k = 0; k < SIZE; k += 1) {
        const kept = at(column, k);
        matrix[column * SIZE + k] = at(best, k);
        matrix[best * SIZE + k] = kept;
      }
      const kept = x[column] ?? 0;
      x[column] = x[best] ?? 0;
      x[best] = kept;
    }
    for (let row = column + 1; row < SIZE; row += 1) {
      const factor = at(row, column) / at(column, column);
      if (factor === 0) continue;
      for (let k = column; k < SIZE; k += 1)
        matrix[row * SIZE + k] = at(row, k) - factor * at(column, k);
      x[row] = (x[row] ?? 0) - factor * (x[column] ?? 0);
    }
  }
  for (let row = SIZE - 1; row >= 0; row -= 1) {
    let sum = x[row] ?? 0;
    for (let k = row + 1; k < SIZE; k += 1) sum -= at(row, k) * (x[k] ?? 0);
    x[row] = sum / at(row, row);
  }
  return x;
}
