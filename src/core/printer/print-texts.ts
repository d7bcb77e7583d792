/** Longest text before or after a print. */
export const LONGEST_PRINT_TEXT = 4000;

/** The words in braces that a printer's start and end text may use, and what each is replaced by. */
export const PRINT_WORDS = {
  '{bed}': 'heat of the bed for the lowest filament, degrees Celsius',
  '{nozzle}': 'heat of the nozzle for it',
  '{filament}': 'name of the lowest filament',
  '{layers}': 'number of layers',
  '{first}': 'height of the first layer, mm',
  '{height}': 'height of the piece, mm',
  '{left}': 'left end of what is laid, mm',
  '{front}': 'front end of it, mm',
  '{width}': 'width of it, mm',
  '{depth}': 'depth of it, mm',
  '{stamp}': 'stamp of shape and sheet',
} as const;
export type PrintWord = keyof typeof PRINT_WORDS;
export type PrintValues = Readonly<Record<PrintWord, string | number>>;

const WORD = /\{[^{}\n]*\}/g;
const isWord = (word: string): word is PrintWord => Object.hasOwn(PRINT_WORDS, word);

/** The first word in braces that is none of ours; undefined where all are. */
export function unknownWord(text: string): string | undefined {
  return [...text.matchAll(WORD)].map(([word]) => word).find((word) => !isWord(word));
}

/** The lines of a text with its words replaced; lines without anything are left out. */
export function printLines(text: string, values: PrintValues): string[] {
  return text
    .replace(WORD, (word) => (isWord(word) ? String(values[word]) : word))
    .split(/\r?\n/)
    .map((line) => line.trimEnd())
    .filter((line) => line !== '');
}
