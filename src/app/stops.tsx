import { lazy, memo, useMemo, useState, type ComponentType } from 'react';
import type { OverPicture } from '../features/stage/Stage.tsx';
import { RULES } from '../features/stack/RulePanel.tsx';
import { FilamentPicker } from '../features/stack/FilamentPicker.tsx';
import { StackPanel } from '../features/stack/StackPanel.tsx';
import { holdTotalHeight } from '../state/edits/band-edits.ts';
import { chooseHeightRule } from '../state/edits/height-edits.ts';
import type { Library } from '../state/library.ts';
import { useProject, type OpenProject } from '../state/project-context.ts';
import type { ProjectDocument } from '../state/project-document.ts';
import { STOPS, type Stop } from '../state/view-store.ts';
import { startGcodeWorker, startRehearseWorker } from '../workers/start-worker.ts';
import type { NamedCommand } from '../ui/CommandPalette.tsx';
import { skipTo, type SkipTarget } from '../ui/SkipLinks.tsx';
import { gcodePath, goTo, pathOf, PRINTERS_PATH } from './route.ts';
import { runKeeper } from './run-keeper.ts';
import { takeMeasured } from './take-measured.ts';
import { deskFile } from './desk-file.ts';
import type { AppNotice } from './use-notices.ts';
import { watchKeeper } from './watch-keeper.ts';

/** What is laid over the workbench. */
export type Overlay = 'palette' | 'shortcuts' | 'versions' | 'find';

/** What the bench gives to the stop that it shows. */
export interface StopProps {
  readonly onOverlay: (overlay: Overlay) => void;
  readonly library: Library;
  readonly onReplace: (file: File) => void;
  readonly onRedraw: (longerPx: number) => void;
}

/** One stop on the way from the picture to the print: all that the bench, the trail and the commands know of it. */
export interface StopEntry {
  readonly stop: Stop;
  readonly name: string;
  /** Its tools, beside the stage; or, with `whole`, all that lies under the trail. */
  readonly View: ComponentType<StopProps>;
  readonly whole?: boolean;
  /** Only projects of this kind have it. */
  readonly only?: 'pictures' | 'tags';
  /** What it lays over the picture, and at its foot. */
  readonly over?: ComponentType<OverPicture>;
  /** What it lays over the picture draws the print itself. */
  readonly paints?: boolean;
  readonly foot?: ComponentType;
  /** Loads its code ahead, where that comes late. */
  readonly load?: () => Promise<unknown>;
  /** Notices that are attended to here. */
  readonly notices: readonly AppNotice['code'][];
  readonly commands?: (
    project: OpenProject,
    onOverlay: (overlay: Overlay) => void,
  ) => readonly NamedCommand[];
  /** Where the keyboard can go at once; places of the stage where nothing is said. */
  readonly places?: readonly SkipTarget[];
}

/** The edges of the section, by a CSS selector: the first one is the lowest. */
export const EDGES = '[role="slider"][id^="edge-"]';

// It depends on nothing that the bench itself follows.
const QuietStackPanel = memo(StackPanel);

function StackStop({ onOverlay }: StopProps) {
  const find = useMemo(
    () => () => {
      onOverlay('find');
    },
    [onOverlay],
  );
  return <QuietStackPanel onFind={find} />;
}

const ZonesOverlay = lazy(async () => ({
  default: (await import('../features/stack/zones/ZonesOverlay.tsx')).ZonesOverlay,
}));
const loadArtwork = () => import('../features/artwork/index.ts');
const ArtworkPanel = lazy(async () => ({ default: (await loadArtwork()).ArtworkPanel }));
const PictureOverlay = lazy(async () => ({ default: (await loadArtwork()).PictureOverlay }));
const SelectionBar = lazy(async () => ({ default: (await loadArtwork()).SelectionBar }));
const loadTag = () => import('../features/tag/index.ts');
const TagPanel = lazy(async () => ({ default: (await loadTag()).TagPanel }));
const TagOverlay = lazy(async () => ({ default: (await loadTag()).TagOverlay }));
const SeriesPanel = lazy(async () => ({ default: (await loadTag()).SeriesPanel }));
const TagFoot = lazy(async () => ({ default: (await loadTag()).TagFoot }));
const loadRelief = async () => ({
  default: (await import('../features/relief/ReliefPanel.tsx')).ReliefPanel,
});
const loadSheet = async () => ({
  default: (await import('../features/sheet/SheetPage.tsx')).SheetPage,
});
const ReliefPanel = lazy(loadRelief);
const SheetPage = lazy(loadSheet);
const OwnGcodePage = lazy(async () => ({
  default: (await import('../features/gcode/own/OwnGcodePage.tsx')).OwnGcodePage,
}));

/** In the address, so that a page that is loaded again comes back to it. */
const OWN_GCODE = '#gcode';

function SheetStop({ library }: StopProps) {
  const { id, views } = useProject();
  const watches = useMemo(() => watchKeeper(library, id), [library, id]);
  const [slicing, setSlicing] = useState(window.location.hash === OWN_GCODE);
  const slice = (on: boolean): void => {
    setSlicing(on);
    window.history.replaceState(null, '', on ? OWN_GCODE : window.location.pathname);
  };
  if (slicing)
    return (
      <OwnGcodePage
        startReader={startGcodeWorker}
        onPrinters={() => {
          goTo(PRINTERS_PATH);
        }}
        onBack={() => {
          slice(false);
        }}
      />
    );
  return (
    <SheetPage
      onGcode={() => {
        slice(true);
      }}
      watches={watches}
      onPrinters={() => {
        goTo(PRINTERS_PATH);
      }}
      onDesk={() => {
        goTo(gcodePath(id, views.getState().batch));
      }}
      onBack={() => {
        goTo(pathOf(id, 'relief'));
      }}
    />
  );
}

const loadRehearse = async () => ({
  default: (await import('../features/rehearse/RehearsePage.tsx')).RehearsePage,
});
const RehearsePage = lazy(loadRehearse);

function RehearseStop({ library }: StopProps) {
  const { id, documents } = useProject();
  const runs = useMemo(() => runKeeper(library, id), [library, id]);
  const [onDesk] = useState(deskFile);
  return (
    <RehearsePage
      startWorker={startRehearseWorker}
      deskFile={onDesk}
      runs={runs}
      onMeasured={(measured) => void takeMeasured(library, documents, measured)}
    />
  );
}

const ENTRIES: Readonly<Record<Stop, Omit<StopEntry, 'stop'>>> = {
  artwork: {
    name: 'Artwork',
    only: 'pictures',
    View: ({ onReplace, onRedraw }) => <ArtworkPanel onReplace={onReplace} onRedraw={onRedraw} />,
    over: PictureOverlay,
    foot: SelectionBar,
    load: loadArtwork,
    notices: ['nothing-printed', 'prints-soft'],
  },
  stack: {
    name: 'Stack',
    only: 'pictures',
    View: StackStop,
    over: ZonesOverlay,
    notices: [
      'no-room',
      'few-heights',
      'squeezed',
      'thin-base',
      'dark-hides',
      'never-shows',
      'same-neighbours',
      'unused-band',
      'idle-layers',
      'unused-top',
    ],
    commands: ({ documents }, onOverlay) => [
      ...RULES.map(({ value: rule, text }) => ({
        id: `rule-${rule}`,
        group: 'Heights',
        text: `Height rule: ${text}`,
        run: () => {
          documents.getState().change(chooseHeightRule(rule));
        },
      })),
      {
        id: 'hold-total',
        group: 'Stack',
        text: 'Hold the total height, or let it go',
        keys: 'H',
        run: () => {
          const { document, change } = documents.getState();
          change(holdTotalHeight(!document.stack.holdTotal));
        },
      },
      {
        id: 'edges',
        group: 'Stack',
        text: 'To the edges of the section',
        keys: 'E',
        run: () => {
          skipTo({ selector: EDGES });
        },
      },
      {
        id: 'find',
        group: 'Stack',
        text: 'Find a stack',
        keys: 'S',
        run: () => {
          onOverlay('find');
        },
      },
    ],
  },
  tag: {
    name: 'Tag',
    only: 'tags',
    View: () => <TagPanel Chooser={FilamentPicker} />,
    over: TagOverlay,
    paints: true,
    foot: TagFoot,
    load: loadTag,
    notices: ['tag-problem'],
  },
  series: {
    name: 'Series',
    only: 'tags',
    View: () => <SeriesPanel />,
    load: loadTag,
    notices: [],
  },
  relief: {
    name: 'Relief',
    View: () => <ReliefPanel />,
    load: loadRelief,
    notices: ['finer-than-line'],
  },
  sheet: {
    name: 'Swap sheet',
    View: SheetStop,
    whole: true,
    load: loadSheet,
    notices: [],
    places: [
      { text: 'To the sheet', selector: '#sheet' },
      { text: 'To what the sheet is told', selector: 'main select' },
    ],
  },
  rehearse: {
    name: 'Rehearse',
    View: RehearseStop,
    whole: true,
    load: loadRehearse,
    notices: [],
    places: [
      { text: 'To the time line', selector: '[data-testid="time-line"]' },
      { text: 'To the printer', selector: 'main aside button' },
    ],
  },
};

/** The stops in the order of the way. */
export const STOP_ENTRIES: readonly StopEntry[] = STOPS.map((stop) => ({ stop, ...ENTRIES[stop] }));

/** The stops that a project has: a tag begins with outlines in place of artwork and stack. */
export function stopsOf({ tag }: Pick<ProjectDocument, 'tag'>): readonly StopEntry[] {
  const other = tag ? 'pictures' : 'tags';
  return STOP_ENTRIES.filter(({ only }) => only !== other);
}

/** The stop of a project that an address means: one that it does not have is its first of another kind. */
export function stopWithin(document: Pick<ProjectDocument, 'tag'>, stop: Stop): Stop {
  const own = stopsOf(document);
  if (own.some((entry) => entry.stop === stop)) return stop;
  return document.tag ? 'tag' : 'stack';
}

/** What is known of a stop. */
export function entryOf(stop: Stop): StopEntry {
  return STOP_ENTRIES[STOPS.indexOf(stop)] as StopEntry;
}
