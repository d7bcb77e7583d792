import type { TransmissionBasis } from '../optics/filament-optics.ts';
import type { Filament } from './filament.ts';

/** What a transmission value says, in words. */
export function describeBasis(basis: TransmissionBasis): string {
  return basis.kind === 'hiding'
    ? 'hiding'
    : `light through, ${Number((basis.threshold * 100).toFixed(4))} %`;
}

/** The words of what was typed to look for filaments. */
export function wordsOf(query: string): string[] {
  return query.toLowerCase().split(/\s+/).filter(Boolean);
}

/** Does a filament have all these words, in what it is called and noted, or in `more` that is told of it? */
export function hasWords(
  { name, maker, material, note, colour }: Filament,
  words: readonly string[],
  ...more: readonly string[]
): boolean {
  const text = [name, maker, material, note, colour, ...more].join(' ').toLowerCase();
  return words.every((word) => text.includes(word));
}
