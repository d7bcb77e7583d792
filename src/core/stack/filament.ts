import { parseHex } from '../colour/srgb.ts';
import {
  solveFilamentOptics,
  type FilamentOptics,
  type TransmissionBasis,
} from '../optics/filament-optics.ts';

/** A spool, or a kind of spool, in the maker's rack. */
export interface Filament {
  readonly id: string;
  readonly maker: string;
  readonly name: string;
  readonly material: string;
  /** Colour of a thick opaque patch, `#rrggbb`. */
  readonly colour: string;
  readonly transmissionMm: number;
  readonly basis: TransmissionBasis;
  readonly densityGCm3: number;
  readonly diameterMm: number;
  readonly onHand: boolean;
  readonly note: string;
}

/** Density of PLA, g/cm3: common practice, no source. */
export const PLA_DENSITY_G_CM3 = 1.24;

/** Usual filament diameter, mm: common practice, no source. */
export const USUAL_DIAMETER_MM = 1.75;

const solved = new Map<string, FilamentOptics>();

/**
 * Optics of a filament. Solving takes about a tenth of a millisecond and the same few filaments are asked for at every
 * change of a stack, so answers are kept by the values that they depend on.
 * A colour that is not `#rrggbb` counts as black; data from outside is checked where it comes in.
 */
export function opticsOf(
  filament: Pick<Filament, 'colour' | 'transmissionMm' | 'basis'>,
): FilamentOptics {
  const { colour, transmissionMm, basis } = filament;
  const threshold = basis.kind === 'hiding' ? 0 : basis.threshold;
  const key = `${colour} ${transmissionMm} ${threshold}`;
  let optics = solved.get(key);
  if (!optics) {
    if (solved.size > 5000) solved.clear();
    optics = solveFilamentOptics(parseHex(colour) ?? [0, 0, 0], transmissionMm, basis);
    solved.set(key, optics);
  }
  return optics;
}
