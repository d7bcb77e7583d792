import { createStore, type StoreApi } from 'zustand/vanilla';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { Printer } from '#core/printer/printer.ts';
import type { LaidSpool, PrinterRun, RunCommand, RunFaults } from '#core/rehearse/printer-run.ts';
import type { TriedFault } from '#core/rehearse/rehearsal.ts';
import type { Score } from '#core/rehearse/score.ts';
import type { FilamentTable } from '#core/stack/stack-ramp.ts';
import { describeGcodeFault } from '../platform/gcode-words.ts';
import type { PrinterStatus } from '../platform/printer-api.ts';
import { PrinterClient } from '../platform/printer-client.ts';
import type { WorkerClient } from '../workers/client.ts';
import type { LaidPixels, RehearsedFacts, RehearseJobs } from '../workers/rehearse/jobs.ts';

/** A file that is rehearsed, and what it is compared with. */
export interface RehearsedSource {
  readonly name: string;
  readonly file: Blob;
  readonly plan: PrintPlan;
  readonly printer: Printer;
  readonly filaments: FilamentTable;
}

/** What goes wrong in the run to come. */
export interface ChosenFault {
  readonly faults: RunFaults;
  /** Strand left on the spool, mm; null for one that lasts. */
  readonly emptyAfterMm: number | null;
}

export const NO_FAULT: ChosenFault = { faults: {}, emptyAfterMm: null };

/** A print that goes wrong, seen before it does. */
export interface Spoilt {
  readonly run: PrinterRun;
  readonly score: Score;
  readonly pixels: LaidPixels;
}

export interface RehearsalState {
  readonly source: RehearsedSource | null;
  /** Share of the file that is run; null while none is. */
  readonly opening: number | null;
  readonly trouble: string | null;
  readonly facts: RehearsedFacts | null;
  readonly planned: LaidPixels | null;
  readonly chosen: ChosenFault;
  readonly spoilt: Spoilt | null;
  /** The printer as it was last heard of, and when that was, ms. */
  readonly status: PrinterStatus | null;
  readonly heardMs: number;
  readonly speed: number;
  /** What the printer would not do, or that it is gone. */
  readonly refusal: string | null;
  readonly gone: boolean;
  /** Seconds of printing that are looked at; null for now. */
  readonly lookAtS: number | null;
  readonly shown: { readonly pixels: LaidPixels; readonly atS: number } | null;
  readonly score: Score | null;
  readonly trying: number | null;
  readonly tried: readonly TriedFault[] | null;
}

const EMPTY: RehearsalState = {
  source: null,
  opening: null,
  trouble: null,
  facts: null,
  planned: null,
  chosen: NO_FAULT,
  spoilt: null,
  status: null,
  heardMs: 0,
  speed: 60,
  refusal: null,
  gone: false,
  lookAtS: null,
  shown: null,
  score: null,
  trying: null,
  tried: null,
};

/** Seconds of printing and of the clock at a moment: what was last heard, and what the clock has run since. */
export function momentOf(
  { status, heardMs, facts }: Pick<RehearsalState, 'status' | 'heardMs' | 'facts'>,
  nowMs: number,
): { readonly printS: number; readonly clockS: number } {
  if (!status) return { printS: 0, clockS: 0 };
  const since = (Math.max(0, nowMs - heardMs) / 1000) * status.speed;
  const { state, printS, clockS, totalS } = status;
  if (state === 'waiting' || state === 'heating') return { printS, clockS: clockS + since };
  if (state !== 'printing') return { printS, clockS };
  // It is not shown past a stop before the printer has said what it did there.
  const next = facts?.job.stops.find(({ atS }) => atS > printS + 1e-6)?.atS ?? totalS;
  const used = Math.min(since, Math.max(0, Math.min(next, totalS) - printS));
  return { printS: printS + used, clockS: clockS + used };
}

/** A rehearsal of one file: what is planned and seen comes from the worker, what happens from the simulated printer. */
export class Rehearsal {
  readonly store: StoreApi<RehearsalState> = createStore<RehearsalState>(() => EMPTY);
  readonly #worker: WorkerClient<RehearseJobs>;
  readonly #begin: () => PrinterClient;
  #client: PrinterClient | null = null;
  #abort = new AbortController();
  #trying: AbortController | null = null;
  #drawing = false;
  #wanted: number | null = null;
  #scoring = false;

  constructor(worker: WorkerClient<RehearseJobs>, begin = () => new PrinterClient()) {
    this.#worker = worker;
    this.#begin = begin;
  }

  /** Gives up what is rehearsed: another file comes. */
  clear(): void {
    this.#letGo();
    const { speed } = this.store.getState();
    this.store.setState({ ...EMPTY, speed, opening: 0 });
  }

  /** Runs a file once; what was rehearsed before is given up. */
  async open(source: RehearsedSource): Promise<void> {
    this.clear();
    const abort = new AbortController();
    this.#abort = abort;
    this.store.setState({ source });
    try {
      const { file, plan, printer, filaments } = source;
      const opened = await this.#worker.run(
        'open',
        { file, plan, printer, filaments },
        {
          signal: abort.signal,
          onProgress: (opening) => {
            if (this.#abort === abort) this.store.setState({ opening });
          },
        },
      );
      if (this.#abort !== abort) return;
      if (!opened.ok) {
        this.store.setState({ trouble: `${source.name}: ${describeGcodeFault(opened.fault)}` });
        return;
      }
      const facts = opened.value;
      const planned = await this.#worker.run('picture', {
        laid: facts.planned,
        atS: facts.job.totalS,
      });
      this.store.setState({ facts, planned });
      this.show();
    } catch (error) {
      if (!(error instanceof Cancelled) && this.#abort === abort)
        this.store.setState({
          trouble: `${source.name} could not be run (${messageOf(error)}). Choose it again.`,
        });
    } finally {
      if (this.#abort === abort) this.store.setState({ opening: null });
    }
  }

  /** Gives up opening. */
  cancel(): void {
    this.#abort.abort();
  }

  /** Chooses what goes wrong; a run that is under way has it from now on. */
  async choose(chosen: ChosenFault): Promise<void> {
    this.store.setState({ chosen, spoilt: null });
    if (this.#client && this.store.getState().status)
      await this.#ask((client) => client.change({ faults: sentFaults(chosen) }));
    if (chosen === NO_FAULT) return;
    const { run, score } = await this.#worker.run('play', chosen);
    const pixels = await this.#worker.run('picture', { laid: run.laid, atS: run.printS });
    if (this.store.getState().chosen === chosen)
      this.store.setState({ spoilt: { run, score, pixels } });
  }

  /** Every way in which the print may go wrong. */
  async tryAll(): Promise<void> {
    this.#trying?.abort();
    const abort = new AbortController();
    this.#trying = abort;
    this.store.setState({ trying: 0, tried: null });
    try {
      const tried = await this.#worker.run('tryAll', null, {
        signal: abort.signal,
        onProgress: (trying) => {
          if (this.#trying === abort) this.store.setState({ trying });
        },
      });
      if (this.#trying === abort) this.store.setState({ tried });
    } catch (error) {
      if (!(error instanceof Cancelled)) this.store.setState({ refusal: messageOf(error) });
    } finally {
      if (this.#trying === abort) this.store.setState({ trying: null });
    }
  }

  cancelTrying(): void {
    this.#trying?.abort();
  }

  /** Puts a printer up, hands it the file, loads the first spool and starts it. */
  async start(): Promise<void> {
    const { source, facts, chosen, speed } = this.store.getState();
    if (!source || !facts) return;
    this.#client?.close();
    const client = this.#begin();
    this.#client = client;
    this.store.setState({ status: null, gone: false, refusal: null, lookAtS: null, score: null });
    await this.#ask(async () => {
      await client.begin(
        {
          printer: source.printer,
          speed,
          faults: sentFaults(chosen),
          spool: facts.layers[0]?.filament ?? null,
          feeder: [...facts.manner.feeder],
        },
        source.file,
        this.#abort.signal,
      );
      const status = await client.command({ command: 'start' });
      client.follow(
        (heard) => {
          if (this.#client === client) this.#hear(heard);
        },
        () => {
          if (this.#client === client)
            this.store.setState({
              gone: true,
              refusal:
                'The simulated printer is gone: the server was started anew, or ended. What was laid until then is shown; start the rehearsal again.',
            });
        },
      );
      return status;
    });
  }

  /** Does things at the printer, one after the other: a spool is on before it goes on. */
  async command(...commands: readonly RunCommand[]): Promise<void> {
    for (const command of commands) await this.#ask((client) => client.command(command));
  }

  async setSpeed(speed: number): Promise<void> {
    this.store.setState({ speed });
    if (this.store.getState().status) await this.#ask((client) => client.change({ speed }));
  }

  /** Looks at another moment of what was laid; null goes back to now. */
  look(lookAtS: number | null): void {
    this.store.setState({ lookAtS });
    this.show();
  }

  /** Draws what is looked at. One picture is under way; of later wishes the newest counts. */
  show(): void {
    const state = this.store.getState();
    const now = momentOf(state, Date.now()).printS;
    this.#wanted = state.lookAtS ?? (state.status ? now : (state.facts?.job.totalS ?? 0));
    if (!this.#drawing) void this.#draw();
  }

  close(): void {
    this.#letGo();
    this.#worker.close();
  }

  /** What lies where: as the printer has it, and as planned where it has not been yet, or there is none. */
  #laid(): readonly LaidSpool[] {
    const { status, facts, lookAtS } = this.store.getState();
    if (!facts) return [];
    if (!status) return facts.planned;
    if (lookAtS === null || lookAtS <= status.printS) return status.laid;
    // What is still to come is shown as it would come if all goes well from here.
    return [
      ...status.laid.filter(({ fromS }) => fromS < status.printS),
      ...aheadOf(facts.planned, status.printS),
    ];
  }

  async #draw(): Promise<void> {
    this.#drawing = true;
    try {
      while (this.#wanted !== null && this.store.getState().facts) {
        const atS = this.#wanted;
        this.#wanted = null;
        const pixels = await this.#worker.run('picture', { laid: this.#laid(), atS });
        this.store.setState({ shown: { pixels, atS } });
      }
    } catch (error) {
      if (!(error instanceof Cancelled)) this.store.setState({ refusal: messageOf(error) });
    } finally {
      this.#drawing = false;
    }
  }

  #hear(status: PrinterStatus): void {
    // An answer and the stream come by different ways: on a busy machine "printing" was heard after "done", and stayed.
    const known = this.store.getState().status;
    if (known?.id === status.id && status.told < known.told) return;
    this.store.setState({ status, heardMs: Date.now(), gone: false });
    this.show();
    if (!this.#scoring) void this.#score();
  }

  async #score(): Promise<void> {
    this.#scoring = true;
    try {
      let scored: PrinterStatus | null = null;
      for (
        let { status } = this.store.getState();
        status && status !== scored;
        { status } = this.store.getState()
      ) {
        scored = status;
        const { laid, printS, state } = status;
        const score = await this.#worker.run('score', { laid, printS, state });
        this.store.setState({ score });
      }
    } catch (error) {
      if (!(error instanceof Cancelled)) this.store.setState({ refusal: messageOf(error) });
    } finally {
      this.#scoring = false;
    }
  }

  async #ask(what: (client: PrinterClient) => Promise<PrinterStatus>): Promise<void> {
    const client = this.#client;
    if (!client) return;
    try {
      const status = await what(client);
      if (this.#client !== client) return;
      this.store.setState({ refusal: null });
      this.#hear(status);
    } catch (error) {
      if (this.#client === client) this.store.setState({ refusal: messageOf(error) });
    }
  }

  #letGo(): void {
    this.#abort.abort();
    this.#trying?.abort();
    this.#client?.close();
    this.#client = null;
  }
}

function sentFaults({ faults, emptyAfterMm }: ChosenFault): PrinterStatus['faults'] {
  return { ...faults, ...(emptyAfterMm === null ? {} : { runsOutAfterMm: emptyAfterMm }) };
}

/** What is planned from a moment on. */
function aheadOf(planned: readonly LaidSpool[], fromS: number): LaidSpool[] {
  const on = planned.findLast((one) => one.fromS <= fromS);
  return [...(on ? [{ ...on, fromS }] : []), ...planned.filter((one) => one.fromS > fromS)];
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
