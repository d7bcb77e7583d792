import { produce } from 'immer';
import { createStore, type StoreApi } from 'zustand/vanilla';
import type { ProjectDocument } from './project-document.ts';

/** A document with its history. View state lives elsewhere, so that undo never moves the view. */
export interface DocumentState {
  readonly document: ProjectDocument;
  readonly past: readonly ProjectDocument[];
  readonly future: readonly ProjectDocument[];
  /** The document as it was when the present drag began, or null. */
  readonly gestureFrom: ProjectDocument | null;
}

export interface DocumentActions {
  /** Changes the document: one step of history, or part of the running gesture. */
  readonly change: (recipe: (draft: ProjectDocument) => void) => void;
  /** Begins a drag: all changes until it ends become one step. */
  readonly beginGesture: () => void;
  readonly endGesture: () => void;
  /** Takes the running drag back as if it had never been. */
  readonly cancelGesture: () => void;
  readonly undo: () => void;
  readonly redo: () => void;
}

export type DocumentStore = StoreApi<DocumentState & DocumentActions>;

/** Steps that can be undone. Documents share most of their parts, so a step costs little. */
const MOST_STEPS = 200;

/** What can be undone and redone. */
export type History = Pick<DocumentState, 'past' | 'future'>;

/** A store for one open document, with the history that it was left with. */
export function createDocumentStore(
  document: ProjectDocument,
  { past, future }: History = { past: [], future: [] },
): DocumentStore {
  return createStore<DocumentState & DocumentActions>((set, get) => ({
    document,
    past,
    future,
    gestureFrom: null,
    change: (recipe) => {
      const { document: before, past, gestureFrom } = get();
      const after = produce(before, recipe);
      if (after === before) return;
      if (gestureFrom) set({ document: after });
      else set({ document: after, past: [...past, before].slice(-MOST_STEPS), future: [] });
    },
    beginGesture: () => {
      if (!get().gestureFrom) set({ gestureFrom: get().document });
    },
    endGesture: () => {
      const { document: after, past, gestureFrom } = get();
      if (!gestureFrom) return;
      if (gestureFrom === after) set({ gestureFrom: null });
      else set({ gestureFrom: null, past: [...past, gestureFrom].slice(-MOST_STEPS), future: [] });
    },
    cancelGesture: () => {
      const { gestureFrom } = get();
      if (gestureFrom) set({ document: gestureFrom, gestureFrom: null });
    },
    undo: () => {
      const { document: present, past, future, gestureFrom } = get();
      const before = past.at(-1);
      if (!before || gestureFrom) return;
      set({ document: before, past: past.slice(0, -1), future: [present, ...future] });
    },
    redo: () => {
      const { document: present, past, future, gestureFrom } = get();
      const [after, ...rest] = future;
      if (!after || gestureFrom) return;
      set({ document: after, past: [...past, present], future: rest });
    },
  }));
}
