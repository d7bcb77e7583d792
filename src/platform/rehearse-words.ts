import type { RunEvent, RunState } from '#core/rehearse/printer-run.ts';
import { IMPATIENT_S, type Trial, type TriedFault } from '#core/rehearse/rehearsal.ts';
import type { Pause } from '#core/printer/pause.ts';

/** What a printer is doing, in a word. */
export const STATE_WORDS: Readonly<Record<RunState, string>> = {
  idle: 'idle',
  heating: 'heating',
  printing: 'printing',
  waiting: 'waiting',
  done: 'done',
  faulted: 'faulted',
};

/** What may go wrong, as it is chosen. */
export const TRIAL_WORDS: Readonly<Record<Trial, string>> = {
  nothing: 'nothing',
  'unknown-command': 'does not know the command',
  'runs-through': 'runs through a stop',
  'resumes-itself': 'goes on by itself',
  'wrong-spool': 'wrong spool',
  'runs-out': 'runs out, unnoticed',
  'runs-out-told': 'runs out, noticed',
  power: 'loses power',
};

/** What is known of a run, to say what became of it. */
export interface ToldRun {
  readonly events: readonly RunEvent[];
  readonly stops: readonly {
    readonly command: string;
    readonly line: number;
    readonly layer: number;
    readonly wants: string | null;
  }[];
  readonly firstWrongLayer: number | null;
  /** What the profile says about stopping. */
  readonly pause: Pause;
  /** Whether the file has any stop at all, and the sheet a swap. */
  readonly swaps: number;
  readonly nameOf: (filament: string) => string;
}

const atLine = (line: number): string => `line ${line.toLocaleString('en')}`;

/** One sentence that says why a print came out wrong, and what to change; null where nothing is wrong. */
export function describeOutcome(told: ToldRun): string | null {
  const { events, stops, firstWrongLayer, pause, swaps, nameOf } = told;
  if (firstWrongLayer === null) return null;
  const from = `From layer ${firstWrongLayer} on it differs from the sheet: `;
  const stopOf = (event: RunEvent): ToldRun['stops'][number] | undefined => stops[event.stop ?? -1];
  const find = (kind: RunEvent['kind']): RunEvent | undefined =>
    events.find((event) => event.kind === kind);
  const obeys = pause.command === 'custom' ? 'your own lines' : pause.command;
  const ignored = find('ignored');
  const through = find('ran-through');
  const itself = find('resumed-itself');
  const power = find('power-lost');
  const out = find('ran-out');
  const wrong = events.find((event) => {
    const wants = wantedAt(events, event, stops);
    return event.kind === 'loaded' && wants !== null && event.spool !== wants;
  });
  if (ignored) {
    const stop = stopOf(ignored);
    return `${from}the printer ran through ${stop?.command ?? 'the command'} in ${atLine(stop?.line ?? 0)}, which it does not know. Choose a way to pause that it obeys (its profile says ${obeys}), or print the test tile first.`;
  }
  if (through) {
    const stop = stopOf(through);
    return `${from}the printer ran through ${stop?.command ?? 'the command'} in ${atLine(stop?.line ?? 0)}. Try another way to pause on the test tile, or stand beside the printer at layer ${stop?.layer ?? firstWrongLayer}.`;
  }
  if (itself)
    return `${from}the printer went on by itself before the spool was changed. Set its waiting time longer, or stand there in time.`;
  if (power)
    return `${from}the power went, and the file was started again with the spool that was on. Load the first filament before every start.`;
  if (out)
    return `${from}the strand ran out, and nobody noticed. Weigh the spool before the print, or switch the sensor on.`;
  if (wrong)
    return `${from}${nameOf(wrong.spool ?? '')} went in where ${nameOf(wantedAt(events, wrong, stops) ?? '')} belongs. Lay the spools out in the order of the sheet before you start.`;
  if (stops.length === 0 && swaps > 0)
    return `${from}the file has no stop. Put the swaps in at the G-code desk, or pause at the panel at the minutes below.`;
  if (events.some(({ kind }) => kind === 'loaded'))
    return `${from}the spool was changed too early or too late. Change it while the printer waits.`;
  return `${from}another spool was on than the sheet wants. Load ${nameOf(stops[0]?.wants ?? '')} at its place.`;
}

/** What the sheet wanted when a spool was loaded: what belongs to the stop that came last. */
function wantedAt(
  events: readonly RunEvent[],
  { clockS }: RunEvent,
  stops: ToldRun['stops'],
): string | null {
  const stop = events.findLast(
    (event) => event.kind === 'stopped-at' && event.clockS <= clockS,
  )?.stop;
  return stop === undefined ? null : (stops[stop]?.wants ?? null);
}

/** A fault that was tried, in words: which case is the worst. */
export function describeCase({ what }: TriedFault): string {
  const { trial, stop } = what;
  switch (trial) {
    case 'nothing':
      return 'Everything goes as planned';
    case 'unknown-command':
      return 'Does not know the command to pause';
    case 'runs-through':
      return `Runs through stop ${stop ?? ''}`;
    case 'resumes-itself':
      return `Goes on by itself after ${IMPATIENT_S} s`;
    case 'wrong-spool':
      return `Wrong spool at stop ${stop ?? ''}`;
    case 'runs-out':
      return 'Runs out, and nobody notices';
    case 'runs-out-told':
      return 'Runs out, and the sensor stops it';
    case 'power':
      return 'Loses power, and is started again';
  }
}
