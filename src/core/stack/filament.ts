import { clamp } from '../base/numbers.ts';
import { labOfBytes } from '../colour/lab.ts';
import { parseHex } from '../colour/srgb.ts';
import {
  solveFilamentOptics,
  type FilamentOptics,
  type TransmissionBasis,
} from '../optics/filament-optics.ts';
import type { WedgeReading } from '../optics/wedge-reading.ts';

/** Ways in which a transmission became known: printed on the label, seen or photographed on a step wedge, or typed in. */
export const FINDINGS = ['label', 'eye', 'photo', 'typed'] as const;
export type Finding = (typeof FINDINGS)[number];

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
  /** How the transmission became known. */
  readonly found: Finding;
  /** Standard error of the transmission as a share of it (0.1 is 10 %), where it was measured. */
  readonly uncertainty?: number | undefined;
  /** How scattering goes with wavelength, where that was measured; 0 otherwise. See `scatterOf`. */
  readonly scatterSlope?: number | undefined;
  /** How far light goes sideways in it in the mean, mm; where it is not known, the rack's own value counts, and no rack has one unless told. */
  readonly spreadMm?: number | undefined;
  /** What was read off the filament's step wedge, so that it can be worked out anew. */
  readonly reading?: WedgeReading | undefined;
  /** Price of a kilogram, in the maker's own money, where it is known. */
  readonly pricePerKg?: number | undefined;
  /** What is left on the spool, grams, where it is known. */
  readonly leftG?: number | undefined;
  /** Heat of nozzle and bed that it wants, degrees Celsius, where that is known; else the printer's own count. */
  readonly nozzleC?: number | undefined;
  readonly bedC?: number | undefined;
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
  filament: Pick<Filament, 'colour' | 'transmissionMm' | 'basis' | 'scatterSlope'>,
): FilamentOptics {
  const { colour, transmissionMm, basis, scatterSlope = 0 } = filament;
  const threshold = basis.kind === 'hiding' ? 0 : basis.threshold;
  const key = `${colour} ${transmissionMm} ${threshold} ${scatterSlope}`;
  let optics = solved.get(key);
  if (!optics) {
    if (solved.size > 5000) solved.clear();
    optics = solveFilamentOptics(
      parseHex(colour) ?? [0, 0, 0],
      transmissionMm,
      basis,
      scatterSlope,
    );
    solved.set(key, optics);
  }
  return optics;
}

/** L* (0..100) of a filament's opaque colour. */
export function brightnessOf(filament: Pick<Filament, 'colour'>): number {
  return labOfBytes(parseHex(filament.colour) ?? [0, 0, 0])[0];
}

/** Ranges of hue that makers speak of; `grey` is everything without much colour of its own. */
export const HUES = [
  'grey',
  'red',
  'orange',
  'yellow',
  'green',
  'teal',
  'blue',
  'violet',
  'pink',
] as const;
export type Hue = (typeof HUES)[number];

/** Upper ends of the hue ranges in CIELAB degrees, set by eye: common practice, no source. */
const HUE_ENDS: readonly (readonly [number, Hue])[] = [
  [5, 'pink'],
  [45, 'red'],
  [75, 'orange'],
  [105, 'yellow'],
  [165, 'green'],
  [235, 'teal'],
  [292, 'blue'],
  [322, 'violet'],
  [360, 'pink'],
];

/** Chroma below which a colour counts as grey. */
const GREY_CHROMA = 10;

/** The range of hue that a filament's colour lies in. */
export function hueOf(filament: Pick<Filament, 'colour'>): Hue {
  const [, a, b] = labOfBytes(parseHex(filament.colour) ?? [0, 0, 0]);
  if (Math.hypot(a, b) < GREY_CHROMA) return 'grey';
  const degrees = (Math.atan2(b, a) * 180) / Math.PI;
  const hue = degrees < 0 ? degrees + 360 : degrees;
  return HUE_ENDS.find(([end]) => hue <= end)?.[1] ?? 'pink';
}

/** Limits within which a transmission is believed, mm. */
export const LEAST_TRANSMISSION_MM = 0.01;
export const GREATEST_TRANSMISSION_MM = 1000;

/** Farthest that light is believed to go sideways, mm. */
export const GREATEST_SPREAD_MM = 3;

/** Mean of how far light goes sideways in filaments, mm; 0 where there are none. */
export function meanSpreadMm(filaments: readonly Pick<Filament, 'spreadMm'>[]): number {
  const sum = filaments.reduce((total, { spreadMm = 0 }) => total + spreadMm, 0);
  return sum / Math.max(1, filaments.length);
}

/**
 * A filament as it is planned with: values from labels times the rack's tuning factor, measured ones as they are.
 * Labels measure in ways of their own; one factor found on one swatch mends what they have in common.
 */
export function tuneFilament<Spool extends Filament>(filament: Spool, factor: number): Spool {
  if (filament.found !== 'label' || factor === 1) return filament;
  const transmissionMm = clamp(
    filament.transmissionMm * factor,
    LEAST_TRANSMISSION_MM,
    GREATEST_TRANSMISSION_MM,
  );
  return { ...filament, transmissionMm };
}

/** A filament without what only holds for its measured transmission: another value was put in its place. */
export function withoutMeasurement({
  uncertainty: _uncertainty,
  scatterSlope: _slope,
  ...rest
}: Filament): Filament {
  return rest;
}
