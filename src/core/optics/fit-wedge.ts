import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import { inverse, Matrix } from 'ml-matrix';
import { clamp } from '../base/numbers.ts';
import { fail, succeed, type Fault, type Result } from '../base/result.ts';
import { ciede2000 } from '../colour/ciede2000.ts';
import { labOfLinear } from '../colour/lab.ts';
import {
  decodeSrgb,
  encodeSrgb,
  formatHex,
  linearOfBytes,
  mapTriple,
  parseHex,
  type Triple,
} from '../colour/srgb.ts';
import { scatterOf, transmissionIn, type FilamentOptics } from './filament-optics.ts';
import { decayOf, reflectanceOver } from './kubelka-munk.ts';
import { reflectanceOfColour } from './reflectance-of-colour.ts';
import { BIN_COUNT, linearOfSpectrum } from './spectral-bins.ts';
import type { Ground, PhotoReading, WedgePatch } from './wedge-reading.ts';

/** One patch of the wedge as it was measured and as the fitted filament would show it. */
export interface PatchFit {
  readonly ground: Ground;
  readonly thicknessMm: number;
  readonly measured: Triple;
  readonly fitted: Triple;
  /** CIEDE2000 between the two. */
  readonly deltaE: number;
}

/** What a photographed wedge says about its filament. */
export interface WedgeFit {
  /** Hiding thickness, mm. */
  readonly transmissionMm: number;
  /** Standard error of `transmissionMm` as a share of it: what noise and model are off by, in squares. */
  readonly uncertainty: number;
  /** The part of it that the noise of the photo makes: all of it, were the plastic just as the model has it. */
  readonly noiseUncertainty: number;
  /** Colour of the opaque plastic, `#rrggbb`. */
  readonly colour: string;
  readonly scatterSlope: number;
  readonly patches: readonly PatchFit[];
  readonly meanDeltaE: number;
}

export type WedgeFitFault = Fault<
  /** Fewer than three thicknesses: `detail` says how many. */
  | 'too-few-patches'
  /** The ground of a patch, or a bare colour, is not usable: `where` says which. */
  | 'bad-reading'
  /** Over black and over white look alike at every step, so nothing tells how much light comes through. */
  | 'nothing-shines-through'
  /** The patches do not follow any filament: `detail` is the mean CIEDE2000. */
  | 'no-filament-fits'
>;

/** Mean CIEDE2000 above which the patches are not believed to be one filament's. */
const MOST_MEAN_DELTA_E = 6;

/**
 * What the model is off by where a plastic has another spectrum than the one that its colour suggests (reds, yellows, browns and
 * violets most), as a share of the transmission. Measured on simulated prints whose spectra were drawn otherwise than ours; no real
 * print has confirmed it yet. No photo can be surer than this.
 */
export const MODEL_SHARE = 0.09;

/** Noise of a patch in codes that is taken for granted: JPEG, uneven plastic, rounding. */
const LEAST_NOISE_CODES = 0.7;

/** Spread of the slope of scattering that plastics are expected to have; keeps it near 0 where the photo says nothing. */
const SLOPE_SPREAD = 1.5;

/** Steepest slope of scattering: small particles scatter with the fourth power of wavelength (Lord Rayleigh, 1871). */
const GREATEST_SLOPE = 4;

/** Scattering at 550 nm from which fits are begun, per mm: clear to white plastic. */
const STARTS_PER_MM = [0.02, 0.08, 0.3, 1, 3, 10, 30] as const;

/** Parameters: logit of the opaque colour in linear red, green, blue; ln of scattering at 550 nm; its slope. */
const COLOUR_FROM = 0;
const LN_SCATTER = 3;
const SLOPE = 4;
const LIMITS = {
  low: [-9, -9, -9, Math.log(1e-4), -GREATEST_SLOPE],
  high: [7, 7, 7, Math.log(1e4), GREATEST_SLOPE],
} as const;

function logit(share: number): number {
  const inside = clamp(share, 2e-4, 0.999);
  return Math.log(inside / (1 - inside));
}

type FittedOptics = Pick<FilamentOptics, 'opaque' | 'scatterPerMm'>;

/**
 * Optics of parameters. Spectra are kept by their colour: they are what takes the time, and of the steps by which a fit feels
 * for its slopes nearly half change scattering alone.
 */
function opticsFromParameters(): (parameters: readonly number[]) => FittedOptics {
  const kept = new Map<string, Float64Array>();
  return (parameters) => {
    const logits = parameters.slice(COLOUR_FROM, COLOUR_FROM + 3);
    const key = logits.join();
    let opaque = kept.get(key);
    if (!opaque) {
      const share = (i: number): number => 1 / (1 + Math.exp(-(logits[i] ?? 0)));
      opaque = reflectanceOfColour([share(0), share(1), share(2)]);
      kept.set(key, opaque);
    }
    const scatterPerMm = scatterOf(Math.exp(parameters[LN_SCATTER] ?? 0), parameters[SLOPE] ?? 0);
    return { opaque, scatterPerMm };
  };
}

/** Linear sRGB of a layer over a ground. */
export function colourOverGround(
  { opaque, scatterPerMm }: FittedOptics,
  ground: Float64Array,
  thicknessMm: number,
): Triple {
  const seen = new Float64Array(BIN_COUNT);
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    const r = opaque[bin] ?? 0;
    seen[bin] = reflectanceOver(
      ground[bin] ?? 0,
      r,
      decayOf(r, scatterPerMm[bin] ?? 0, thicknessMm),
    );
  }
  return linearOfSpectrum(seen);
}

/** A camera's codes end at 0 and 255; so do the model's, or a clipped patch would pull at the fit. */
function codesOf(linear: Triple): Triple {
  return mapTriple(linear, (value) => 255 * encodeSrgb(clamp(value, 0, 1)));
}

function linearOfCodes(code: Triple): Triple {
  return mapTriple(code, (value) => decodeSrgb(clamp(value, 0, 255) / 255));
}

/**
 * Finds the filament whose layers look like the patches of a wedge: five parameters (opaque colour, scattering, slope of
 * scattering over wavelength) by least squares on sRGB codes.
 * Source of the method: D. W. Marquardt, "An algorithm for least-squares estimation of nonlinear parameters", SIAM
 * Journal 11 (1963). The standard error comes from the inverse of the normal matrix at the solution, scaled with the
 * residuals' variance (ibid.; any textbook on regression).
 */
export function fitWedge(reading: PhotoReading): Result<WedgeFit, WedgeFitFault> {
  const grounds = {} as Record<Ground, Float64Array>;
  for (const ground of ['black', 'white'] as const) {
    const bytes = parseHex(reading.grounds[ground]);
    if (!bytes) return fail('bad-reading', `ground ${ground}`, reading.grounds[ground]);
    grounds[ground] = reflectanceOfColour(linearOfBytes(bytes));
  }
  const patches = reading.patches.filter(({ thicknessMm }) => thicknessMm > 0);
  for (const [i, { thicknessMm, code }] of patches.entries())
    if (!Number.isFinite(thicknessMm) || !code.every((value) => Number.isFinite(value)))
      return fail('bad-reading', `patch ${i + 1}`);
  const thicknesses = new Set(patches.map(({ thicknessMm }) => thicknessMm)).size;
  if (thicknesses < 3) return fail('too-few-patches', undefined, String(thicknesses));
  if (!shinesThrough(patches)) return fail('nothing-shines-through');

  const opticsOf = opticsFromParameters();
  const predict = (parameters: readonly number[]): Float64Array => {
    const optics = opticsOf(parameters);
    const out = new Float64Array(3 * patches.length + 1);
    patches.forEach(({ ground, thicknessMm }, i) => {
      out.set(codesOf(colourOverGround(optics, grounds[ground], thicknessMm)), 3 * i);
    });
    // One more observation: slopes near 0 are likelier. In units of the patches' noise.
    out[3 * patches.length] = (LEAST_NOISE_CODES * (parameters[SLOPE] ?? 0)) / SLOPE_SPREAD;
    return out;
  };
  const observed = Float64Array.from([...patches.flatMap(({ code }) => [...code]), 0]);
  const sumOfSquares = (parameters: readonly number[]): number =>
    predict(parameters).reduce((sum, value, i) => sum + (value - (observed[i] ?? 0)) ** 2, 0);

  // The thickest step is the nearest to the opaque colour.
  const thickest = patches.reduce((a, b) => (b.thicknessMm > a.thicknessMm ? b : a));
  const colour = linearOfCodes(thickest.code).map(logit);
  const starts = STARTS_PER_MM.map((scatter) => [...colour, Math.log(scatter), 0])
    .map((parameters) => ({ parameters, error: sumOfSquares(parameters) }))
    .sort((a, b) => a.error - b.error)
    .slice(0, 2);
  const x = observed.map((_, i) => i);
  const best = starts
    .map(
      ({ parameters }) =>
        levenbergMarquardt(
          { x, y: observed },
          (trial) => {
            const codes = predict(trial);
            return (i) => codes[i] ?? 0;
          },
          {
            initialValues: parameters,
            minValues: LIMITS.low,
            maxValues: LIMITS.high,
            gradientDifference: 1e-4,
            centralDifference: true,
            damping: 1,
            maxIterations: 50,
            errorTolerance: 1e-9,
          },
        ).parameterValues,
    )
    .map((parameters) => ({ parameters, error: sumOfSquares(parameters) }))
    .reduce((a, b) => (b.error < a.error ? b : a));

  const optics = opticsOf(best.parameters);
  const fits = patches.map(({ ground, thicknessMm, code }): PatchFit => {
    const fitted = colourOverGround(optics, grounds[ground], thicknessMm);
    const deltaE = ciede2000(labOfLinear(fitted), labOfLinear(linearOfCodes(code)));
    return { ground, thicknessMm, measured: code, fitted: codesOf(fitted), deltaE };
  });
  const meanDeltaE = fits.reduce((sum, { deltaE }) => sum + deltaE, 0) / fits.length;
  if (meanDeltaE > MOST_MEAN_DELTA_E)
    return fail('no-filament-fits', undefined, meanDeltaE.toFixed(1));
  const opaqueLinear = linearOfSpectrum(optics.opaque);
  const noiseUncertainty = uncertaintyOf(best.parameters, predict, opticsOf, best.error);
  return succeed({
    transmissionMm: transmissionIn(optics, { kind: 'hiding' }),
    uncertainty: Math.hypot(noiseUncertainty, MODEL_SHARE),
    noiseUncertainty,
    colour: formatHex(mapTriple(codesOf(opaqueLinear), Math.round)),
    scatterSlope: best.parameters[SLOPE] ?? 0,
    patches: fits,
    meanDeltaE,
  });
}

/** Least difference of codes over black and over white, at the thinnest step, that tells anything. */
const LEAST_SHINE_CODES = 4;

function shinesThrough(patches: readonly WedgePatch[]): boolean {
  const over = (ground: Ground): WedgePatch | undefined =>
    patches
      .filter((patch) => patch.ground === ground)
      .reduce<WedgePatch | undefined>(
        (thin, patch) => (thin && thin.thicknessMm <= patch.thicknessMm ? thin : patch),
        undefined,
      );
  const black = over('black');
  const white = over('white');
  // With one ground alone only the change from step to step can tell; the fit decides then.
  if (!black || !white) return true;
  return white.code.some((value, i) => Math.abs(value - (black.code[i] ?? 0)) > LEAST_SHINE_CODES);
}

/** Standard error of the transmission by the noise of the patches alone, as a share of it. */
function uncertaintyOf(
  parameters: readonly number[],
  predict: (parameters: readonly number[]) => Float64Array,
  opticsOf: (parameters: readonly number[]) => FittedOptics,
  sumOfSquares: number,
): number {
  const step = 1e-3;
  const moved = (k: number, by: number): number[] =>
    parameters.map((value, i) => (i === k ? value + by : value));
  const columns = parameters.map((_, k) => {
    const up = predict(moved(k, step));
    const down = predict(moved(k, -step));
    return Array.from(up, (value, i) => (value - (down[i] ?? 0)) / (2 * step));
  });
  const jacobian = new Matrix(columns).transpose();
  const normal = jacobian.transpose().mmul(jacobian);
  // A parameter without any effect would make the matrix singular; this keeps it far from the others.
  for (let k = 0; k < parameters.length; k += 1) normal.set(k, k, normal.get(k, k) + 1e-9);
  const covariance = inverse(normal);
  const freedom = Math.max(1, jacobian.rows - parameters.length);
  const variance = Math.max(sumOfSquares / freedom, LEAST_NOISE_CODES ** 2);
  const lnTransmission = (trial: readonly number[]): number =>
    Math.log(transmissionIn(opticsOf(trial), { kind: 'hiding' }));
  const gradient = parameters.map(
    (_, k) => (lnTransmission(moved(k, step)) - lnTransmission(moved(k, -step))) / (2 * step),
  );
  let sum = 0;
  for (const [j, a] of gradient.entries())
    for (const [k, b] of gradient.entries()) sum += a * b * covariance.get(j, k);
  return Math.sqrt(Math.max(0, variance * sum));
}

/** A transmission with how far it may be off. */
export interface EyeValue {
  readonly transmissionMm: number;
  /** Half a step, as a share of the value. */
  readonly uncertainty: number;
}

/**
 * Transmission from looking at a wedge: it lies between the last step at which the ground (or the light) was still seen
 * and the first at which it was not. The geometric mean halves that gap on the scale on which steps are even; where
 * already the first step hides, half of it is the best guess.
 * @param notMetMm thickness of the last step that did not meet the basis, mm; 0 when there is none
 * @param metMm thickness of the first step that met it, mm
 */
export function transmissionByEye(notMetMm: number, metMm: number): EyeValue {
  const low = notMetMm > 0 ? notMetMm : metMm / 4;
  return {
    transmissionMm: Math.sqrt(low * metMm),
    uncertainty: Math.sqrt(metMm / low) - 1,
  };
}
