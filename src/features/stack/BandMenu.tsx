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
import { bandLetter } from '#core/stack/stack.ts';
import {
  dropBand,
  joinDown,
  lockBand,
  moveBand,
  splitInTwo,
  trimBand,
} from '../../state/edits/band-edits.ts';
import type { Edit } from '../../state/edits/edit.ts';
import { useProject } from '../../state/project-context.ts';
import { Menu, type MenuItem } from '../../ui/Menu.tsx';

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

/** What can be done with a band. Memoised: a menu for each label is much to draw anew while an edge is dragged. */
export const BandMenu = memo(function BandMenu({ bandIndex, idle, onPick }: BandMenuProps) {
  const { documents } = useProject();
  const items = (): MenuItem[] => {
    const { document, change } = documents.getState();
    const {
      stack: { bands },
    } = document;
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
    const make = (edit: Edit) => (): void => {
      change(edit);
    };
    add(
      true,
      free ? 'Lock layers and filament' : 'Unlock',
      free ? Lock : LockOpen,
      make(lockBand(bandIndex, free)),
    );
    add(free, 'Change filament', Repeat, () => {
      onPick(bandIndex, 'replace');
    });
    add(true, 'Add band above', Plus, () => {
      onPick(bandIndex, 'above');
    });
    add(idle > 0, trimWords(idle), Scissors, make(trimBand(bandIndex, idle)));
    add(free && band.layers > 1, 'Split in two', SquareSplitVertical, make(splitInTwo(bandIndex)));
    add(
      free && bandIndex > 0 && bands[bandIndex - 1]?.locked !== true,
      'Join with the band below',
      Merge,
      make(joinDown(bandIndex)),
    );
    add(bandIndex < bands.length - 1, 'Move up', ArrowUp, make(moveBand(bandIndex, bandIndex + 1)));
    add(bandIndex > 0, 'Move down', ArrowDown, make(moveBand(bandIndex, bandIndex - 1)));
    add(free && bands.length > 1, 'Remove band', Trash2, make(dropBand(bandIndex)));
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
