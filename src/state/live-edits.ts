import { Cancelled } from '#core/base/checkpoint.ts';
import type { Recipe } from '#core/edit/artwork-edit.ts';
import { WorkerDied } from '../workers/client.ts';
import type { EditedArtwork } from '../workers/artwork/edit-jobs.ts';
import type { ArtworkWorker } from '../workers/start-worker.ts';

/** What became of a wish: the edited picture, or null where nothing is edited. */
export interface EditedAnswer {
  readonly shown: EditedArtwork | null;
  readonly quick: boolean;
}

/** The edited picture of one document, kept up to date. */
export interface LiveEdits {
  /** Wants the picture with these edits; what was wanted before is given up. */
  want(recipe: Recipe, quick: boolean): void;
  /** Is it there with these edits, exactly? */
  isExact(recipe: Recipe): boolean;
  isBusy(): boolean;
  stop(): void;
}

/** Progress is told of work that takes longer than this, ms. */
const LONG_MS = 250;

/**
 * Asks the worker for the edited picture: one wish at a time, and the newest next. An exact answer that takes a while is given
 * up for a newer wish; a quick one is waited for, so that a hand that moves on and on sees something.
 */
export function followEdits(
  worker: ArtworkWorker,
  onTrouble: (error: unknown) => void,
  onAnswer: (answer: EditedAnswer) => void,
  onProgress: (fraction: number | null) => void,
): LiveEdits {
  let wanted: { readonly recipe: Recipe; readonly quick: boolean } | null = null;
  let running: {
    readonly key: string;
    readonly quick: boolean;
    readonly abort: AbortController;
  } | null = null;
  /** What was answered last; the unedited picture is there from the beginning. */
  let shown = { key: '', quick: false };
  let stopped = false;

  const pump = (): void => {
    if (stopped || running || !wanted) return;
    const { recipe, quick } = wanted;
    wanted = null;
    if (recipe.key === shown.key && (quick || !shown.quick)) return;
    if (recipe.key === '') {
      shown = { key: '', quick: false };
      onAnswer({ shown: null, quick: false });
      return;
    }
    const abort = new AbortController();
    running = { key: recipe.key, quick, abort };
    const since = performance.now();
    worker
      .run(
        'edited',
        { recipe, quick },
        {
          signal: abort.signal,
          onProgress: (fraction) => {
            if (performance.now() - since > LONG_MS && !stopped) onProgress(fraction);
          },
        },
      )
      .then(
        (edited) => {
          running = null;
          if (stopped) return;
          shown = { key: recipe.key, quick };
          onAnswer({ shown: edited, quick });
        },
        (error: unknown) => {
          running = null;
          if (stopped) return;
          onProgress(null);
          onTrouble(error);
          const again = error instanceof WorkerDied && !error.final;
          if (again) wanted ??= { recipe, quick };
          else if (!(error instanceof Cancelled) && !wanted) onAnswer({ shown: null, quick: true });
        },
      )
      .finally(pump);
  };

  return {
    want: (recipe, quick) => {
      wanted = { recipe, quick };
      if (running && !running.quick && running.key !== recipe.key) running.abort.abort();
      pump();
    },
    isExact: (recipe) => shown.key === recipe.key && !shown.quick,
    isBusy: () => running !== null,
    stop: () => {
      stopped = true;
      running?.abort.abort();
    },
  };
}
