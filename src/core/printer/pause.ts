import { fail, succeed, type Result } from '../base/result.ts';

/** Ways to make a printer stop, by the command that stands in the G-code. */
export const PAUSE_COMMANDS = [
  'M600',
  'PAUSE',
  'M25',
  'M0',
  'M1',
  '@pause',
  'T1',
  'custom',
] as const;
export type PauseCommand = (typeof PAUSE_COMMANDS)[number];

export function isPauseCommand(text: string): text is PauseCommand {
  return (PAUSE_COMMANDS as readonly string[]).includes(text);
}

/** How a printer is made to stop. */
export interface Pause {
  readonly command: PauseCommand;
  /** The maker's own lines, with placeholders; counts only for `custom`. */
  readonly text: string;
}

/** Longest text of one's own. */
export const LONGEST_PAUSE_TEXT = 2000;

/** What a way to stop does, in a line, and what can go wrong with it. Common practice, no source. */
export const PAUSE_WORDS: Readonly<
  Record<PauseCommand, { readonly does: string; readonly caution: string }>
> = {
  M600: {
    does: 'Parks the head, unloads, waits for the new filament, purges and goes on where it was.',
    caution: 'Printers without it report an unknown command and print on.',
  },
  PAUSE: {
    does: 'A macro of the printer: parks the head and waits until it is resumed.',
    caution: 'It must be defined in the printer; otherwise the line is ignored.',
  },
  M25: {
    does: 'Halts a print that runs from the printer’s own storage until it is resumed.',
    caution:
      'Streamed from a computer it may be run through; it may leave the hot nozzle on the piece.',
  },
  M0: {
    does: 'Stops and waits for a press on the printer.',
    caution: 'Some printers go on by themselves after a while, or end the print.',
  },
  M1: {
    does: 'Stops if stopping is switched on at the printer, and waits for a press.',
    caution: 'With optional stops switched off it is run through.',
  },
  '@pause': {
    does: 'Asks the program that streams the G-code to hold it back.',
    caution: 'A printer that reads the file itself takes it for a remark and prints on.',
  },
  T1: {
    does: 'Asks the feeder for the tool of the next filament: T1 at the first swap, T2 at the second, and so on.',
    caution: 'Load the feeder in the order of the sheet; without a feeder the line is ignored.',
  },
  custom: {
    does: 'Lines of your own, with the swap’s values in place of the words in braces.',
    caution: 'Try them on the test tile first.',
  },
};

/** What is known where the lines of a pause are written. */
export interface PauseValues {
  /** Counted from 1. */
  readonly swap: number;
  readonly layer: number;
  /** Tops of the finished layer and of the first new one, mm. */
  readonly stopMm: number;
  readonly topMm: number;
  readonly from: string;
  readonly to: string;
  readonly purgeMm: number;
  readonly stamp: string;
}

/** The words in braces that a text of one's own may use, and what each is replaced by. */
export const PLACEHOLDERS = {
  '{swap}': 'number of the swap, from 1',
  '{layer}': 'first layer in the new filament, counted from 1',
  '{layer0}': 'the same, counted from 0',
  '{stop}': 'height that is finished, mm',
  '{top}': 'top of the first new layer, mm',
  '{from}': 'filament that comes out',
  '{to}': 'filament that goes in',
  '{purge}': 'length to purge, mm',
  '{stamp}': 'stamp of shape and sheet',
} as const;

/** Finds a word in braces that is not a placeholder. */
export function checkPauseText(text: string): Result<null> {
  for (const [word] of text.matchAll(/\{[^{}\n]*\}/g))
    if (!Object.hasOwn(PLACEHOLDERS, word)) return fail('unknown-placeholder', undefined, word);
  return succeed(null);
}

/** The G-code lines that make a printer stop for one swap. */
export function pauseLines({ command, text }: Pause, values: PauseValues): string[] {
  switch (command) {
    case 'custom': {
      const put = {
        '{swap}': String(values.swap),
        '{layer}': String(values.layer),
        '{layer0}': String(values.layer - 1),
        '{stop}': String(values.stopMm),
        '{top}': String(values.topMm),
        '{from}': plain(values.from),
        '{to}': plain(values.to),
        '{purge}': String(values.purgeMm),
        '{stamp}': values.stamp,
      } satisfies Record<keyof typeof PLACEHOLDERS, string>;
      const isWord = (word: string): word is keyof typeof put => Object.hasOwn(put, word);
      return text
        .replace(/\{[^{}\n]*\}/g, (word) => (isWord(word) ? put[word] : word))
        .split(/\r?\n/);
    }
    case 'T1':
      return [`T${values.swap}`];
    case 'M0':
    case 'M1':
      return [`${command} ; swap to ${plain(values.to)}`];
    default:
      return [command];
  }
}

/** A name as a remark in G-code can hold it: one line, nothing that ends or begins a remark. */
function plain(name: string): string {
  return name.replace(/[^\p{L}\p{N} .,+-]/gu, ' ').trim();
}
