import { fail, succeed, type Fault, type Result } from '../base/result.ts';

/** What a printer may be doing. `faulted` is one that cannot go on: its power went, or its filament, and nobody was told. */
export const RUN_STATES = ['idle', 'heating', 'printing', 'waiting', 'done', 'faulted'] as const;
export type RunState = (typeof RUN_STATES)[number];

/** A place of the file where a printer may stop. */
export interface JobStop {
  readonly line: number;
  readonly layer: number;
  readonly command: string;
  readonly tool: number | null;
  /** Seconds of printing before it. */
  readonly atS: number;
  /** Filament that belongs on the printer from here on, by the sheet; null where there is no sheet. */
  readonly wants: string | null;
}

/** What a printer is given to do. */
export interface PrintJob {
  /** Seconds of printing, stops not counted. */
  readonly totalS: number;
  readonly stops: readonly JobStop[];
  /** Seconds of printing after which a spool that runs short is empty; null for one that lasts. */
  readonly emptyAtS: number | null;
}

/** How a printer is. */
export interface PrinterManner {
  /** Commands at which it stops; it runs through all others. */
  readonly obeys: readonly string[];
  /** Spools in a feeder, by the number of the tool; empty without one. */
  readonly feeder: readonly string[];
  /** Seconds until it is hot, and that a feeder takes for a change. */
  readonly heatS: number;
  readonly changeS: number;
}

/** What goes wrong in a run. */
export interface RunFaults {
  /** Runs through the stop of this number, counted from 1 over those that it would obey. */
  readonly ignores?: number | undefined;
  /** Goes on by itself after so many seconds of waiting. */
  readonly resumesAfterS?: number | undefined;
  /** At the stop of this number another spool goes in. */
  readonly wrongSpool?: { readonly stop: number; readonly spool: string } | undefined;
  /** Whether it notices that the strand has ended, where the job says when that is. */
  readonly sensor?: boolean | undefined;
  /** Loses its power after so many seconds of printing, once. */
  readonly powerAtS?: number | undefined;
}

export type RunEventKind =
  | 'started'
  | 'heated'
  | 'stopped-at'
  | 'ran-through'
  | 'ignored'
  | 'paused'
  | 'resumed'
  | 'resumed-itself'
  | 'loaded'
  | 'fed'
  | 'ran-out'
  | 'power-lost'
  | 'ended'
  | 'done';

/** Something that happened, in the order of the clock. */
export interface RunEvent {
  readonly kind: RunEventKind;
  /** Seconds since the start, stops and heating counted; and seconds of printing. */
  readonly clockS: number;
  readonly printS: number;
  /** Index of a stop of the job. */
  readonly stop?: number | undefined;
  readonly spool?: string | null | undefined;
}

/** From when on which spool is laid; null is nothing at all. */
export interface LaidSpool {
  /** Seconds of printing. */
  readonly fromS: number;
  readonly spool: string | null;
}

/** Why a printer waits. */
export interface Waiting {
  readonly why: 'stop' | 'panel' | 'empty' | 'feeder';
  readonly sinceS: number;
  readonly stop: number | null;
}

/** A run so far. Only events are kept, so it is small. */
export interface PrinterRun {
  readonly job: PrintJob;
  readonly manner: PrinterManner;
  readonly faults: RunFaults;
  readonly state: RunState;
  readonly clockS: number;
  readonly printS: number;
  readonly spool: string | null;
  /** Whether strand comes out. */
  readonly empty: boolean;
  readonly heatedS: number;
  /** Index of the next stop of the job; and of those obeyed, how many have come. */
  readonly nextStop: number;
  readonly obeyed: number;
  readonly waiting: Waiting | null;
  readonly laid: readonly LaidSpool[];
  readonly powerLost: boolean;
  readonly emptied: boolean;
  readonly events: readonly RunEvent[];
}

/** What lies closer together is one moment, seconds: sums of times are not exact. */
const MOMENT_S = 1e-6;

/** Most events of a run: beyond, a maker plays with the buttons. */
const MOST_EVENTS = 5000;

/** A printer with a file, cold. */
export function idleRun(
  job: PrintJob,
  manner: PrinterManner,
  faults: RunFaults = {},
  spool: string | null = null,
): PrinterRun {
  return {
    job,
    manner,
    faults,
    state: 'idle',
    clockS: 0,
    printS: 0,
    spool,
    empty: false,
    heatedS: 0,
    nextStop: 0,
    obeyed: 0,
    waiting: null,
    laid: [{ fromS: 0, spool }],
    powerLost: false,
    emptied: false,
    events: [],
  };
}

function tell(run: PrinterRun, kind: RunEventKind, more: Partial<RunEvent> = {}): PrinterRun {
  const event: RunEvent = { kind, clockS: run.clockS, printS: run.printS, ...more };
  return { ...run, events: [...run.events, event].slice(-MOST_EVENTS) };
}

/** What comes out of the nozzle from now on. */
function lays(run: PrinterRun): PrinterRun {
  const spool = run.empty ? null : run.spool;
  const kept = run.laid.filter(({ fromS }) => fromS < run.printS - MOMENT_S);
  if (kept.at(-1)?.spool === spool && kept.length > 0) return { ...run, laid: kept };
  return { ...run, laid: [...kept, { fromS: kept.length === 0 ? 0 : run.printS, spool }] };
}

/** Whether a command is one that the printer stops at. */
export function isObeyed(
  { manner }: Pick<PrinterRun, 'manner'>,
  stop: Pick<JobStop, 'tool' | 'command'>,
): boolean {
  return (
    stop.tool === null &&
    manner.obeys.some((one) => one.toUpperCase() === stop.command.toUpperCase())
  );
}

/**
 * Runs a printer on to a moment. The same run and moment always give the same.
 * @param toS the clock, seconds since the start; what is over stays as it is
 */
export function advanceRun(run: PrinterRun, toS: number): PrinterRun {
  let now = run;
  while (!isOver(now)) {
    const atS = Math.max(now.clockS, nextMomentS(now));
    if (atS > toS + MOMENT_S) break;
    now = happen(pass(now, atS));
  }
  return !isOver(now) && now.clockS < toS ? pass(now, toS) : now;
}

export function isOver({ state }: PrinterRun): boolean {
  return state === 'idle' || state === 'done' || state === 'faulted';
}

type NextKind = 'stop' | 'empty' | 'power' | 'end';

/** What comes next while it prints. */
function nextOf({ job, faults, nextStop, powerLost, emptied }: PrinterRun): {
  readonly kind: NextKind;
  readonly atS: number;
} {
  const stop = job.stops[nextStop];
  const candidates: { kind: NextKind; atS: number }[] = [
    ...(faults.powerAtS !== undefined && !powerLost
      ? [{ kind: 'power' as const, atS: faults.powerAtS }]
      : []),
    ...(job.emptyAtS !== null && !emptied ? [{ kind: 'empty' as const, atS: job.emptyAtS }] : []),
    ...(stop ? [{ kind: 'stop' as const, atS: stop.atS }] : []),
    { kind: 'end', atS: job.totalS },
  ];
  return candidates.reduce((first, one) => (one.atS < first.atS ? one : first));
}

/** Time goes by in which nothing happens. */
function pass(run: PrinterRun, toS: number): PrinterRun {
  const usedS = toS - run.clockS;
  const on = { ...run, clockS: toS };
  if (run.state === 'heating') return { ...on, heatedS: run.heatedS + usedS };
  if (run.state !== 'printing') return on;
  return { ...on, printS: Math.max(run.printS, Math.min(run.printS + usedS, nextOf(run).atS)) };
}

/** What has become due happens. */
function happen(run: PrinterRun): PrinterRun {
  switch (run.state) {
    case 'heating':
      return tell({ ...run, heatedS: run.manner.heatS, state: 'printing' }, 'heated');
    case 'printing': {
      const { kind, atS } = nextOf(run);
      return reach({ ...run, printS: Math.max(run.printS, atS) }, kind);
    }
    case 'waiting':
      return goOn(run, run.waiting?.why === 'feeder' ? 'resumed' : 'resumed-itself');
    default:
      return run;
  }
}

function reach(run: PrinterRun, kind: NextKind): PrinterRun {
  if (kind === 'end') return tell({ ...run, state: 'done', waiting: null }, 'done');
  if (kind === 'power')
    return tell({ ...run, state: 'faulted', powerLost: true, waiting: null }, 'power-lost');
  if (kind === 'empty') {
    const out = tell({ ...run, emptied: true, empty: true }, 'ran-out');
    return run.faults.sensor === true ? wait({ ...out, empty: true }, 'empty', null) : lays(out);
  }
  const index = run.nextStop;
  const stop = run.job.stops[index] as JobStop;
  const past = { ...run, nextStop: index + 1 };
  if (stop.tool !== null) {
    const spool = run.manner.feeder[stop.tool];
    if (spool === undefined || spool === run.spool) {
      // A tool that is on already is no change.
      return spool === undefined && stop.tool > 0 ? tell(past, 'ignored', { stop: index }) : past;
    }
    const fed = faultySpool(past, index + 1, spool);
    return wait(
      tell(lays({ ...past, spool: fed, empty: false }), 'fed', { stop: index, spool: fed }),
      'feeder',
      index,
    );
  }
  if (!isObeyed(run, stop)) return tell(past, 'ignored', { stop: index });
  const obeyed = run.obeyed + 1;
  if (run.faults.ignores === obeyed)
    return tell({ ...past, obeyed }, 'ran-through', { stop: index });
  return wait(tell({ ...past, obeyed }, 'stopped-at', { stop: index }), 'stop', index);
}

function wait(run: PrinterRun, why: Waiting['why'], stop: number | null): PrinterRun {
  return { ...run, state: 'waiting', waiting: { why, sinceS: run.clockS, stop } };
}

function goOn(run: PrinterRun, kind: 'resumed' | 'resumed-itself'): PrinterRun {
  return tell(lays({ ...run, state: 'printing', waiting: null }), kind);
}

function faultySpool({ faults }: PrinterRun, stop: number, spool: string): string {
  return faults.wrongSpool?.stop === stop ? faults.wrongSpool.spool : spool;
}

/** What a maker may do at a printer. */
export type RunCommand =
  | { readonly command: 'start' }
  | { readonly command: 'pause' }
  | { readonly command: 'resume' }
  | { readonly command: 'stop' }
  | { readonly command: 'load'; readonly spool: string };
export const RUN_COMMANDS = ['start', 'pause', 'resume', 'stop', 'load'] as const;

/** Why a command cannot be obeyed now. */
export type RunRefusal = Fault<'under-way' | 'not-printing' | 'not-waiting' | 'not-begun'>;

/**
 * Obeys a command at the present moment of the clock. `load` is done at any time: while it prints, what comes out changes at once, as
 * it does where somebody changes the spool too early or too late. After a loss of power, `start` begins the file anew with
 * whatever spool is on.
 */
export function obey(run: PrinterRun, command: RunCommand): Result<PrinterRun, RunRefusal> {
  switch (command.command) {
    case 'start': {
      if (!isOver(run)) return fail('under-way', undefined, run.state);
      const { job, manner, faults, spool, powerLost, emptied, clockS, events } = run;
      const again = {
        ...idleRun(job, manner, faults, spool),
        // What went wrong once does not do so again.
        powerLost,
        emptied,
        clockS: run.state === 'idle' ? 0 : clockS,
        events,
      };
      return succeed(tell({ ...again, state: 'heating' }, 'started', { spool }));
    }
    case 'pause':
      return run.state === 'printing'
        ? succeed(wait(tell(run, 'paused'), 'panel', null))
        : fail('not-printing', undefined, run.state);
    case 'resume':
      return run.state === 'waiting' && run.waiting?.why !== 'feeder'
        ? succeed(goOn(run, 'resumed'))
        : fail('not-waiting', undefined, run.state);
    case 'stop':
      return isOver(run)
        ? fail('not-begun', undefined, run.state)
        : succeed(tell({ ...run, state: 'done', waiting: null }, 'ended'));
    case 'load': {
      const spool =
        run.waiting?.why === 'stop' ? faultySpool(run, run.obeyed, command.spool) : command.spool;
      return succeed(tell(lays({ ...run, spool, empty: false }), 'loaded', { spool }));
    }
  }
}

/** A maker who waits beside the printer. */
export interface PatientMaker {
  /** Seconds from a stop until it is resumed. */
  readonly swapS: number;
}

/** Most rounds of a run that is played to its end: a file with more stops than that is none. */
const MOST_ROUNDS = 20_000;

/**
 * Plays a run to its end with a maker who loads at every stop what the sheet wants there, starts anew after a loss of power, and is not
 * there where the printer goes on by itself before he has changed the spool.
 */
export function playRun(begun: PrinterRun, { swapS }: PatientMaker): PrinterRun {
  let run = begun;
  const apply = (command: RunCommand): void => {
    const next = obey(run, command);
    if (next.ok) run = next.value;
  };
  if (run.state === 'idle') apply({ command: 'start' });
  for (let round = 0; round < MOST_ROUNDS && run.state !== 'done'; round += 1) {
    if (run.state === 'faulted') {
      apply({ command: 'start' });
      continue;
    }
    if (run.state === 'waiting' && run.waiting?.why !== 'feeder') {
      const { waiting } = run;
      const since = waiting?.sinceS ?? run.clockS;
      const obeyedBefore = run.events.length;
      run = advanceRun(run, Math.max(run.clockS, since + swapS));
      // It went on by itself meanwhile.
      if (run.events.length !== obeyedBefore) continue;
      const stop = waiting?.stop ?? null;
      const wants = stop === null ? run.spool : (run.job.stops[stop]?.wants ?? run.spool);
      if (wants !== null) apply({ command: 'load', spool: wants });
      apply({ command: 'resume' });
      continue;
    }
    run = advanceRun(run, nextMomentS(run));
  }
  return run;
}

/** The moment of the clock at which something happens by itself; Infinity where the printer waits for somebody. */
export function nextMomentS(run: PrinterRun): number {
  switch (run.state) {
    case 'heating':
      return run.clockS + run.manner.heatS - run.heatedS;
    case 'printing':
      return run.clockS + Math.max(0, nextOf(run).atS - run.printS);
    case 'waiting':
      return (run.waiting?.sinceS ?? 0) + patienceOf(run);
    default:
      return Infinity;
  }
}

/** Seconds after which a waiting printer goes on by itself. */
function patienceOf({ waiting, manner, faults }: PrinterRun): number {
  if (waiting?.why === 'feeder') return manner.changeS;
  return waiting?.why === 'stop' ? (faults.resumesAfterS ?? Infinity) : Infinity;
}
