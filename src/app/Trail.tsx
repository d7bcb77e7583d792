import { CircleAlert, Redo2, Undo2 } from 'lucide-react';
import { useDocument, useProject } from '../state/project-context.ts';
import { STOPS, type Stop } from '../state/view-store.ts';
import { Button } from '../ui/Button.tsx';
import { Brand } from './Brand.tsx';
import { goTo, pathOf } from './route.ts';
import styles from './Trail.module.css';
import type { SaveState } from './use-autosave.ts';

const NAMES: Readonly<Record<Stop, string>> = {
  artwork: 'Artwork',
  stack: 'Stack',
  relief: 'Relief',
  sheet: 'Swap sheet',
  rehearse: 'Rehearse',
};

interface TrailProps {
  readonly stop: Stop;
  readonly saveState: SaveState;
  readonly memoryOnly: boolean;
  /** Stops where something needs attention. */
  readonly marks: ReadonlySet<Stop>;
}

/** The top edge: the project, its history, and the five stops. */
export function Trail({ stop, saveState, memoryOnly, marks }: TrailProps) {
  const { id } = useProject();
  const name = useDocument((state) => state.document.name);
  const canUndo = useDocument((state) => state.past.length > 0);
  const canRedo = useDocument((state) => state.future.length > 0);
  const { undo, redo } = useDocument((state) => state);
  const saved = memoryOnly ? 'not stored' : saveState === 'saving' ? 'saving' : 'saved';
  return (
    <header className={styles.trail}>
      <Brand />
      <p className={styles.project}>
        <strong>{name}</strong>
        <span role="status" data-testid="save-state">
          {saved}
        </span>
      </p>
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
          {STOPS.map((one, i) => {
            const content = (
              <>
                <span className={`${styles.number} figures`}>{i + 1}</span>
                {NAMES[one]}
                {marks.has(one) ? <CircleAlert size={14} aria-label="needs attention" /> : null}
              </>
            );
            return (
              <li key={one}>
                {one === 'rehearse' ? (
                  <span
                    className={styles.later}
                    aria-disabled
                    title="Comes with the simulated printer"
                  >
                    {content}
                  </span>
                ) : (
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
                )}
              </li>
            );
          })}
        </ol>
      </nav>
    </header>
  );
}
