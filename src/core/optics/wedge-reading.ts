import type { Triple } from '../colour/srgb.ts';
import type { TransmissionBasis } from './filament-optics.ts';

/** What lies under a patch of a step wedge. */
export type Ground = 'black' | 'white';

/** One patch of a photographed wedge. */
export interface WedgePatch {
  readonly ground: Ground;
  /** Thickness of the tested filament over the ground, mm; 0 is the bare ground. */
  readonly thicknessMm: number;
  /** sRGB codes 0..255, not rounded, in light that shows the bare grounds in their known colours. */
  readonly code: Triple;
}

/** A wedge read from a photo. */
export interface PhotoReading {
  readonly kind: 'photo';
  /** Day of the reading, `yyyy-mm-dd`. */
  readonly date: string;
  /** Colours of the bare grounds, `#rrggbb`. */
  readonly grounds: { readonly black: string; readonly white: string };
  readonly patches: readonly WedgePatch[];
}

/** A wedge looked at. */
export interface EyeReading {
  readonly kind: 'eye';
  readonly date: string;
  readonly basis: TransmissionBasis;
  /** Thickness of the first step that met the basis, mm, and of the last that did not (0: the bare ground). */
  readonly metMm: number;
  readonly notMetMm: number;
}

export type WedgeReading = PhotoReading | EyeReading;
