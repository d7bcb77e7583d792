import { Download } from 'lucide-react';
import { useEffect, useMemo } from 'react';
import { findNotices } from '#core/heights/notices.ts';
import { ArtworkPanel } from '../features/artwork/ArtworkPanel.tsx';
import { ReliefPanel } from '../features/relief/ReliefPanel.tsx';
import { SheetPage } from '../features/sheet/SheetPage.tsx';
import { StackPanel } from '../features/stack/StackPanel.tsx';
import { Stage } from '../features/stage/Stage.tsx';
import { downloadFile, fileStem } from '../platform/browser/files.ts';
import type { Library } from '../state/library.ts';
import { stackOf } from '../state/project-document.ts';
import { writeProjectFile } from '../state/project-file.ts';
import {
  ProjectContext,
  useDocument,
  useLive,
  type OpenProject,
} from '../state/project-context.ts';
import type { Stop } from '../state/view-store.ts';
import { Button } from '../ui/Button.tsx';
import appStyles from './App.module.css';
import { Ledger } from './Ledger.tsx';
import { goTo, pathOf } from './route.ts';
import { Trail } from './Trail.tsx';
import { useAutosave } from './use-autosave.ts';
import { useHistoryKeys } from './use-history-keys.ts';
import styles from './Workbench.module.css';

interface WorkbenchProps {
  readonly project: OpenProject;
  readonly library: Library;
  readonly stop: Stop;
  readonly memoryOnly: boolean;
}

/** One open project with all its stops. */
export function Workbench(props: WorkbenchProps) {
  return (
    <ProjectContext value={props.project}>
      <Bench {...props} />
    </ProjectContext>
  );
}

function Bench({ project, library, stop, memoryOnly }: WorkbenchProps) {
  const saveState = useAutosave(project, library);
  useHistoryKeys(project.documents);
  const document = useDocument((state) => state.document);
  const ramp = useLive((state) => state.ramp);
  const counts = useLive((state) => state.counts);
  const notices = useMemo(
    () => (counts ? findNotices(stackOf(document), ramp, counts, document.leastLayers) : []),
    [document, ramp, counts],
  );
  const marks = useMemo(() => {
    const found = new Set<Stop>();
    for (const { code } of notices) found.add(code === 'nothing-printed' ? 'artwork' : 'stack');
    return found;
  }, [notices]);

  useEffect(() => {
    window.document.title = `${document.name} - Zesty Strata`;
    return () => {
      window.document.title = 'Zesty Strata';
    };
  }, [document.name]);

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

  return (
    <div className={styles.bench}>
      <Trail stop={stop} saveState={saveState} memoryOnly={memoryOnly} marks={marks} />
      {memoryOnly ? (
        <p className={appStyles.banner} role="alert" data-testid="storage-trouble">
          This browser does not store the project (storage is full or blocked). Work goes on in
          memory until the page is closed.
          <Button
            icon={<Download size={16} aria-hidden />}
            onClick={() => {
              const present = project.documents.getState().document;
              downloadFile(
                `${fileStem(present.name)}.strata`,
                writeProjectFile({ document: present, artwork: project.artworkBytes }),
                'application/zip',
              );
            }}
          >
            Download project
          </Button>
        </p>
      ) : null}
      {stop === 'sheet' || stop === 'rehearse' ? (
        <SheetPage
          onBack={() => {
            goTo(pathOf(project.id, 'relief'));
          }}
        />
      ) : (
        <main className={styles.split}>
          <h1 className="visually-hidden">{document.name}</h1>
          <Stage />
          <aside className={styles.side} aria-label="Tools of this stop">
            {stop === 'artwork' ? <ArtworkPanel /> : null}
            {stop === 'stack' ? <StackPanel /> : null}
            {stop === 'relief' ? <ReliefPanel /> : null}
          </aside>
        </main>
      )}
      {stop === 'sheet' ? null : <Ledger notices={notices} />}
    </div>
  );
}
