import { strToU8 } from 'fflate';
import { LayerBook } from './layers.ts';
import { Machine, STATE } from './machine.ts';
import { LineScanner } from './scanner.ts';

/** What lines of the maker's own leave otherwise than they found it, and the line that mends it. */
export interface PauseTrouble {
  readonly what:
    | 'does-not-stop'
    | 'place'
    | 'units'
    | 'coordinates'
    | 'filament-mode'
    | 'filament-place'
    | 'strand'
    | 'speed'
    | 'tool'
    | 'bad-line';
  /** Line of G-code that mends it; empty where there is none to give. */
  readonly mend: string;
  /** The line that is wrong, where it is one. */
  readonly text?: string;
}

/** How much may be left over, mm. */
const NEAR_MM = 0.0005;
const mm = (value: number): string => String(Math.round(value * 1e4) / 1e4);

/**
 * Runs lines from a state and names what they do not leave as they found it: place, units, ways to mean coordinates and filament,
 * what is drawn back, speed, tool. A way to stop must be among them.
 */
export function checkPauseLines(lines: readonly string[], state: Float64Array): PauseTrouble[] {
  const book = new LayerBook({ accelerationMmS2: Infinity });
  const machine = new Machine(book, { gSetsFilament: false, relativeFromStart: false });
  machine.state.set(state);
  const scanner = new LineScanner(machine);
  scanner.feed(strToU8(`${lines.join('\n')}\n`));
  scanner.end();
  book.end();
  const now = machine.state;
  const was = (at: number): number => state[at] as number;
  const is = (at: number): number => now[at] as number;
  const troubles: PauseTrouble[] = book.badLines.map(({ text }) => ({
    what: 'bad-line' as const,
    mend: '',
    text,
  }));
  if (!book.events.some(({ kind }) => kind === 'pause' || kind === 'tool'))
    troubles.push({ what: 'does-not-stop', mend: '' });
  if (is(STATE.unit) !== was(STATE.unit))
    troubles.push({ what: 'units', mend: was(STATE.unit) === 1 ? 'G21' : 'G20' });
  if (is(STATE.absolute) !== was(STATE.absolute))
    troubles.push({ what: 'coordinates', mend: was(STATE.absolute) === 1 ? 'G90' : 'G91' });
  if (is(STATE.absoluteE) !== was(STATE.absoluteE))
    troubles.push({ what: 'filament-mode', mend: was(STATE.absoluteE) === 1 ? 'M82' : 'M83' });
  if (is(STATE.tool) !== was(STATE.tool))
    troubles.push({ what: 'tool', mend: `T${was(STATE.tool)}` });
  const moved = [STATE.x, STATE.y, STATE.z].filter((at) => Math.abs(is(at) - was(at)) > NEAR_MM);
  const back = (at: number): string =>
    `${'XYZ'[at] ?? ''}${mm((was(at) - was(at + STATE.originX)) / was(STATE.unit))}`;
  const across = moved.filter((at) => at !== STATE.z).map(back);
  // First across, then down: the other way the nozzle would drag over the piece.
  if (across.length > 0)
    troubles.push({ what: 'place', mend: `G90\nG1 ${across.join(' ')} F6000` });
  if (moved.includes(STATE.z))
    troubles.push({ what: 'place', mend: `G90\nG1 ${back(STATE.z)} F600` });
  if (Math.abs(is(STATE.owed) - was(STATE.owed)) > NEAR_MM)
    troubles.push({
      what: 'strand',
      mend: `M83\nG1 E${mm(is(STATE.owed) - was(STATE.owed))} F1800`,
    });
  // With absolute filament the next line counts from where the number stands.
  const counted = (from: (at: number) => number): number => from(STATE.e) - from(STATE.originE);
  if (was(STATE.absoluteE) === 1 && Math.abs(counted(is) - counted(was)) > NEAR_MM)
    troubles.push({ what: 'filament-place', mend: `G92 E${mm(counted(was) / was(STATE.unit))}` });
  if (is(STATE.feed) !== was(STATE.feed) && was(STATE.feed) > 0)
    troubles.push({ what: 'speed', mend: `G1 F${mm(was(STATE.feed) / was(STATE.unit))}` });
  return troubles;
}
