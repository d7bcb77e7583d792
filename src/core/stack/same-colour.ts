import { ciede2000 } from '../colour/ciede2000.ts';
import { labOfBytes } from '../colour/lab.ts';
import { parseHex } from '../colour/srgb.ts';
import { transmissionIn } from '../optics/filament-optics.ts';
import { opticsOf, type Filament } from './filament.ts';

/** Opaque colours no further apart than this (CIEDE2000) count as one: set by eye, no source. */
const SAME_COLOUR = 6;

/** Share by which transmissions must differ for a change to be worth it. */
const OTHER_TRANSMISSION = 0.15;

/** Transmission of a filament by hiding, mm, whatever basis its own value has, so that filaments can be compared. */
export function hidingMm(filament: Filament): number {
  return filament.basis.kind === 'hiding'
    ? filament.transmissionMm
    : transmissionIn(opticsOf(filament), { kind: 'hiding' });
}

/**
 * Filaments of about the same opaque colour as one, but with another transmission: a thinner or thicker band of them
 * looks alike where it covers, and blends otherwise where it does not. Least transmission first.
 */
export function sameColour(
  filament: Filament,
  rack: readonly Filament[],
): { readonly filament: Filament; readonly times: number }[] {
  const lab = labOfBytes(parseHex(filament.colour) ?? [0, 0, 0]);
  const own = hidingMm(filament);
  return rack
    .filter(({ id }) => id !== filament.id)
    .filter(
      ({ colour }) => ciede2000(lab, labOfBytes(parseHex(colour) ?? [0, 0, 0])) <= SAME_COLOUR,
    )
    .map((other) => ({ filament: other, times: hidingMm(other) / own }))
    .filter(({ times }) => Math.abs(times - 1) >= OTHER_TRANSMISSION)
    .sort((a, b) => a.times - b.times);
}
