import { createStore, type StoreApi } from 'zustand/vanilla';
import { settledState, type DocumentState, type DocumentStore } from './document-store.ts';
import type { VersionStore, NamedVersion } from './versions.ts';

/** What is saved of an open project. */
export type SavedState = Pick<DocumentState, 'document' | 'past' | 'future'> & {
  readonly versions: readonly NamedVersion[];
};

/** `unsaved`: the last try failed, and another one will follow. */
export type SaveStatus = 'saved' | 'saving' | 'unsaved';

/** Rest after a change before it is saved, ms. */
export const REST_MS = 400;

/** A change is never older than this when its saving begins, ms: whatever is done, nothing older than 2 s is unsaved. */
export const LONGEST_WAIT_MS = 1000;

/** Pause after a save that failed, ms. */
const AGAIN_MS = 800;

export interface Autosave {
  readonly status: StoreApi<{ readonly status: SaveStatus }>;
  /** True where something is not written yet. */
  readonly isDirty: () => boolean;
  /** Saves at once what is not saved yet; resolves when it is written (or has failed). */
  readonly flush: () => Promise<void>;
  /** Saves what is not saved yet, and follows no longer. */
  readonly stop: () => Promise<void>;
}

/**
 * Saves a project while it changes: after a short rest, and in any case once the first change waits for
 * {@link LONGEST_WAIT_MS}, in the middle of a drag too. One save at a time, so that an older state never lands on a newer one.
 * @param unsaved whether the project as it is now must be saved to begin with
 * @param now the clock, ms
 */
export function followSaves(
  documents: DocumentStore,
  versions: VersionStore,
  save: (state: SavedState) => Promise<void>,
  unsaved: boolean,
  now: () => number = () => performance.now(),
): Autosave {
  const status = createStore<{ status: SaveStatus }>(() => ({
    status: unsaved ? 'saving' : 'saved',
  }));
  let timer: ReturnType<typeof setTimeout> | undefined;
  /** When the oldest change was made that no save has begun to write; null where there is none. */
  let since: number | null = null;
  let running: Promise<void> | null = null;
  let stopped = false;

  const begin = (): Promise<void> => {
    clearTimeout(timer);
    since = null;
    const state = {
      ...settledState(documents.getState()),
      versions: versions.getState().versions,
    };
    const run = save(state)
      .then(
        () => {
          if (since === null) status.setState({ status: 'saved' });
        },
        () => {
          // It is tried again whether or not something else changes.
          status.setState({ status: 'unsaved' });
          since ??= now();
          timer = setTimeout(() => void flush(), AGAIN_MS);
        },
      )
      .finally(() => {
        running = null;
        if (since !== null && status.getState().status !== 'unsaved') plan();
      });
    running = run;
    return run;
  };
  const plan = (): void => {
    clearTimeout(timer);
    if (since === null || running) return;
    const left = since + LONGEST_WAIT_MS - now();
    timer = setTimeout(() => void begin(), Math.max(0, Math.min(REST_MS, left)));
  };
  const flush = async (): Promise<void> => {
    // What is being written may be older than what is there now.
    if (running) await running;
    if (since !== null) await begin();
  };
  const changed = (): void => {
    since ??= now();
    status.setState({ status: 'saving' });
    plan();
  };

  const unfollow = [
    documents.subscribe((after, before) => {
      if (after.document !== before.document || after.held !== before.held) changed();
    }),
    versions.subscribe(changed),
  ];
  if (unsaved) changed();
  return {
    status,
    isDirty: () => since !== null || running !== null,
    flush,
    stop: async () => {
      if (stopped) return;
      stopped = true;
      for (const end of unfollow) end();
      clearTimeout(timer);
      await flush();
      clearTimeout(timer);
    },
  };
}
