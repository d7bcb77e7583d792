import type { HeightMap } from '../base/raster.ts';
import type { SharedOutlines } from './smooth-outlines.ts';

/** What an area of a piece is: how tall, and which inlay lies under it. */
export interface InlaidState {
  readonly layers: number;
  /** 0 where none does, else its number from 1. */
  readonly inlay: number;
}

/**
 * Parts in filaments of their own in the lowest layers of a piece: flush with its underside, and with the rest of the piece over and
 * around them. Plain data.
 */
export interface Inlaid {
  /** How many layers they reach, from the bed; the piece is taller wherever they lie. */
  readonly layers: number;
  /** Filament of each inlay; inlay n is element n - 1. */
  readonly filaments: readonly string[];
  /** On samples 0 where there is none, else the number of the inlay. */
  readonly map: HeightMap;
  /** Lines between all areas. What lies beside them are places in `states`. */
  readonly outlines: SharedOutlines;
  /** Element 0 is where nothing is printed. */
  readonly states: readonly InlaidState[];
}

/** From which layer up to which a solid reaches in an area; nothing of it where the second is not above the first. */
export type Reach = readonly [below: number, end: number];

const NONE: Reach = [0, 0];

/** The whole piece. */
export function wholeReach({ states }: Pick<Inlaid, 'states'>): (state: number) => Reach {
  return (state) => [0, states[state]?.layers ?? 0];
}

/** One inlay, by its number from 1. */
export function inlayReach(
  { states, layers }: Pick<Inlaid, 'states' | 'layers'>,
  number: number,
): (state: number) => Reach {
  return (state) => (states[state]?.inlay === number ? [0, layers] : NONE);
}

/** The rest of the piece around and over all inlays, in the layers from above `below` up to `end`. */
export function bodyReach(
  { states, layers }: Pick<Inlaid, 'states' | 'layers'>,
  below: number,
  end: number,
): (state: number) => Reach {
  return (state) => {
    const own = states[state];
    if (!own) return NONE;
    return [own.inlay > 0 ? Math.max(below, layers) : below, Math.min(own.layers, end)];
  };
}

/** Is a state of a piece within a layer: of its body, or of an inlay by its number? */
export function isInLayer(
  { states, layers }: Pick<Inlaid, 'states' | 'layers'>,
  layer: number,
  inlay: number,
): (state: number) => boolean {
  return (state) => {
    const own = states[state];
    if (!own || own.layers < layer) return false;
    return layer > layers ? inlay === 0 : own.inlay === inlay;
  };
}
