import { bisectLog } from '../base/numbers.ts';
import { labOfLinear } from '../colour/lab.ts';
import { linearOfBytes, type Triple } from '../colour/srgb.ts';
import { decayOf, reflectanceOver, transmittanceOf } from './kubelka-munk.ts';
import { reflectanceOfColour } from './reflectance-of-colour.ts';
import {
  BIN_COUNT,
  BIN_WAVELENGTHS_NM,
  LUMINANCE_WEIGHTS,
  linearOfSpectrum,
} from './spectral-bins.ts';

/**
 * What a transmission value means.
 * `hiding`: the thickness over which black and white grounds can no longer be told apart.
 * `light-through`: the thickness at which `threshold` (0..1) of the light behind still comes through.
 */
export type TransmissionBasis =
  { readonly kind: 'hiding' } | { readonly kind: 'light-through'; readonly threshold: number };

/** Contrast ratio that counts as complete hiding. Source: ISO 6504-3:2019 and ASTM D2805. */
export const HIDING_CONTRAST = 0.98;

/** Reflectance of the white ground of the hiding test. Source: ISO 6504-3:2019 (charts of Y = 80 +- 2). */
export const WHITE_GROUND = 0.8;

/** Range in which scattering is looked for, per mm. Wider than any plastic. */
const LEAST_SCATTER = 1e-7;
const GREATEST_SCATTER = 1e7;

/** A filament as the model sees it. */
export interface FilamentOptics {
  /** Reflectance of the opaque plastic in each spectral bin, 0.004..0.985. */
  readonly opaque: Float64Array;
  /** Scattering per mm in each spectral bin. */
  readonly scatterPerMm: Float64Array;
  /** Colour of the opaque plastic in CIELAB D65. */
  readonly opaqueLab: Triple;
}

/**
 * Contrast ratio Y over black / Y over white (0..1) of a layer.
 * Source of the criterion: ISO 6504-3:2019; black is taken as 0 and white as {@link WHITE_GROUND}.
 */
export function contrastRatio(
  opaque: Float64Array,
  scatterPerMm: Float64Array,
  thicknessMm: number,
): number {
  let overBlack = 0;
  let overWhite = 0;
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    const r = opaque[bin] ?? 0;
    const decay = decayOf(r, scatterPerMm[bin] ?? 0, thicknessMm);
    const weight = LUMINANCE_WEIGHTS[bin] ?? 0;
    overBlack += weight * reflectanceOver(0, r, decay);
    overWhite += weight * reflectanceOver(WHITE_GROUND, r, decay);
  }
  return overBlack / overWhite;
}

/** Luminous transmittance (0..1) of a free layer. */
export function lightThrough(
  opaque: Float64Array,
  scatterPerMm: Float64Array,
  thicknessMm: number,
): number {
  let sum = 0;
  for (let bin = 0; bin < BIN_COUNT; bin += 1) {
    const r = opaque[bin] ?? 0;
    sum +=
      (LUMINANCE_WEIGHTS[bin] ?? 0) *
      transmittanceOf(r, decayOf(r, scatterPerMm[bin] ?? 0, thicknessMm));
  }
  return sum;
}

/** Wavelength at which the slope of scattering leaves it as it is, nm. */
const SLOPE_WAVELENGTH_NM = 550;

/**
 * Scattering per mm in each bin: `scatter550PerMm` at 550 nm, and `(wavelength / 550 nm) ^ slope` times that elsewhere.
 * Slope 0 is the same scattering in all bins. The power law is that of particles in paint: common practice, no source.
 */
export function scatterOf(scatter550PerMm: number, slope = 0): Float64Array {
  return BIN_WAVELENGTHS_NM.map((nm) => scatter550PerMm * (nm / SLOPE_WAVELENGTH_NM) ** slope);
}

/** Grows with thickness or scattering, and is 0 where the criterion of a basis is just met. */
function excessOf(
  basis: TransmissionBasis,
  opaque: Float64Array,
  scatterPerMm: Float64Array,
  thicknessMm: number,
): number {
  return basis.kind === 'hiding'
    ? contrastRatio(opaque, scatterPerMm, thicknessMm) - HIDING_CONTRAST
    : basis.threshold - lightThrough(opaque, scatterPerMm, thicknessMm);
}

/**
 * Solves a filament's optics from what its maker knows.
 * @param colour sRGB bytes (0..255) of a thick, opaque patch
 * @param transmissionMm thickness in mm, above 0, that `basis` speaks of
 * @param scatterSlope how scattering goes with wavelength, see {@link scatterOf}
 */
export function solveFilamentOptics(
  colour: Triple,
  transmissionMm: number,
  basis: TransmissionBasis = { kind: 'hiding' },
  scatterSlope = 0,
): FilamentOptics {
  const opaque = reflectanceOfColour(linearOfBytes(colour));
  const shape = scatterOf(1, scatterSlope);
  const scatter = bisectLog(
    (trial) =>
      excessOf(
        basis,
        opaque,
        shape.map((value) => value * trial),
        transmissionMm,
      ),
    LEAST_SCATTER,
    GREATEST_SCATTER,
  );
  return {
    opaque,
    scatterPerMm: shape.map((value) => value * scatter),
    opaqueLab: labOfLinear(linearOfSpectrum(opaque)),
  };
}

/** The thickness in mm at which a filament meets another criterion: tells a label's value in the other basis. */
export function transmissionIn(
  { opaque, scatterPerMm }: Pick<FilamentOptics, 'opaque' | 'scatterPerMm'>,
  basis: TransmissionBasis,
): number {
  return bisectLog((mm) => excessOf(basis, opaque, scatterPerMm, mm), 1e-6, 1e6);
}
