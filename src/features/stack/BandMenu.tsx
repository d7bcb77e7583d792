import {
  ArrowDown,
  ArrowUp,
  Ellipsis,
  Lock,
  LockOpen,
  Merge,
  Plus,
  Repeat,
  Scissors,
  SquareSplitVertical,
  Trash2,
} from 'lucide-react';
import { memo } from 'react';
import {
  bandLetter,
  joinWithBelow,
  removeBand,
  reorderBand,
  splitBand,
} from '#core/stack/stack.ts';
import { useProject } from '../../state/project-context.ts';
import type { ProjectDocument } from '../../state/project-document.ts';
import { Menu, type MenuItem } from '../../ui/Menu.tsx';
import { putBands } from './edit-bands.ts';

interface BandMenuProps {
  readonly bandIndex: number;
  /** Layers that change nothing to be seen; 0 when there is nothing to trim. */
  readonly idle: number;
  readonly onPick: (bandIndex: number, mode: 'replace' | 'above') => void;
}

/** Words for trimming layers that do nothing. */
export function trimWords(idle: number): string {
  return idle === 1 ? '1 layer does nothing, trim' : `${idle} layers do nothing, trim`;
}

/** Takes the layers that do nothing away from a band; what lies above keeps its own and sinks. */
export function trimBand(draft: ProjectDocument, bandIndex: number, idle: number): void {
  const trimmed = draft.bands.map((one, i) =>
    i === bandIndex ? { ...one, layers: one.layers - idle } : one,
  );
  putBands(draft, trimmed, bandIndex);
}

/** What can be done with a band. Memoised: a menu for each label is much to draw anew while an edge is dragged. */
export const BandMenu = memo(function BandMenu({ bandIndex, idle, onPick }: BandMenuProps) {
  const { documents } = useProject();
  const items = (): MenuItem[] => {
    const { document, change } = documents.getState();
    const { bands } = document;
    const band = bands[bandIndex];
    if (!band) return [];
    const free = band.locked !== true;
    const list: MenuItem[] = [];
    const add = (
      when: boolean,
      text: string,
      Icon: typeof Lock,
      onSelect: MenuItem['onSelect'],
    ): void => {
      if (when) list.push({ text, icon: <Icon size={15} aria-hidden />, onSelect });
    };
    const edit = (recipe: (draft: ProjectDocument) => void) => (): void => {
      change(recipe);
    };
    const move = (to: number): (() => void) =>
      edit((draft) => {
        draft.bands = [...reorderBand(draft.bands, bandIndex, to)];
      });
    add(
      true,
      free ? 'Lock layers and filament' : 'Unlock',
      free ? Lock : LockOpen,
      edit((draft) => {
        const one = draft.bands[bandIndex];
        if (!one) return;
        if (free) one.locked = true;
        else delete one.locked;
      }),
    );
    add(free, 'Change filament', Repeat, () => {
      onPick(bandIndex, 'replace');
    });
    add(true, 'Add band above', Plus, () => {
      onPick(bandIndex, 'above');
    });
    add(
      idle > 0,
      trimWords(idle),
      Scissors,
      edit((draft) => {
        trimBand(draft, bandIndex, idle);
      }),
    );
    add(
      free && band.layers > 1,
      'Split in two',
      SquareSplitVertical,
      edit((draft) => {
        draft.bands = [
          ...splitBand(draft.bands, bandIndex, (one) => ({ ...one, id: crypto.randomUUID() })),
        ];
      }),
    );
    add(
      free && bandIndex > 0 && bands[bandIndex - 1]?.locked !== true,
      'Join with the band below',
      Merge,
      edit((draft) => {
        putBands(draft, joinWithBelow(draft.bands, bandIndex), bandIndex);
      }),
    );
    add(bandIndex < bands.length - 1, 'Move up', ArrowUp, move(bandIndex + 1));
    add(bandIndex > 0, 'Move down', ArrowDown, move(bandIndex - 1));
    add(
      free && bands.length > 1,
      'Remove band',
      Trash2,
      edit((draft) => {
        putBands(draft, removeBand(draft.bands, bandIndex), bandIndex - 0.5);
      }),
    );
    return list;
  };
  return (
    <Menu
      label={`Band ${bandLetter(bandIndex)}`}
      trigger={<Ellipsis size={16} aria-hidden />}
      items={items}
    />
  );
});
