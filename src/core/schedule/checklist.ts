import type { Printer } from '../printer/printer.ts';
import type { SheetSwap } from './swap-sheet.ts';
import { formatStrand } from './words.ts';

/** Least heat at which a filament can be pulled out and pushed in, degrees Celsius: common practice, no source. */
export const LEAST_SWAP_C = 170;

/** Which way a swap goes: light plastic shows every trace of what was before. */
export type Direction = 'to-light' | 'to-dark';

export function directionOf({ toLighter }: Pick<SheetSwap, 'toLighter'>): Direction {
  return toLighter ? 'to-light' : 'to-dark';
}

/**
 * What to do at one swap by hand, in order. Common practice, no source.
 * @param between the printer does not wait in the middle of a piece, but between two
 */
export function swapSteps(printer: Printer, direction: Direction, between = false): string[] {
  const toLight = direction === 'to-light';
  const purge = formatStrand(toLight ? printer.purgeToLightMm : printer.purgeToDarkMm);
  const push = toLight
    ? `Push about ${purge} through, until no trace of the darker colour is left: white after red comes out pink.`
    : `Push about ${purge} through, until the colour is even: dark hides what is left of light.`;
  if (printer.feeder)
    return [
      'Check that the next spool is threaded and free.',
      'Let the feeder unload and load.',
      push,
      'Remove the string at the nozzle before it prints on.',
    ];
  return [
    `Check that the nozzle has at least ${LEAST_SWAP_C} degrees.`,
    'Cut the strand above the inlet, or unload.',
    'Cut the new strand at a slant and load it.',
    push,
    'Remove the string at the nozzle.',
    between
      ? 'Start the next piece, and watch its first lines.'
      : 'Resume, and watch the first lines.',
  ];
}
