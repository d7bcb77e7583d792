import { createStore, type StoreApi } from 'zustand/vanilla';
import { checkChange } from './check-change.ts';
import type { Edit } from './edits/edit.ts';
import type { ProjectDocument } from './project-document.ts';

/** A document with its history. View state lives elsewhere, so that undo never moves the view. */
export interface DocumentState {
  readonly document: ProjectDocument;
  readonly past: readonly ProjectDocument[];
  readonly future: readonly ProjectDocument[];
  /** The document as it was when the present drag began, or null. */
  readonly gestureFrom: ProjectDocument | null;
  /** What the hand holds and has not let go of (a stroke, a half-typed field): the change that letting go would make, or null. */
  readonly held: (() => void) | null;
}

/** How a change joins the step before it. */
export interface Joining {
  /**
   * The change becomes part of the last step where that was the same edit and is not older than this, ms: a key that repeats,
   * a colour that is being looked for.
   */
  readonly withinMs: number;
}

export interface DocumentActions {
  /** Makes an edit: one step of history, part of the last one, or part of the running gesture. */
  readonly change: (edit: Edit, joining?: Joining) => void;
  /**
   * Completes the document by what follows from it by itself (the colours that a picture is reduced to): no step of
   * history, and what can be redone stays.
   */
  readonly complete: (edit: Edit) => void;
  /** Begins a drag: all changes until it ends become one step. */
  readonly beginGesture: () => void;
  readonly endGesture: () => void;
  /** Takes the running drag back as if it had never been. */
  readonly cancelGesture: () => void;
  /**
   * Tells what letting go now would do; null once it is let go or given up. Nothing changes by it, but what is saved meanwhile
   * holds the change already.
   * @param act makes its changes by `change`, at once; it may be run more than once
   */
  readonly hold: (act: (() => void) | null) => void;
  /** The document as it would be if everything held were let go of now. */
  readonly wouldBe: () => ProjectDocument;
  readonly undo: () => void;
  readonly redo: () => void;
}

export type DocumentStore = StoreApi<DocumentState & DocumentActions>;

/** Steps that can be undone. Documents share most of their parts, so a step costs little. */
const MOST_STEPS = 200;

/** What can be undone and redone. */
export type History = Pick<DocumentState, 'past' | 'future'>;

/** A change joins the last step while it repeats faster than this, ms: a held key repeats ten times as fast. */
export const REPEATS: Joining = { withinMs: 1000 };

/** A value that is looked for with several inputs joins while the next one follows within this time, ms. */
export const SAME_FIELD: Joining = { withinMs: 4000 };

/** How a change by a key joins: only where the key repeats by itself. */
export function joinsWhen(repeats: boolean): Joining | undefined {
  return repeats ? REPEATS : undefined;
}

/**
 * A store for one open document, with the history that it was left with. An edit that would leave the document invalid
 * changes nothing and is told to `onRefused`: what cannot be read again must never be saved.
 */
export function createDocumentStore(
  document: ProjectDocument,
  { past, future }: History = { past: [], future: [] },
  onRefused: (reason: string) => void = () => undefined,
): DocumentStore {
  // The edit that made the last step, and when it was last made: what a change may join.
  let last: { readonly what: string; readonly at: number } | null = null;
  // The document that what is held is tried on, while it is.
  let trial: ProjectDocument | null = null;
  return createStore<DocumentState & DocumentActions>((set, get) => ({
    document,
    past,
    future,
    gestureFrom: null,
    held: null,
    change: (edit, joining) => {
      if (trial) {
        const tried = edit(trial);
        if (checkChange(trial, tried) === null) trial = tried;
        return;
      }
      const { document: before, past, gestureFrom } = get();
      const after = edit(before);
      if (after === before) return;
      const fault = checkChange(before, after);
      if (fault !== null) {
        onRefused(`${edit.what}: ${fault}`);
        return;
      }
      if (gestureFrom) {
        set({ document: after });
        return;
      }
      const now = performance.now();
      const joined =
        joining !== undefined &&
        last?.what === edit.what &&
        past.length > 0 &&
        now - last.at <= joining.withinMs;
      last = { what: edit.what, at: now };
      set({
        document: after,
        past: joined ? past : [...past, before].slice(-MOST_STEPS),
        future: [],
      });
    },
    complete: (edit) => {
      if (trial) return;
      const { document: before } = get();
      const after = edit(before);
      if (after !== before && checkChange(before, after) === null) set({ document: after });
    },
    beginGesture: () => {
      if (trial) return;
      last = null;
      if (!get().gestureFrom) set({ gestureFrom: get().document });
    },
    endGesture: () => {
      const { document: after, past, gestureFrom } = get();
      if (!gestureFrom || trial) return;
      if (gestureFrom === after) set({ gestureFrom: null });
      else set({ gestureFrom: null, past: [...past, gestureFrom].slice(-MOST_STEPS), future: [] });
    },
    cancelGesture: () => {
      const { gestureFrom } = get();
      if (gestureFrom && !trial) set({ document: gestureFrom, gestureFrom: null });
    },
    hold: (act) => {
      if (act !== get().held) set({ held: act });
    },
    wouldBe: () => {
      const { document: present, held } = get();
      if (!held || trial) return present;
      trial = present;
      try {
        held();
        return trial;
      } catch {
        // What cannot be done yet changes nothing; letting go will say why.
        return present;
      } finally {
        trial = null;
      }
    },
    undo: () => {
      const { document: present, past, future, gestureFrom } = get();
      const before = past.at(-1);
      if (!before || gestureFrom) return;
      last = null;
      set({ document: before, past: past.slice(0, -1), future: [present, ...future] });
    },
    redo: () => {
      const { document: present, past, future, gestureFrom } = get();
      const [after, ...rest] = future;
      if (!after || gestureFrom) return;
      last = null;
      set({ document: after, past: [...past, present], future: rest });
    },
  }));
}

/** The state as it would be if the hand let go of everything now: what is saved in the middle of a drag, a stroke or a word. */
export function settledState({
  document: present,
  past,
  future,
  gestureFrom,
  wouldBe,
}: DocumentState & DocumentActions): Pick<DocumentState, 'document' | 'past' | 'future'> {
  const document = wouldBe();
  const before = gestureFrom ?? present;
  return before === document
    ? { document, past, future }
    : { document, past: [...past, before], future: [] };
}
