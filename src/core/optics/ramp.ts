import { clamp } from '../base/numbers.ts';
import { ciede2000 } from '../colour/ciede2000.ts';
import { labOfLinear } from '../colour/lab.ts';
import { bytesOfLinear, type Triple } from '../colour/srgb.ts';
import type { FilamentOptics } from './filament-optics.ts';
import { decayOf, reflectanceAlone, reflectanceOver, transmittanceOf } from './kubelka-munk.ts';
import { BIN_COUNT, linearOfSpectrum } from './spectral-bins.ts';

/** One printed layer, as the model needs it. */
export interface Ply {
  readonly optics: FilamentOptics;
  readonly thicknessMm: number;
  /** Index of the band that the layer belongs to, from 0 at the plate. Cover starts anew with each band. */
  readonly bandIndex: number;
  /** How far light goes sideways in it, mm; see `gaussiansOfSpread`. None where it is not known. */
  readonly spreadMm?: number | undefined;
}

/** What one sees where the relief ends at one particular layer. */
export interface RampStep {
  readonly bandIndex: number;
  /** Seen from the front, sRGB bytes 0..255. */
  readonly colour: Triple;
  /** The same colour in CIELAB D65, not rounded to bytes. */
  readonly lab: Triple;
  /** Share of the light from behind that comes through in linear red, green and blue, 0..1. */
  readonly through: Triple;
  /** In a dark room with an even white lamp behind, sRGB bytes; white is the bare lamp. */
  readonly lamp: Triple;
  /** How much of what lies under the band its layers so far hide, 0..1. */
  readonly cover: number;
  /** What the colours follow from, in each spectral bin, 0..1: reflectance from the front, and light that comes through from behind. */
  readonly front: Float64Array;
  readonly behind: Float64Array;
  /** How far light goes sideways in the topmost layer, mm. */
  readonly spreadMm: number;
}

/** The visible colour for each possible height of a stack: element 0 is the first layer. */
export type Ramp = readonly RampStep[];

/** Does light go sideways in any layer that may be on top? */
export function isSpread(ramp: Ramp): boolean {
  return ramp.some(({ spreadMm }) => spreadMm > 0);
}

/** Cover from which on a band counts as having covered what lies under it. */
export const COVERED = 0.95;

/**
 * Computes the ramp of a pile of layers, from the plate up.
 * Reflectance: Kubelka-Munk, layer on layer. Light from behind: the layers' free transmittance piled up by
 * Stokes' relation T <- T T_l / (1 - R_below R_l) (G. G. Stokes, Proc. Royal Society 11 (1862)).
 * @param groundReflectance what the piece hangs on, 0..1; 0 when nothing comes back from behind
 */
export function computeRamp(plies: readonly Ply[], groundReflectance = 0): Ramp {
  const seen = new Float64Array(BIN_COUNT).fill(groundReflectance);
  // Light from the lamp meets the pile without the ground, so its reflectance is tracked apart.
  const free = new Float64Array(BIN_COUNT);
  const through = new Float64Array(BIN_COUNT).fill(1);
  let band = -1;
  let span = 0;
  let lab: Triple = labOfLinear(linearOfSpectrum(seen));
  return plies.map(({ optics, thicknessMm, bandIndex, spreadMm = 0 }) => {
    if (bandIndex !== band) {
      band = bandIndex;
      span = ciede2000(lab, optics.opaqueLab);
    }
    for (let bin = 0; bin < BIN_COUNT; bin += 1) {
      const opaque = optics.opaque[bin] ?? 0;
      const decay = decayOf(opaque, optics.scatterPerMm[bin] ?? 0, thicknessMm);
      const layerThrough = transmittanceOf(opaque, decay);
      const below = free[bin] ?? 0;
      through[bin] =
        ((through[bin] ?? 0) * layerThrough) / (1 - below * reflectanceAlone(opaque, decay));
      free[bin] = reflectanceOver(below, opaque, decay);
      seen[bin] = reflectanceOver(seen[bin] ?? 0, opaque, decay);
    }
    const linear = linearOfSpectrum(seen);
    const throughLinear = linearOfSpectrum(through);
    lab = labOfLinear(linear);
    // Where a band lies on its own colour there is nothing left to hide.
    const cover = span < 1e-9 ? 1 : clamp(1 - ciede2000(lab, optics.opaqueLab) / span, 0, 1);
    return {
      bandIndex,
      colour: bytesOfLinear(linear),
      lab,
      through: throughLinear,
      lamp: bytesOfLinear(throughLinear),
      cover,
      front: seen.slice(),
      behind: through.slice(),
      spreadMm,
    };
  });
}
