import { Copy, Download } from 'lucide-react';
import { memo, Suspense, useCallback, useEffect, useRef, useState } from 'react';
import { z } from 'zod';
import { Stage } from '../features/stage/Stage.tsx';
import type { Library } from '../state/library.ts';
import { ProjectContext, useDocument, type OpenProject } from '../state/project-context.ts';
import type { Stop } from '../state/view-store.ts';
import { Button } from '../ui/Button.tsx';
import appStyles from './App.module.css';
import { Failsafe } from '../ui/Failsafe.tsx';
import { Ledger } from './Ledger.tsx';
import { Overlays } from './Overlays.tsx';
import { RestMark } from './RestMark.tsx';
import { Trail } from './Trail.tsx';
import { useAutosave } from './use-autosave.ts';
import { SkipLinks } from '../ui/SkipLinks.tsx';
import { TypedHoldContext } from '../ui/typed-hold.ts';
import { downloadProject, useCommandKeys, useCommands } from './use-commands.ts';
import { useHistoryKeys } from './use-history-keys.ts';
import { onPutByElsewhere } from './unsaved.ts';
import { useSoleTab } from './use-sole-tab.ts';
import { EDGES, entryOf, stopsOf, stopWithin, type Overlay } from './stops.tsx';
import styles from './Workbench.module.css';

interface WorkbenchProps {
  readonly project: OpenProject;
  readonly library: Library;
  readonly stop: Stop;
  readonly memoryOnly: boolean;
  /** A change was made while another tab has the project: it must go on as a copy. */
  readonly onFork: () => void;
  /** Another picture for this project. */
  readonly onReplace: (file: File) => void;
  readonly onRedraw: (longerPx: number) => void;
  /** The other tab has let go, and nothing was changed here. */
  readonly onFree: () => void;
}

/** Rest before the later stops are loaded ahead of being entered, ms: the picture comes first. */
const LOAD_AHEAD_MS = 3000;

/** Loads the later stops, so that they open at once. */
function useLaterStops({ documents }: OpenProject): void {
  useEffect(() => {
    const timer = setTimeout(() => {
      // One that cannot be loaded now is asked for again when it is entered.
      void Promise.allSettled(
        stopsOf(documents.getState().document).flatMap(({ load }) => (load ? [load()] : [])),
      );
    }, LOAD_AHEAD_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [documents]);
}

/** Where the keyboard can go at once. */
const BENCH_PLACES = [
  { text: 'To the picture', selector: '#stage' },
  { text: 'To the tools', selector: '#tools' },
  { text: 'To the edges of the section', selector: EDGES },
  { text: 'To the ledger', selector: 'footer button' },
];
/** What was opened has the focus, not the page: the keyboard goes on from there. */
function useFocusOnOpening(): void {
  useEffect(() => {
    if (document.activeElement === document.body)
      document.querySelector<HTMLElement>('main')?.focus({ preventScroll: true });
  }, []);
}

// None of them depends on what the bench itself follows.
const QuietStage = memo(Stage);
const QuietLedger = memo(Ledger);

/** One open project with all its stops. */
export function Workbench(props: WorkbenchProps) {
  return (
    <ProjectContext value={props.project}>
      <TypedHoldContext value={props.project.documents.getState().hold}>
        <Bench {...props} />
      </TypedHoldContext>
    </ProjectContext>
  );
}

function Bench({
  project,
  library,
  stop: addressed,
  memoryOnly,
  onFork,
  onFree,
  onReplace,
  onRedraw,
}: WorkbenchProps) {
  const stop = stopWithin(project.documents.getState().document, addressed);
  const asOpened = useRef(project.documents.getState().document);
  const takeOver = useCallback(() => {
    if (project.documents.getState().document === asOpened.current) onFree();
  }, [project, onFree]);
  const role = useSoleTab(project.id, takeOver);
  useEffect(
    () => (role === 'own' ? onPutByElsewhere(project.id, takeOver) : undefined),
    [project.id, role, takeOver],
  );
  const saveState = useAutosave(project, library, role, onFork);
  useKeptScreen(project, library);
  useLaterStops(project);
  useFocusOnOpening();
  const [overlay, setOverlay] = useState<Overlay | null>(null);
  const open = useCallback((next: Overlay) => {
    setOverlay(next);
  }, []);
  const entry = entryOf(stop);
  const commands = useCommands(project, stop, open);
  useCommandKeys(commands, project, open);
  useHistoryKeys(project.documents);
  const name = useDocument((state) => state.document.name);

  useEffect(() => {
    window.document.title = `${name} - Zesty Strata`;
    return () => {
      window.document.title = 'Zesty Strata';
    };
  }, [name]);

  useEffect(() => {
    if (!memoryOnly) return;
    const warn = (event: BeforeUnloadEvent): void => {
      event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => {
      window.removeEventListener('beforeunload', warn);
    };
  }, [memoryOnly]);

  const { View } = entry;
  const tools = (
    <View onOverlay={open} library={library} onReplace={onReplace} onRedraw={onRedraw} />
  );
  return (
    <div className={styles.bench}>
      <RestMark saveStatus={saveState} known={role !== 'asking'} />
      <SkipLinks targets={entry.places ?? BENCH_PLACES} />
      <Trail
        stop={stop}
        saveState={saveState}
        memoryOnly={memoryOnly}
        shared={role === 'other'}
        onOverlay={open}
      />
      {memoryOnly ? (
        <p className={appStyles.banner} role="alert" data-testid="storage-trouble">
          This browser does not store the project (storage is full or blocked). Work goes on in
          memory until the page is closed.
          <Button
            icon={<Download size={16} aria-hidden />}
            onClick={() => {
              void downloadProject(project);
            }}
          >
            Download project
          </Button>
        </p>
      ) : null}
      {role === 'other' ? (
        <p className={appStyles.banner} role="status" data-testid="other-tab">
          This project is open in another tab. Look around as you like: your first change here goes
          on as a copy, so that neither tab writes over the other.
          <Button icon={<Copy size={16} aria-hidden />} onClick={onFork}>
            Go on as a copy
          </Button>
        </p>
      ) : null}
      {entry.whole ? (
        <Failsafe of={stop}>
          <Suspense fallback={<p role="status">Opening {entry.name}</p>}>{tools}</Suspense>
        </Failsafe>
      ) : (
        <>
          <main className={styles.split} tabIndex={-1}>
            <h1 className="visually-hidden">{name}</h1>
            <QuietStage over={entry.over} paints={entry.paints} foot={entry.foot} />
            <aside className={styles.side} id="tools" tabIndex={-1} aria-label="Tools of this stop">
              <Failsafe of={stop}>
                <Suspense>{tools}</Suspense>
              </Failsafe>
            </aside>
          </main>
          <QuietLedger />
        </>
      )}
      <Failsafe of={overlay ?? 'none'}>
        <Overlays
          overlay={overlay}
          project={project}
          commands={commands}
          onClose={() => {
            setOverlay(null);
          }}
        />
      </Failsafe>
    </div>
  );
}

const SCREEN_SETTING = 'screen';
const screenSchema = z.object({ pixelsPerMm: z.number().min(0.5).max(100) });

/** Brings the size of the screen's pixels over from the last visit, and keeps it when it is measured anew. */
function useKeptScreen({ views }: OpenProject, library: Library): void {
  useEffect(() => {
    let gone = false;
    void library.getSetting(SCREEN_SETTING).then((kept) => {
      const screen = screenSchema.safeParse(kept);
      if (!gone && screen.success) views.setState({ screenPixelsPerMm: screen.data.pixelsPerMm });
    });
    const unfollow = views.subscribe(({ screenPixelsPerMm }, before) => {
      if (screenPixelsPerMm !== null && screenPixelsPerMm !== before.screenPixelsPerMm)
        void library.putSetting(SCREEN_SETTING, { pixelsPerMm: screenPixelsPerMm });
    });
    return () => {
      gone = true;
      unfollow();
    };
  }, [views, library]);
}
