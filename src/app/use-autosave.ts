import { useEffect, useRef, useState } from 'react';
import { followSaves, type SaveStatus } from '../state/autosave.ts';
import { settledState } from '../state/document-store.ts';
import type { Library } from '../state/library.ts';
import type { OpenProject } from '../state/project-context.ts';
import { saveProject } from './session/open-project.ts';
import { followThumbnails } from './thumbnails.ts';
import { forgetUnsaved, putByUnsaved } from './unsaved.ts';
import type { TabRole } from './use-sole-tab.ts';
import { toast } from '../ui/toast.ts';

/**
 * Saves the project while it changes, and at once when the page is being left. While another tab has the project open,
 * nothing is written over its work: the first change is handed to `onFork`.
 */
export function useAutosave(
  project: OpenProject,
  library: Library,
  role: TabRole,
  onFork: () => void,
): SaveStatus {
  const [status, setStatus] = useState<SaveStatus>('saved');
  const { documents, versions } = project;
  // What was there when the bench was entered: what changed before it was known who may write must be saved then.
  const entered = useRef({
    document: documents.getState().document,
    versions: versions.getState().versions,
  });
  useEffect(() => {
    const isTouched = (): boolean =>
      documents.getState().document !== entered.current.document ||
      versions.getState().versions !== entered.current.versions;
    if (role === 'asking') return;
    if (role === 'other') {
      const fork = (): void => {
        if (isTouched()) onFork();
      };
      const unfollow = [documents.subscribe(fork), versions.subscribe(fork)];
      fork();
      return () => {
        for (const end of unfollow) end();
      };
    }
    const autosave = followSaves(
      documents,
      versions,
      async (state) => {
        await Promise.allSettled(project.after ?? []);
        const revived = await saveProject(project, library, state);
        if (revived)
          toast(`${state.document.name} was deleted from the shelf; your change brought it back`);
      },
      project.unsaved || isTouched(),
    );
    const thumbnails = followThumbnails(project, library);
    setStatus(autosave.status.getState().status);
    const unfollow = autosave.status.subscribe((now) => {
      setStatus(now.status);
    });
    const leave = (): void => {
      if (!autosave.isDirty()) return;
      // The page may be gone before the database has written.
      putByUnsaved(project.id, settledState(documents.getState()).document);
      void autosave.flush().then(() => {
        if (!autosave.isDirty()) forgetUnsaved(project.id);
      });
    };
    document.addEventListener('visibilitychange', leave);
    window.addEventListener('pagehide', leave);
    return () => {
      unfollow();
      project.endings.push(autosave.stop(), thumbnails.stop());
      document.removeEventListener('visibilitychange', leave);
      window.removeEventListener('pagehide', leave);
    };
  }, [project, documents, versions, library, role, onFork]);
  return status;
}
