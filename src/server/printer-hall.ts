import { randomUUID } from 'node:crypto';
import { createChannel, createResponse, type Channel } from 'better-sse';
import type { Printer } from '#core/printer/printer.ts';
import {
  advanceRun,
  idleRun,
  isOver,
  nextMomentS,
  obey,
  type PrinterManner,
  type PrinterRun,
  type PrintJob,
  type RunCommand,
} from '#core/rehearse/printer-run.ts';
import { mannerOf } from '#core/rehearse/rehearsal.ts';
import type {
  NewPrinter,
  PrinterChange,
  PrinterFaults,
  PrinterStatus,
} from '../platform/printer-api.ts';
import type { FileToPrint } from './rehearse-worker.ts';

/** Printers at once. */
export const MOST_PRINTERS = 100;
/** Who follows one printer at most. */
const MOST_FOLLOWERS = 20;
/** After so long without a word from anybody, and after so long at all, a printer is taken down, ms. */
const IDLE_MS = 30 * 60_000;
const LONGEST_MS = 48 * 3_600_000;
/** How often a running printer tells how far it is, ms. */
const BEAT_MS = 1000;

const NOTHING_TO_DO: PrintJob = { totalS: 0, stops: [], emptyAtS: null };

/** One simulated printer: a run, and a wall clock that drives it. */
class SimulatedPrinter {
  readonly id = randomUUID();
  readonly beganMs = Date.now();
  touchedMs = Date.now();
  readonly #printer: Printer;
  readonly #manner: PrinterManner;
  #file: FileToPrint | null = null;
  #faults: PrinterFaults;
  #speed: number;
  #told = 0;
  #run: PrinterRun;
  /** When the run was where it is, ms. */
  #atMs = Date.now();
  #timer: NodeJS.Timeout | undefined;
  readonly #channel: Channel = createChannel();
  readonly #ending = new AbortController();

  constructor({
    printer,
    speed = 1,
    faults = {},
    spool = null,
    feeder = [],
  }: NewPrinter & { readonly printer: Printer }) {
    this.#printer = printer;
    this.#speed = speed;
    this.#faults = faults;
    this.#manner = { ...mannerOf(printer, { stamp: '', swaps: [] }), feeder };
    this.#run = idleRun(NOTHING_TO_DO, this.#manner, faults, spool);
  }

  get printer(): Printer {
    return this.#printer;
  }

  get followers(): number {
    return this.#channel.sessionCount;
  }

  get isRunning(): boolean {
    return this.#file !== null && !isOver(this.#run);
  }

  /** Takes a file that was read, and forgets the run before; not in the midst of a run. */
  takeFile(file: FileToPrint): boolean {
    if (this.isRunning) return false;
    this.#file = file;
    this.#run = idleRun(this.#job(), this.#manner, this.#faults, this.#run.spool);
    this.#tell();
    return true;
  }

  change({ speed, faults }: PrinterChange): void {
    this.#catchUp();
    this.#speed = speed ?? this.#speed;
    this.#faults = faults ?? this.#faults;
    this.#run = { ...this.#run, faults: this.#faults, job: this.#job() };
    this.#tell();
  }

  /** Null where it is obeyed, else why not. */
  obey(command: RunCommand): string | null {
    this.#catchUp();
    if (!this.#file && command.command !== 'load') return 'It has no file yet. Send one first.';
    const next = obey(this.#run, command);
    if (!next.ok) return WHY_NOT[next.fault.code];
    this.#run = next.value;
    this.#tell();
    return null;
  }

  status(): PrinterStatus {
    this.#catchUp();
    const { state, clockS, printS, spool, waiting, laid, events, job } = this.#run;
    const stop = waiting?.stop === null ? undefined : job.stops[waiting?.stop ?? -1];
    this.#told += 1;
    return {
      id: this.id,
      told: this.#told,
      name: this.#printer.name,
      state,
      speed: this.#speed,
      clockS,
      printS,
      totalS: job.totalS,
      spool,
      file: this.#file && {
        bytes: this.#file.bytes,
        layers: this.#file.layers,
        stops: this.#file.stops.length,
      },
      waiting: waiting && {
        ...waiting,
        line: stop?.line ?? null,
        layer: stop?.layer ?? null,
        command: stop?.command ?? null,
      },
      laid: [...laid],
      faults: this.#faults,
      events: [...events],
    };
  }

  /** A stream of its status: now, at every change, and every second while it runs. Null where too many follow it. */
  follow(request: Request): Response | null {
    if (this.followers >= MOST_FOLLOWERS) return null;
    const signal = AbortSignal.any([request.signal, this.#ending.signal]);
    return createResponse(
      new Request(request.url, { headers: request.headers, signal }),
      (session) => {
        this.#channel.register(session);
        session.push(this.status(), 'status');
      },
    );
  }

  close(): void {
    clearTimeout(this.#timer);
    this.#ending.abort();
  }

  #job(): PrintJob {
    const file = this.#file;
    if (!file) return NOTHING_TO_DO;
    const { runsOutAfterMm } = this.#faults;
    const { totalS, stops } = file;
    return {
      totalS,
      stops,
      emptyAtS: runsOutAfterMm === undefined ? null : momentOfStrand(file, runsOutAfterMm),
    };
  }

  #catchUp(): void {
    const now = Date.now();
    const { clockS } = this.#run;
    if (!isOver(this.#run))
      this.#run = advanceRun(this.#run, clockS + ((now - this.#atMs) / 1000) * this.#speed);
    this.#atMs = now;
  }

  #tell(): void {
    if (this.#channel.sessionCount > 0) this.#channel.broadcast(this.status(), 'status');
    clearTimeout(this.#timer);
    if (isOver(this.#run)) return;
    const untilMs = ((nextMomentS(this.#run) - this.#run.clockS) / this.#speed) * 1000;
    this.#timer = setTimeout(
      () => {
        this.#catchUp();
        this.#tell();
      },
      Math.min(BEAT_MS, Math.max(1, untilMs)),
    );
    // A server that is told to end does not wait for printers.
    this.#timer.unref();
  }
}

const WHY_NOT = {
  'under-way': 'It is already under way. Stop it first, or wait until it is done.',
  'not-printing': 'It does not print now, so there is nothing to pause.',
  'not-waiting': 'It does not wait for anybody now.',
  'not-begun': 'It is not under way.',
} as const;

/** Seconds of printing at which a length of strand is used up, between the kept moments in proportion. */
function momentOfStrand({ momentsS, strandMm, totalS }: FileToPrint, mm: number): number {
  const next = strandMm.findIndex((value) => value >= mm);
  if (next < 0) return totalS + 1;
  const [from, to] = [strandMm[next - 1] ?? 0, strandMm[next] ?? 0];
  const [fromS, toS] = [momentsS[next - 1] ?? 0, momentsS[next] ?? 0];
  return fromS + (to > from ? (toS - fromS) * ((mm - from) / (to - from)) : 0);
}

const printers = new Map<string, SimulatedPrinter>();

/** Takes down what nobody wants any more. */
function tidy(): void {
  const now = Date.now();
  for (const [id, one] of printers) {
    const forgotten = one.followers === 0 && now - one.touchedMs > IDLE_MS;
    if (forgotten || now - one.beganMs > LONGEST_MS) removePrinter(id);
  }
}

/** Puts a printer up; null where there are too many. */
export function putUp(given: NewPrinter & { readonly printer: Printer }): SimulatedPrinter | null {
  tidy();
  if (printers.size >= MOST_PRINTERS) return null;
  const one = new SimulatedPrinter(given);
  printers.set(one.id, one);
  return one;
}

export function printerOf(id: string | undefined): SimulatedPrinter | undefined {
  tidy();
  const one = printers.get(id ?? '');
  if (one) one.touchedMs = Date.now();
  return one;
}

export function allPrinters(): SimulatedPrinter[] {
  tidy();
  return [...printers.values()];
}

export function removePrinter(id: string): boolean {
  printers.get(id)?.close();
  return printers.delete(id);
}
