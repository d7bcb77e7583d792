import { ruleColourOf } from '../artwork/colour-cells.ts';
import { linearOfBytes, parseHex, type Triple } from '../colour/srgb.ts';

/** How many zones a picture may be parted in, and how many are proposed. */
export const LEAST_ZONES = 2;
export const MOST_ZONES = 6;
export const USUAL_ZONES = 3;

/** Colours that one zone may go by. */
export const MOST_ZONE_COLOURS = 48;

/** Layers that neighbouring zones share unless said otherwise. */
export const USUAL_SHARED = 3;

/** What belongs to a zone by itself: samples whose colour is nearest to one of these, `#rrggbb`. */
export interface ZoneColours {
  readonly colours: readonly string[];
}

/**
 * Lightness counts this much where colours are told apart for zones: a thing in the light and its shadow belong together.
 */
const LIGHTNESS_SHARE = 0.3;

/** Positions of colours on the rule's scale, three numbers each; what is no colour counts as black. */
export function ruleColoursOf(colours: readonly string[]): Float32Array {
  return Float32Array.from(
    colours.flatMap((hex) => ruleColourOf(linearOfBytes(parseHex(hex) ?? [0, 0, 0]))),
  );
}

/** Positions of colours on the scale of zones. */
export function positionsOf(colours: readonly string[]): Triple[] {
  const flat = zonePositions(ruleColoursOf(colours));
  return colours.map((_, k) => [...flat.subarray(3 * k, 3 * k + 3)] as unknown as Triple);
}

/** Positions of cells on the scale of zones, three numbers each. */
export function zonePositions(colour: Float32Array): Float32Array {
  return colour.map((value, i) => (i % 3 === 0 ? LIGHTNESS_SHARE * value : value));
}
