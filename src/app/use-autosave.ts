import { useEffect, useState } from 'react';
import type { Library } from '../state/library.ts';
import type { OpenProject } from '../state/project-context.ts';
import { saveProject } from './open-project.ts';

export type SaveState = 'saved' | 'saving';

/** Rest after the last change before it is saved, ms. */
const REST_MS = 500;

/** Saves the project a moment after each change, and at once when the page is being left. */
export function useAutosave(project: OpenProject, library: Library): SaveState {
  const [state, setState] = useState<SaveState>('saved');
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let dirty = false;
    let saving: Promise<void> = Promise.resolve();
    const save = (): void => {
      clearTimeout(timer);
      dirty = false;
      // One after the other, so that an older state never lands on top of a newer one.
      saving = saving
        .then(() => saveProject(project, library))
        .finally(() => {
          if (!dirty) setState('saved');
        });
    };
    const later = (): void => {
      dirty = true;
      setState('saving');
      clearTimeout(timer);
      timer = setTimeout(save, REST_MS);
    };
    const leave = (): void => {
      if (dirty) save();
    };
    const stopDocument = project.documents.subscribe((now, before) => {
      if (now.document !== before.document) later();
    });
    // The first heights make the first thumbnail.
    const stopLive = project.live.store.subscribe((now, before) => {
      if (now.heights && !before.heights) later();
    });
    document.addEventListener('visibilitychange', leave);
    window.addEventListener('pagehide', leave);
    return () => {
      leave();
      clearTimeout(timer);
      stopDocument();
      stopLive();
      document.removeEventListener('visibilitychange', leave);
      window.removeEventListener('pagehide', leave);
    };
  }, [project, library]);
  return state;
}
