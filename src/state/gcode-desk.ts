import { createStore, type StoreApi } from 'zustand/vanilla';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { ReadFile } from '../workers/gcode/jobs.ts';
import type { WorkerClient } from '../workers/client.ts';
import type { GcodeJobs } from '../workers/gcode/jobs.ts';
import { describeGcodeFault } from '../platform/gcode-words.ts';

/** A plan that a sliced file is compared with, and where it comes from: a project of the shelf, or a file. */
export interface DeskPlan {
  readonly title: string;
  readonly projectId: string | null;
  readonly plan: PrintPlan;
}

export interface DeskState {
  readonly file: File | null;
  /** Share of the file that is read; null while none is. */
  readonly reading: number | null;
  readonly trouble: string | null;
  readonly read: ReadFile | null;
  readonly plan: DeskPlan | null;
  /** Of the printer, mm/s2, for times. */
  readonly accelerationMmS2: number;
}

/** Acceleration where the maker did not say another one, mm/s2. Common practice, no source. */
export const USUAL_ACCELERATION = 1500;

/** The one sliced file on the desk, with what it is compared with. It stays while other places are visited. */
export class GcodeDesk {
  readonly store: StoreApi<DeskState> = createStore<DeskState>(() => ({
    file: null,
    reading: null,
    trouble: null,
    read: null,
    plan: null,
    accelerationMmS2: USUAL_ACCELERATION,
  }));
  readonly worker: WorkerClient<GcodeJobs>;
  #abort: AbortController | null = null;

  constructor(start: () => WorkerClient<GcodeJobs>) {
    this.worker = start();
  }

  /** Reads a file. What cannot be read is said, and what was open stays. */
  async open(file: File): Promise<void> {
    await this.#read(file, this.store.getState().accelerationMmS2);
  }

  /** Times by another acceleration: the file is read again. */
  async setAcceleration(accelerationMmS2: number): Promise<void> {
    const { file } = this.store.getState();
    if (file) await this.#read(file, accelerationMmS2);
    else this.store.setState({ accelerationMmS2 });
  }

  /** Gives up reading. */
  cancel(): void {
    this.#abort?.abort();
  }

  setPlan(plan: DeskPlan | null): void {
    this.store.setState({ plan });
  }

  setTrouble(trouble: string | null): void {
    this.store.setState({ trouble });
  }

  async #read(file: File, accelerationMmS2: number): Promise<void> {
    this.cancel();
    const abort = new AbortController();
    this.#abort = abort;
    const { store } = this;
    store.setState({ reading: 0, trouble: null });
    try {
      const read = await this.worker.run(
        'open',
        { file, accelerationMmS2 },
        {
          signal: abort.signal,
          onProgress: (reading) => {
            if (this.#abort === abort) store.setState({ reading });
          },
        },
      );
      if (read.ok) store.setState({ file, read: read.value, accelerationMmS2 });
      else {
        store.setState({ trouble: `${file.name}: ${describeGcodeFault(read.fault)}` });
        await this.#restore();
      }
    } catch (error) {
      if (error instanceof Cancelled) {
        if (this.#abort === abort) await this.#restore();
      } else
        store.setState({
          trouble: `${file.name} could not be read (${error instanceof Error ? error.message : String(error)}). Was it moved or changed meanwhile? Choose it again.`,
        });
    } finally {
      if (this.#abort === abort) store.setState({ reading: null });
    }
  }

  /** The worker holds the last file it read: after one that could not be read it is given the open one back. */
  async #restore(): Promise<void> {
    const { file, accelerationMmS2 } = this.store.getState();
    if (file) await this.worker.run('open', { file, accelerationMmS2 });
  }
}
