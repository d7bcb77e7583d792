import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { createContext, memo, useCallback, useContext, useMemo } from 'react';
import { useDocument, useProject } from '../../state/project-context.ts';
import { moveBand } from '../../state/edits/band-edits.ts';
import { BandLabel } from './BandLabel.tsx';

/** Where a band's label stands, and what it says. */
export interface LabelPlace {
  readonly bandIndex: number;
  readonly id: string;
  readonly top: number;
  readonly left: number;
  readonly full: boolean;
  readonly end: number;
  readonly coverPercent: number;
  readonly idle: number;
  readonly coveredAt: number | undefined;
}

/** The labels from the top down. A context, so that what makes them sortable is not drawn anew with every moved edge. */
export const LabelPlaces = createContext<readonly LabelPlace[]>([]);

interface BandLabelsProps {
  readonly onPick: (bandIndex: number, mode: 'replace' | 'above') => void;
}

/** The labels of the bands; dragged, they change the order. */
export const BandLabels = memo(function BandLabels({ onPick }: BandLabelsProps) {
  const { documents } = useProject();
  const idList = useDocument(
    ({
      document: {
        stack: { bands },
      },
    }) =>
      bands
        .map(({ id }) => id)
        .reverse()
        .join(' '),
  );
  // The same list as long as the order is the same: a new one makes every label be drawn anew.
  const items = useMemo(() => idList.split(' '), [idList]);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = useCallback(
    ({ active, over }: DragEndEvent): void => {
      if (!over || active.id === over.id) return;
      const { document, change } = documents.getState();
      const {
        stack: { bands },
      } = document;
      const from = bands.findIndex(({ id }) => id === active.id);
      const to = bands.findIndex(({ id }) => id === over.id);
      change(moveBand(from, to));
    },
    [documents],
  );
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
      <SortableContext items={items}>
        <PlacedLabels onPick={onPick} />
      </SortableContext>
    </DndContext>
  );
});

const PlacedLabels = memo(function PlacedLabels({ onPick }: BandLabelsProps) {
  return useContext(LabelPlaces).map(({ id, ...place }) => (
    <BandLabel key={id} {...place} onPick={onPick} />
  ));
});
