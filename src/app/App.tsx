import { lazy, Suspense, useCallback, useEffect, useState } from 'react';
import { Toaster, toast } from 'sonner';
import { useStore } from 'zustand';
import { Library, type ShelfEntry } from '../state/library.ts';
import { demoFilaments } from '../../demo/filaments.ts';
import styles from './App.module.css';
import { Brand } from './Brand.tsx';
import { Failsafe } from '../ui/Failsafe.tsx';
import { OpeningPage } from './OpeningPage.tsx';
import { Places } from './Places.tsx';
import { goTo, RACK_PATH, routeOf, usePath } from './route.ts';
import { restoreTheme } from './theme.ts';
import { SETTINGS_PUT_BY } from './unsaved.ts';
import { useIntake } from './use-intake.ts';
import { useOpening } from './use-opening.ts';
import { useProjectAt } from './use-project-at.ts';
import { useRack } from './use-rack.ts';
import { useWindowDrop } from './use-window-drop.ts';
import { Workbench } from './Workbench.tsx';

/** The other places are loaded when they are entered: the workbench needs neither their tables and forms nor the shelf. */
const ShelfPlace = lazy(async () => ({ default: (await import('./ShelfPlace.tsx')).ShelfPlace }));

const RackPlace = lazy(async () => ({ default: (await import('./RackPlace.tsx')).RackPlace }));

const PrintersPlace = lazy(async () => ({
  default: (await import('./PrintersPlace.tsx')).PrintersPlace,
}));

/** One library for the whole visit: what it holds in memory must survive every change of screen. */
const library = new Library(demoFilaments(), undefined, SETTINGS_PUT_BY);

function Waiting({ what }: { readonly what: string }) {
  return (
    <main className={styles.waiting}>
      <p role="status">Opening {what}</p>
    </main>
  );
}

/** Lies over everything while a file is dragged over the window. */
function DropHint() {
  return (
    <div className={styles.dropHint} data-testid="drop-hint">
      <p>Drop a picture, a .strata project, or a rack as CSV or JSON</p>
    </div>
  );
}

restoreTheme();

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
  const memoryOnly = useStore(library.trouble, ({ troubled }) => troubled);
  const [droppedRack, setDroppedRack] = useState<File | null>(null);
  const opening = useOpening();
  const { project, trouble, latest } = opening;
  const { takeIn, takeDemo } = useIntake(library, opening);

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
  }, [onShelf, memoryOnly, refreshShelf]);

  const dragging = useWindowDrop((file) => {
    if (/\.(csv|json)$/i.test(file.name)) {
      setDroppedRack(file);
      goTo(RACK_PATH);
    } else void takeIn(file);
  });
  const { fork, reopen } = useProjectAt(
    route.place === 'project' ? route.id : null,
    library,
    opening,
    refreshShelf,
  );

  // Within a project there is no other place for what a dropped file could not be.
  useEffect(() => {
    if (trouble !== null && latest.current) toast.error(trouble, { duration: 10_000 });
  }, [trouble, latest]);

  if (route.place === 'project') {
    if (project?.id === route.id)
      return (
        <>
          <Workbench
            key={project.opening}
            project={project}
            onFork={fork}
            onFree={reopen}
            library={library}
            stop={route.stop}
            memoryOnly={memoryOnly}
          />
          {dragging ? <DropHint /> : null}
          <Toaster position="bottom-center" />
        </>
      );
    return <OpeningPage {...opening} />;
  }
  return (
    <div className={styles.app}>
      <header className={styles.bar}>
        <Brand />
        <Places at={route.place} />
      </header>
      {memoryOnly ? (
        <p className={styles.banner} role="alert">
          This browser does not let the app store anything now (full, or blocked). You can work, and
          it is tried again and again; until it works, projects are gone when the page is closed:
          download them from the workbench.
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
        ) : route.place === 'printers' ? (
          <Suspense fallback={<Waiting what="the printers" />}>
            <PrintersPlace library={library} />
          </Suspense>
        ) : (
          <Suspense fallback={<Waiting what="the shelf" />}>
            <ShelfPlace
              library={library}
              opening={opening}
              onFile={(file) => void takeIn(file)}
              projects={projects}
              onChanged={() => void refreshShelf()}
              onDemo={takeDemo}
            />
          </Suspense>
        )}
      </Failsafe>
      {dragging ? <DropHint /> : null}
      <Toaster position="bottom-center" />
    </div>
  );
}
