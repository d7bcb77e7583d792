import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import type { CSSProperties, ReactElement, ReactNode, Ref } from 'react';

interface SortableProps {
  /** Ids of the rows, from the top down. */
  readonly ids: readonly string[];
  /** A row was put where another one is. */
  readonly onMove: (id: string, over: string) => void;
  readonly children: ReactNode;
}

/** A list whose rows are dragged to other places, by pointer or keys. */
export function Sortable({ ids, onMove, children }: SortableProps) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (over && active.id !== over.id) onMove(String(active.id), String(over.id));
      }}
    >
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

interface SortableRow {
  /** For the element of the row. */
  readonly ref: Ref<HTMLLIElement>;
  readonly style: CSSProperties;
  readonly isDragging: boolean;
  /** What it is dragged by. */
  readonly grip: ReactElement;
}

/**
 * One row of a {@link Sortable}.
 * @param what is moved, in words: "edit", "zone"
 * @param name of this one
 */
export function useSortableRow(
  id: string,
  what: string,
  name: string,
  gripClass: string | undefined,
): SortableRow {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, isDragging } =
    useSortable({ id, attributes: { roleDescription: `${what} to be moved` } });
  return {
    ref: setNodeRef,
    style: transform ? { transform: CSS.Translate.toString(transform) ?? '' } : {},
    isDragging,
    grip: (
      <button
        ref={setActivatorNodeRef}
        type="button"
        className={gripClass}
        {...attributes}
        {...listeners}
        aria-label={`Move ${name}`}
        title="Drag to another place"
      >
        <GripVertical size={15} aria-hidden />
      </button>
    ),
  };
}
