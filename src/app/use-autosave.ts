import { useEffect, useRef, useState } from 'react';
import type { Library } from '../state/library.ts';
import type { OpenProject } from '../state/project-context.ts';
import { saveProject } from './open-project.ts';
import { forgetUnsaved, putByUnsaved } from './unsaved.ts';
import type { TabRole } from './use-sole-tab.ts';

export type SaveState = 'saved' | 'saving';

/** Rest after the last change before it is saved, ms. */
const REST_MS = 500;

/**
 * Saves the project a moment after each change, and at once when the page is being left. While another tab has the
 * project open, nothing is written over its work: the first change is handed to `onFork`.
 */
export function useAutosave(
  project: OpenProject,
  library: Library,
  role: TabRole,
  onFork: () => void,
): SaveState {
  const [state, setState] = useState<SaveState>('saved');
  const kept = useRef(project.documents.getState().document);
  useEffect(() => {
    if (role === 'asking') return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let dirty = false;
    let saving: Promise<void> = Promise.resolve();
    const save = (): void => {
      clearTimeout(timer);
      dirty = false;
      kept.current = project.documents.getState().document;
      if (role === 'other') {
        onFork();
        return;
      }
      // The page may be left while the database is still writing.
      putByUnsaved(project.id, kept.current);
      // One after the other, so that an older state never lands on top of a newer one.
      saving = saving
        .then(() => saveProject(project, library))
        .then(() => {
          if (!dirty) forgetUnsaved(project.id);
        })
        .finally(() => {
          if (!dirty) setState('saved');
        });
    };
    const later = (): void => {
      dirty = true;
      setState('saving');
      clearTimeout(timer);
      timer = setTimeout(function saveAtRest() {
        // A drag is one change: it is not cut in two.
        if (project.documents.getState().gestureFrom) timer = setTimeout(saveAtRest, REST_MS);
        else save();
      }, REST_MS);
    };
    const leave = (): void => {
      if (dirty) save();
    };
    // What was changed before it was known who may write.
    if (project.documents.getState().document === kept.current) setState('saved');
    else later();
    const stopDocument = project.documents.subscribe((now, before) => {
      if (now.document !== before.document) later();
    });
    const stopVersions = project.versions.subscribe(later);
    // The first heights make the first thumbnail.
    const stopLive = project.live.store.subscribe((now, before) => {
      if (role === 'own' && now.heights && !before.heights) later();
    });
    document.addEventListener('visibilitychange', leave);
    window.addEventListener('pagehide', leave);
    return () => {
      leave();
      clearTimeout(timer);
      stopDocument();
      stopVersions();
      stopLive();
      document.removeEventListener('visibilitychange', leave);
      window.removeEventListener('pagehide', leave);
    };
  }, [project, library, role, onFork]);
  return state;
}
