import { lazy, Suspense, useCallback } from 'react';
import type { ProjectDocument } from '../state/project-document.ts';
import type { OpenProject } from '../state/project-context.ts';
import type { NamedCommand } from '../ui/CommandPalette.tsx';
import { Dialog } from '../ui/Dialog.tsx';
import { Keys } from '../ui/Keys.tsx';
import { makeThumbnail } from './session/open-project.ts';
import styles from './Overlays.module.css';
import type { Overlay } from './stops.tsx';

const CommandPalette = lazy(async () => ({
  default: (await import('../ui/CommandPalette.tsx')).CommandPalette,
}));

const VersionsDialog = lazy(async () => ({
  default: (await import('../features/versions/VersionsDialog.tsx')).VersionsDialog,
}));

/** Searching and its chart are loaded when they are asked for. */
const FindPanel = lazy(async () => ({
  default: (await import('../features/find/FindPanel.tsx')).FindPanel,
}));

/** Keys that belong to one part of the screen. */
const PLACE_KEYS: readonly {
  readonly group: string;
  readonly rows: readonly [string, string][];
}[] = [
  {
    group: 'On the picture',
    rows: [
      ['B', 'hold to see the artwork'],
      ['O', 'hold to see the artwork without its edits'],
      ['Arrows', 'move the picture, or turn the solid'],
      ['+', 'zoom in'],
      ['-', 'zoom out'],
      ['0', 'fit, or put the solid back'],
      ['P', 'pin the spot under the pointer'],
    ],
  },
  {
    group: 'On an edge of the section',
    rows: [
      ['Up', 'one layer up'],
      ['Down', 'one layer down'],
      ['Shift+Up', 'five layers up'],
      ['Shift+Down', 'five layers down'],
      ['Home', 'as low as it goes'],
      ['End', 'as high as it goes'],
      ['Esc', 'take a drag back'],
    ],
  },
  {
    group: 'On the letter of a band',
    rows: [['Space', 'take it up, move it with the arrows, put it down']],
  },
];

interface OverlaysProps {
  readonly overlay: Overlay | null;
  readonly project: OpenProject;
  readonly commands: readonly NamedCommand[];
  readonly onClose: () => void;
}

/** What is laid over the workbench: commands, keys, versions. */
export function Overlays({ overlay, project, commands, onClose }: OverlaysProps) {
  const { worker } = project;
  const thumbnail = useCallback(
    (document: ProjectDocument) => makeThumbnail(worker, document),
    [worker],
  );
  switch (overlay) {
    case 'palette':
      return (
        <Suspense>
          <CommandPalette commands={commands} onClose={onClose} />
        </Suspense>
      );
    case 'shortcuts':
      return <ShortcutSheet commands={commands} onClose={onClose} />;
    case 'find':
      return (
        <Suspense>
          <FindPanel onClose={onClose} />
        </Suspense>
      );
    case 'versions':
      return (
        <Suspense>
          <VersionsDialog onThumbnail={thumbnail} onClose={onClose} />
        </Suspense>
      );
    default:
      return null;
  }
}

function ShortcutSheet({ commands, onClose }: Pick<OverlaysProps, 'commands' | 'onClose'>) {
  const keyed = commands.filter(({ keys }) => keys !== undefined);
  const groups = [...new Set(keyed.map(({ group }) => group))].map((group) => ({
    group,
    rows: keyed
      .filter((command) => command.group === group)
      .map(({ keys = '', text }): [string, string] => [keys, text]),
  }));
  const rows = [
    { group: 'Everywhere', rows: [['Ctrl+K', 'find a command']] as [string, string][] },
    ...groups,
    ...PLACE_KEYS,
  ];
  return (
    <Dialog
      open
      onOpenChange={(open) => {
        if (!open) onClose();
      }}
      title="Keys"
      place="large"
    >
      <div
        className={styles.sheet}
        role="region"
        aria-label="All keys"
        // So that the arrow keys scroll it.
        tabIndex={0}
        data-testid="shortcuts"
      >
        {rows.map(({ group, rows: list }) => (
          <section key={group} className={styles.group}>
            <h3>{group}</h3>
            <dl>
              {list.map(([keys, text]) => (
                <div key={keys + text} className={styles.row}>
                  <dt>
                    <Keys keys={keys} />
                  </dt>
                  <dd>{text}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Dialog>
  );
}
