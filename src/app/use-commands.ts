import { useEffect, useMemo, useRef } from 'react';
import { viewsOf } from '../features/stage/StageTools.tsx';
import { downloadFile, fileStem } from '../platform/browser/files.ts';
import type { OpenProject } from '../state/project-context.ts';
import { showTrueSize, SURROUNDS, type Stop } from '../state/view-store.ts';
import { toast } from '../ui/toast.ts';
import type { NamedCommand } from '../ui/CommandPalette.tsx';
import { goTo, pathOf, RACK_PATH, SHELF_PATH } from './route.ts';
import { setTheme, THEMES } from './theme.ts';
import { entryOf, stopsOf, type Overlay, type StopEntry } from './stops.tsx';

/** Saves the project as a file of its own. */
export async function downloadProject(project: OpenProject): Promise<void> {
  const { document } = project.documents.getState();
  const { versions } = project.versions.getState();
  const writer = await import('../state/project-file.ts').catch(() => undefined);
  if (!writer) {
    toast.error(
      'The project file was not made: the app is not running any more, or was updated. Start the app again. Where the top says "saved", load the page anew and download it then; where it does not, leave this page open: your work is only here.',
    );
    return;
  }
  downloadFile(
    `${fileStem(document.name)}.strata`,
    writer.writeProjectFile({ document, artwork: project.artworkBytes, versions }),
    'application/zip',
  );
}

/** Everything that can be done from anywhere in the workbench, by name and by key. */
export function useCommands(
  project: OpenProject,
  stop: Stop,
  onOverlay: (overlay: Overlay) => void,
): readonly NamedCommand[] {
  return useMemo(() => {
    const { documents, views } = project;
    const { document } = documents.getState();
    const own = stopsOf(document);
    const at = own.indexOf(entryOf(stop));
    const stopCommand = ({ stop: to, name }: StopEntry, keys?: string): NamedCommand => ({
      id: `stop-${to}${keys ?? ''}`,
      group: 'Go to',
      text: name,
      ...(keys ? { keys } : {}),
      run: () => {
        goTo(pathOf(project.id, to));
      },
    });
    const previous = own[at - 1];
    const next = own[at + 1];
    const commands: NamedCommand[] = [
      ...viewsOf(document).map(({ value: view, text }, i) => ({
        id: `view-${view}`,
        group: 'View',
        text,
        keys: String(i + 1),
        run: () => {
          views.setState({ view });
        },
      })),
      {
        id: 'fit',
        group: 'View',
        text: 'Fit the picture',
        keys: 'F',
        run: () => {
          views.setState({ zoom: null, panX: 0, panY: 0 });
        },
      },
      {
        id: 'true-size',
        group: 'View',
        text: 'True size on this screen',
        keys: 'T',
        run: () => {
          showTrueSize(views);
        },
      },
      {
        id: 'measure-screen',
        group: 'View',
        text: 'Measure this screen',
        run: () => {
          views.setState({ measuringScreen: true });
        },
      },
      ...SURROUNDS.map((surround) => ({
        id: `surround-${surround}`,
        group: 'View',
        text: `Surround ${surround}`,
        run: () => {
          views.setState({ surround });
        },
      })),
      {
        id: 'unpin',
        group: 'View',
        text: 'Take all pins away',
        run: () => {
          views.setState({ pins: [] });
        },
      },
      ...own.flatMap((entry) => entry.commands?.(project, onOverlay) ?? []),
      {
        id: 'undo',
        group: 'Project',
        text: 'Undo',
        keys: 'Ctrl+Z',
        run: () => {
          documents.getState().undo();
        },
      },
      {
        id: 'redo',
        group: 'Project',
        text: 'Redo',
        keys: 'Ctrl+Shift+Z',
        run: () => {
          documents.getState().redo();
        },
      },
      {
        id: 'versions',
        group: 'Project',
        text: 'Versions',
        keys: 'V',
        run: () => {
          onOverlay('versions');
        },
      },
      {
        id: 'download-project',
        group: 'Project',
        text: 'Download the project file',
        run: () => {
          void downloadProject(project);
        },
      },
      ...own.map((one) => stopCommand(one)),
      ...(previous ? [{ ...stopCommand(previous, ','), text: 'Stop before this one' }] : []),
      ...(next ? [{ ...stopCommand(next, '.'), text: 'Next stop' }] : []),
      {
        id: 'shelf',
        group: 'Go to',
        text: 'Shelf',
        run: () => {
          goTo(SHELF_PATH);
        },
      },
      {
        id: 'rack',
        group: 'Go to',
        text: 'Rack',
        run: () => {
          goTo(RACK_PATH);
        },
      },
      ...THEMES.map((theme) => ({
        id: `theme-${theme}`,
        group: 'App',
        text: theme === 'system' ? 'Look as the system is set' : `Look ${theme}`,
        run: () => {
          setTheme(theme);
        },
      })),
      {
        id: 'shortcuts',
        group: 'App',
        text: 'Keys',
        keys: '?',
        run: () => {
          onOverlay('shortcuts');
        },
      },
    ];
    return commands;
  }, [project, stop, onOverlay]);
}

/** Keys mean something else while one types, or while something is open that listens to them itself. */
function isTaken(target: EventTarget | null): boolean {
  if (!(target instanceof Element)) return false;
  if (target.closest('[role="menu"], [role="dialog"], [role="listbox"]')) return true;
  if (target instanceof HTMLInputElement) return !['checkbox', 'range'].includes(target.type);
  return target.matches('textarea, select, [contenteditable]');
}

/** Listens for the keys of commands, for the palette's, and for the one held to see the artwork. */
export function useCommandKeys(
  commands: readonly NamedCommand[],
  { views }: OpenProject,
  onOverlay: (overlay: Overlay) => void,
): void {
  const latest = useRef(commands);
  latest.current = commands;
  useEffect(() => {
    const release = (): void => {
      const { artworkHeld, originalHeld } = views.getState();
      if (artworkHeld || originalHeld) views.setState({ artworkHeld: false, originalHeld: false });
    };
    const onKeyDown = (event: KeyboardEvent): void => {
      if (event.defaultPrevented) return;
      if ((event.ctrlKey || event.metaKey) && !event.shiftKey && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        onOverlay('palette');
        return;
      }
      // Undo and redo have their own listener, which every place with a history shares.
      if (event.ctrlKey || event.metaKey || event.altKey || isTaken(event.target)) return;
      if (event.key.toLowerCase() === 'b') {
        if (!event.repeat) views.setState({ artworkHeld: true });
        return;
      }
      if (event.key.toLowerCase() === 'o') {
        if (!event.repeat) views.setState({ originalHeld: true });
        return;
      }
      const key = event.key.length === 1 ? event.key.toUpperCase() : event.key;
      const command = latest.current.find(({ keys }) => keys === key);
      if (!command) return;
      event.preventDefault();
      command.run();
    };
    const onKeyUp = (event: KeyboardEvent): void => {
      if (['b', 'o'].includes(event.key.toLowerCase())) release();
    };
    window.addEventListener('keydown', onKeyDown);
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('blur', release);
    return () => {
      window.removeEventListener('keydown', onKeyDown);
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('blur', release);
    };
  }, [views, onOverlay]);
}
