import { createStore, type StoreApi } from 'zustand/vanilla';
import { Cancelled } from '#core/base/checkpoint.ts';
import type { PrintPlan } from '#core/gcode/print-plan.ts';
import type { OwnGcode, OwnGcodeFault } from '#core/slicing/own-gcode.ts';
import type { ExportWorker } from '../workers/start-worker.ts';
import type { ProjectDocument } from './project-document.ts';

/** G-code of our own, and what it was made of. */
export interface OwnSlice {
  /** See `sliceKey`. */
  readonly of: string;
  readonly made: OwnGcode;
  readonly plan: PrintPlan;
  readonly bytes: Blob;
}

export interface OwnSlicerState {
  /** Share that is done; null while nothing is made. */
  readonly making: number | null;
  /** What was tried last, and why nothing came of it. */
  readonly failed: { readonly of: string; readonly why: OwnGcodeFault | Error } | null;
  readonly slice: OwnSlice | null;
}

/** Makes G-code of an open project and keeps the last one: the sheet takes its times and grams from it. */
export class OwnSlicer {
  readonly store: StoreApi<OwnSlicerState> = createStore<OwnSlicerState>(() => ({
    making: null,
    failed: null,
    slice: null,
  }));
  readonly #exporter: ExportWorker;
  #abort: AbortController | null = null;
  #of: string | null = null;
  /** Counts what was asked for and given up: an answer that comes later is of no use. */
  #turn = 0;

  constructor(exporter: ExportWorker) {
    this.#exporter = exporter;
  }

  /** Makes it, unless it is there or on its way. What was on its way of another state is given up. */
  async make(document: ProjectDocument): Promise<void> {
    this.#turn += 1;
    const turn = this.#turn;
    // With the first of them: a picture shows without the sheet and all that it is worked out with.
    const { planOfDocument, sliceKey, sliceRequestOf } = await import('./slice-plan.ts');
    if (this.#turn !== turn) return;
    const of = sliceKey(document);
    const { store } = this;
    if (this.#of === of || store.getState().slice?.of === of) return;
    this.cancel();
    const abort = new AbortController();
    this.#abort = abort;
    this.#of = of;
    const { signal } = abort;
    const tell = (making: number): void => {
      if (this.#abort === abort) store.setState({ making });
    };
    store.setState({ making: 0, failed: null });
    try {
      const plan = await planOfDocument(this.#exporter, document, signal, (done) => {
        tell(0.1 * done);
      });
      const made = await this.#exporter.run(
        'gcode',
        { ...sliceRequestOf(document), plan },
        {
          signal,
          onProgress: (done) => {
            tell(0.1 + 0.9 * done);
          },
        },
      );
      if (made.ok)
        store.setState({
          slice: { of, made: made.value, plan, bytes: new Blob(made.value.pieces) },
        });
      else store.setState({ failed: { of, why: made.fault } });
    } catch (error) {
      if (!(error instanceof Cancelled))
        store.setState({
          failed: { of, why: error instanceof Error ? error : new Error(String(error)) },
        });
    } finally {
      if (this.#abort === abort) {
        this.#abort = null;
        this.#of = null;
        store.setState({ making: null });
      }
    }
  }

  /** Gives up what is on its way. */
  cancel(): void {
    this.#turn += 1;
    this.#abort?.abort();
    this.#abort = null;
    this.#of = null;
    this.store.setState({ making: null });
  }
}
