import { useCallback, useEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { toast } from 'sonner';
import { isUnreadable, type Library } from '../state/library.ts';
import { settledState } from '../state/document-store.ts';
import type { ProjectDocument } from '../state/project-document.ts';
import { copyName, freshId } from './names.ts';
import {
  assembleProject,
  closeProject,
  loadArtwork,
  readHouse,
  Refusal,
  saveProject,
} from './open-project.ts';
import { goTo, pathOf, routeOf } from './route.ts';
import { tellTrouble } from './tell-trouble.ts';
import { takeUnsaved } from './unsaved.ts';
import type { Opening } from './use-opening.ts';

const THE_PROJECT = {
  name: 'the project',
  refused: (reason: string): string => `This project cannot be opened. ${reason}`,
};

/** What a project does when another tab has it. */
interface TabMoves {
  /** What was done here goes on as a copy under a name and an address of its own. */
  readonly fork: () => void;
  /** The other tab has let go: what it left is opened. */
  readonly reopen: () => void;
}

/**
 * Keeps the open project the one of the address: opens it from the library, and closes the one before.
 * @param routeId null away from projects
 */
export function useProjectAt(
  routeId: string | null,
  library: Library,
  { project, setProject, latest, openWith, cancel }: Opening,
  refreshShelf: () => Promise<void>,
): TabMoves {
  const [reopened, setReopened] = useState(0);
  const forked = useRef<string | null>(null);
  useEffect(() => {
    if (routeId === null) {
      void refreshShelf();
      return;
    }
    if (latest.current?.id === routeId) return;
    const opening = openWith(THE_PROJECT, async (options) => {
      // Looked at before and after the database: another tab writes here first, there next, and then takes it away here.
      const before = takeUnsaved(routeId, 0);
      const saved = await library.getProject(routeId);
      if (saved && isUnreadable(saved))
        throw new Refusal(
          'What is stored of it is damaged, or was made by a later version. Download it from the shelf, where it stays.',
        );
      if (!saved)
        throw new Refusal(
          'It is not in this browser. It may have been deleted, or was made in another one.',
        );
      const bytes = await library.getBytes(saved.document.artwork.file.digest);
      if (!bytes)
        throw new Refusal(
          'Its picture is missing from this browser. Begin again from the picture.',
        );
      const [loaded, house, kept] = await Promise.all([
        loadArtwork(bytes, options),
        readHouse(library),
        library.getHistory(routeId, saved.document),
        library.readData(saved),
      ]);
      const putBy = takeUnsaved(routeId, saved.changedAt) ?? before;
      const late = putBy && putBy.changedAt > saved.changedAt ? putBy.document : undefined;
      // A save that only made the thumbnail puts by what is saved already: that is no step.
      const newer = JSON.stringify(late) === JSON.stringify(saved.document) ? undefined : late;
      // What could not be saved any more when the page was left is one step after what was.
      const history = newer ? { past: [...kept.past, saved.document], future: [] } : kept;
      return assembleProject(
        {
          id: routeId,
          document: newer ?? saved.document,
          versions: saved.versions,
          history,
          unsaved: newer !== undefined,
        },
        loaded,
        house,
        tellTrouble,
      );
    });
    let ended = false;
    void opening.finally(() => {
      ended = true;
    });
    // Gone elsewhere before it was open: it is not wanted any more.
    return () => {
      if (!ended) cancel();
    };
  }, [library, routeId, reopened, refreshShelf, openWith, cancel, latest]);

  // Another one was opened in its place: what the last one still does is waited for.
  const shown = useRef(project);
  useEffect(() => {
    const before = shown.current;
    shown.current = project;
    if (before && project && before.opening !== project.opening) void closeProject(before);
  }, [project]);

  // A project stays open on the way to the shelf only until the next one: it holds a decoded picture.
  useEffect(() => {
    if (!project || project.id === routeId) return;
    setProject(null);
    void closeProject(project).then(() => {
      // By now its thumbnail is on the way into the library.
      if (routeOf(window.location.pathname).place === 'shelf') void refreshShelf();
    });
  }, [project, routeId, refreshShelf, setProject]);

  const fork = useCallback(() => {
    const own = project;
    const at = routeOf(window.location.pathname);
    if (!own || at.place !== 'project' || forked.current === own.opening) return;
    forked.current = own.opening;
    const id = freshId();
    const rename = (document: ProjectDocument): ProjectDocument => ({
      ...document,
      name: copyName(document.name),
    });
    own.documents.setState(({ document, past, future, gestureFrom }) => {
      const renamed = rename(document);
      return {
        document: renamed,
        past: past.map(rename),
        future: future.map(rename),
        // A drag that has moved nothing yet must not look as if it had.
        gestureFrom: gestureFrom === document ? renamed : gestureFrom && rename(gestureFrom),
      };
    });
    // What is done while the copy is being written is saved once it is entered.
    const copy = { ...own, id, unsaved: true, endings: [] };
    const state = {
      ...settledState(own.documents.getState()),
      versions: own.versions.getState().versions,
    };
    const save = saveProject(copy, library, state);
    save.catch((error: unknown) => {
      forked.current = null;
      tellTrouble(error instanceof Error ? error : new Error(String(error)));
    });
    void save.then(() => {
      // Together: a path without its project, or the other way round, would close and open it again.
      if (latest.current?.opening === own.opening)
        flushSync(() => {
          setProject(copy);
          goTo(pathOf(id, at.stop), true);
        });
      toast(`Your change is kept in ${copy.documents.getState().document.name}`);
    });
  }, [project, latest, library, setProject]);

  const reopen = useCallback(() => {
    if (latest.current) void closeProject(latest.current);
    setProject(null);
    setReopened((count) => count + 1);
  }, [latest, setProject]);

  return { fork, reopen };
}
