import type { Filament } from './filament.ts';

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
