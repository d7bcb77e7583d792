import { lazy, Suspense, useCallback, useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { Library, type ShelfEntry } from '../state/library.ts';
import type { Outline } from '#core/tags/outline-kinds.ts';
import type { DemoProject } from '../../demo/projects.ts';
import type { DemoTag } from '../../demo/tags.ts';
import styles from './App.module.css';
import { Brand } from './Brand.tsx';
import { Failsafe } from '../ui/Failsafe.tsx';
import { OpeningPage } from './OpeningPage.tsx';
import { Places } from './Places.tsx';
import { gcodePath, goTo, pathOf, RACK_PATH, routeOf, usePath } from './route.ts';
import { restoreTheme } from './theme.ts';
import { UNWRITTEN_PUT_BY } from './unsaved.ts';
import { useRack } from './use-rack.ts';
import { FileDrop } from '../ui/FileDrop.tsx';
import { Toasts } from '../ui/Toasts.tsx';
import { toast } from '../ui/toast.ts';
import { ProjectSession } from './session/project-session.ts';
import { loadRest } from './load-rest.ts';
import { loadArtwork } from './session/open-project.ts';
import { replacePicture, takeFile } from './session/taken-in.ts';
import { tellTrouble } from './tell-trouble.ts';
import { Workbench } from './Workbench.tsx';

/** The other places are loaded when they are entered: the workbench needs neither their tables and forms nor the shelf. */
const ShelfPlace = lazy(async () => ({ default: (await import('./ShelfPlace.tsx')).ShelfPlace }));

const RackPlace = lazy(async () => ({ default: (await import('./RackPlace.tsx')).RackPlace }));

const PrintersPlace = lazy(async () => ({
  default: (await import('./PrintersPlace.tsx')).PrintersPlace,
}));

const GcodePlace = lazy(async () => ({ default: (await import('./GcodePlace.tsx')).GcodePlace }));

/** Names of sliced files. */
const SLICED = /\.(gcode|gco|gc|g|nc)$/i;

/** One library for the whole visit: what it holds in memory must survive every change of screen. */
const library = new Library(
  // Read once in a rack's life: it has no part in what is loaded before a picture shows.
  async () => (await import('../../demo/filaments.ts')).demoFilaments(),
  undefined,
  UNWRITTEN_PUT_BY,
);

/** The shelf as it is shown now is to be read anew. */
let onShelfChanged = (): void => undefined;

const placeNow = () => routeOf(window.location.pathname);

/** One session for the whole visit, too. */
const session = new ProjectSession(library, {
  addressed: () => {
    const at = placeNow();
    return at.place === 'project' ? at.id : null;
  },
  go: (id, replace) => {
    const at = placeNow();
    const { project } = session.store.getState();
    const first = project?.documents.getState().document.tag ? 'tag' : 'stack';
    goTo(pathOf(id, replace && at.place === 'project' ? at.stop : first), replace);
  },
  tell: (text) => toast(text),
  tellTrouble,
  onClosed: () => {
    onShelfChanged();
  },
  onFresh: (project) => {
    const { views } = project;
    views.setState({ looking: true });
    void import('../state/first-stack.ts')
      .then(({ beginWell }) => beginWell(project))
      .finally(() => {
        views.setState({ looking: false });
      });
  },
  load: loadArtwork,
});

/** A picture that is pasted is taken in as a dropped one is, unless something is being typed. */
function usePastedFiles(take: (file: File) => void): void {
  const latest = useRef(take);
  latest.current = take;
  useEffect(() => {
    const onPaste = (event: ClipboardEvent): void => {
      const typing = event.target instanceof Element && event.target.closest('input, textarea');
      const file = typing ? undefined : event.clipboardData?.files[0];
      if (!file) return;
      event.preventDefault();
      latest.current(file);
    };
    window.addEventListener('paste', onPaste);
    return () => {
      window.removeEventListener('paste', onPaste);
    };
  }, []);
}

function Waiting({ what }: { readonly what: string }) {
  return (
    <main className={styles.waiting}>
      <p role="status">Opening {what}</p>
    </main>
  );
}

const splitOff = (): void => {
  session.split();
};
const reopen = (): void => {
  session.reopen();
};
const replace = (file: File): void => {
  void replacePicture(session, file);
};
const redraw = (longerPx: number): void => {
  void session.redraw(longerPx);
};
const cancel = (): void => {
  session.cancel();
};
const forgetTrouble = (): void => {
  session.setTrouble(null);
};
const begin = (name: string, file: string, demo: DemoProject | null): Promise<void> =>
  import('./session/take-demo.ts').then(({ takeDemo }) => takeDemo(session, name, file, demo));

const beginTag = (outline: Outline): Promise<void> =>
  import('./session/take-tag.ts').then(({ takeNewTag }) => takeNewTag(session, 'Tag', outline));
const beginDemoTag = (demo: DemoTag): Promise<void> =>
  import('./session/take-tag.ts').then(({ takeDemoTag }) => takeDemoTag(session, demo));

restoreTheme();
loadRest();

/** The whole app. */
export function App() {
  return (
    <Failsafe>
      <Screens />
    </Failsafe>
  );
}

/** Shelf and workbench, and the way from one to the other. */
function Screens() {
  const route = routeOf(usePath());
  const rack = useRack(library);
  const [projects, setProjects] = useState<readonly ShelfEntry[] | null>(null);
  const { troubled: memoryOnly, newer } = useStore(library.trouble);
  const [droppedRack, setDroppedRack] = useState<File | null>(null);
  const [droppedSliced, setDroppedSliced] = useState<File | null>(null);
  const forgetSliced = useCallback(() => {
    setDroppedSliced(null);
  }, []);
  const opening = useStore(session.store);
  const { project, trouble } = opening;

  const refreshShelf = useCallback(async () => {
    try {
      setProjects(await library.listProjects());
    } catch {
      // The banner says it, and the shelf is read again once storage answers.
    }
  }, []);
  useEffect(() => {
    const leave = (): void => {
      library.leave();
    };
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
    };
  }, []);
  const onShelf = route.place === 'shelf';
  useEffect(() => {
    if (onShelf && !memoryOnly) void refreshShelf();
    onShelfChanged = () => {
      if (onShelf) void refreshShelf();
    };
  }, [onShelf, memoryOnly, refreshShelf]);

  const routeId = route.place === 'project' ? route.id : null;
  useEffect(() => {
    session.follow(routeId);
  }, [routeId]);

  // Within a project there is no other place for what a dropped file could not be.
  const within = project !== null;
  useEffect(() => {
    if (trouble !== null && within) toast.error(trouble, { duration: 10_000 });
  }, [trouble, within]);

  const take = (file: File): void => {
    const onDesk = route.place === 'gcode' && !/\.strata$/i.test(file.name);
    if (onDesk || SLICED.test(file.name)) {
      setDroppedSliced(file);
      // From a project it is compared with that one's sheet.
      if (route.place !== 'gcode') goTo(gcodePath(route.place === 'project' ? route.id : null));
    } else if (/\.(csv|json)$/i.test(file.name)) {
      setDroppedRack(file);
      goTo(RACK_PATH);
    } else void takeFile(session, file);
  };
  usePastedFiles(take);
  const place = () => {
    if (route.place === 'project') {
      if (project?.id === route.id)
        return (
          <Workbench
            key={project.opening}
            project={project}
            onFork={splitOff}
            onFree={reopen}
            library={library}
            stop={route.stop}
            memoryOnly={memoryOnly}
            onReplace={replace}
            onRedraw={redraw}
          />
        );
      return <OpeningPage {...opening} onLeave={forgetTrouble} />;
    }
    return (
      <div className={styles.app}>
        <header className={styles.bar}>
          <Brand />
          <Places at={route.place} />
        </header>
        {memoryOnly ? (
          <p className={styles.banner} role="alert" data-testid="no-storage">
            {newer
              ? 'What this browser keeps was written by a newer version of the app, and stays there as it is: start that version to see it. What you begin here is gone when the page is closed: download it from the workbench.'
              : 'This browser does not let the app store anything now (full, or blocked). You can work, and it is tried again and again; until it works, projects are gone when the page is closed: download them from the workbench.'}
          </p>
        ) : null}
        <Failsafe of={route.place}>
          {route.place === 'rack' ? (
            <Suspense fallback={<Waiting what="the rack" />}>
              {rack ? (
                <RackPlace
                  library={library}
                  rack={rack}
                  wedgeOf={route.wedgeOf}
                  dropped={droppedRack}
                  onDroppedRead={() => {
                    setDroppedRack(null);
                  }}
                />
              ) : (
                <Waiting what="the rack" />
              )}
            </Suspense>
          ) : route.place === 'gcode' ? (
            <Suspense fallback={<Waiting what="the desk" />}>
              <GcodePlace
                library={library}
                projectId={route.projectId}
                batch={route.batch}
                dropped={droppedSliced}
                onDroppedRead={forgetSliced}
              />
            </Suspense>
          ) : route.place === 'printers' ? (
            <Suspense fallback={<Waiting what="the printers" />}>
              <PrintersPlace library={library} />
            </Suspense>
          ) : (
            <Suspense fallback={<Waiting what="the shelf" />}>
              <ShelfPlace
                library={library}
                opening={opening}
                onCancel={cancel}
                onFile={take}
                projects={projects}
                onChanged={() => void refreshShelf()}
                onDemo={begin}
                onTag={beginTag}
                onDemoTag={beginDemoTag}
              />
            </Suspense>
          )}
        </Failsafe>
      </div>
    );
  };
  return (
    <FileDrop className={styles.everything} onFile={take}>
      {(dragging) => (
        <>
          {place()}
          {dragging ? (
            <div className={styles.dropHint} data-testid="drop-hint">
              <p>
                {route.place === 'gcode'
                  ? 'Drop a sliced file, or its swaps.json'
                  : 'Drop a picture, a .strata project, a sliced file, or a rack as CSV or JSON'}
              </p>
            </div>
          ) : null}
          <Toasts />
        </>
      )}
    </FileDrop>
  );
}
