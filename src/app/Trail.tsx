import {
  ChevronDown,
  CircleAlert,
  Command,
  FileDown,
  History,
  Keyboard,
  Redo2,
  Undo2,
} from 'lucide-react';
import { useDocument, useProject } from '../state/project-context.ts';
import type { Stop } from '../state/view-store.ts';
import { Button } from '../ui/Button.tsx';
import { Menu } from '../ui/Menu.tsx';
import { Brand } from './Brand.tsx';
import { goTo, pathOf } from './route.ts';
import styles from './Trail.module.css';
import { downloadProject } from './use-commands.ts';
import type { SaveStatus } from '../state/autosave.ts';
import { useNotices } from './use-notices.ts';
import { stopsOf, type Overlay } from './stops.tsx';

interface TrailProps {
  readonly stop: Stop;
  readonly saveState: SaveStatus;
  readonly memoryOnly: boolean;
  /** Another tab has the project open. */
  readonly shared: boolean;
  readonly onOverlay: (overlay: Overlay) => void;
}

/** The top edge: the project, its history, and the stops. */
export function Trail({ stop, saveState, memoryOnly, shared, onOverlay }: TrailProps) {
  const project = useProject();
  const { id } = project;
  const name = useDocument((state) => state.document.name);
  const tag = useDocument((state) => state.document.tag);
  // Stops where something needs attention.
  const codes = new Set(useNotices().map(({ code }) => code));
  const canUndo = useDocument((state) => state.past.length > 0);
  const canRedo = useDocument((state) => state.future.length > 0);
  const { undo, redo } = useDocument((state) => state);
  const saved = memoryOnly ? 'not stored' : shared ? 'in another tab too' : saveState;
  return (
    <header className={styles.trail}>
      <Brand />
      <div className={styles.project}>
        <strong>{name}</strong>
        <span role="status" data-testid="save-state">
          {saved}
        </span>
        <Menu
          label={`Project ${name}`}
          trigger={<ChevronDown size={16} aria-hidden />}
          items={() => [
            {
              text: 'Versions',
              icon: <History size={15} aria-hidden />,
              onSelect: () => {
                onOverlay('versions');
              },
            },
            {
              text: 'Download the project file',
              icon: <FileDown size={15} aria-hidden />,
              onSelect: () => {
                void downloadProject(project);
              },
            },
            {
              text: 'Find a command',
              icon: <Command size={15} aria-hidden />,
              onSelect: () => {
                onOverlay('palette');
              },
            },
            {
              text: 'Keys',
              icon: <Keyboard size={15} aria-hidden />,
              onSelect: () => {
                onOverlay('shortcuts');
              },
            },
          ]}
        />
      </div>
      <Button
        look="quiet"
        icon={<Undo2 size={17} aria-hidden />}
        aria-label="Undo"
        title="Undo (Ctrl+Z)"
        disabled={!canUndo}
        onClick={undo}
      />
      <Button
        look="quiet"
        icon={<Redo2 size={17} aria-hidden />}
        aria-label="Redo"
        title="Redo (Ctrl+Shift+Z)"
        disabled={!canRedo}
        onClick={redo}
      />
      <nav aria-label="Stops" className={styles.stops}>
        <ol>
          {stopsOf({ tag }).map(({ stop: one, name: called, notices }, i) => {
            const content = (
              <>
                <span className={`${styles.number} figures`}>{i + 1}</span>
                {called}
                {notices.some((code) => codes.has(code)) ? (
                  <CircleAlert size={14} aria-label="needs attention" />
                ) : null}
              </>
            );
            return (
              <li key={one}>
                <a
                  href={pathOf(id, one)}
                  aria-current={one === stop ? 'page' : undefined}
                  data-testid={`stop-${one}`}
                  onClick={(event) => {
                    if (event.metaKey || event.ctrlKey || event.shiftKey) return;
                    event.preventDefault();
                    goTo(pathOf(id, one));
                  }}
                >
                  {content}
                </a>
              </li>
            );
          })}
        </ol>
      </nav>
    </header>
  );
}
