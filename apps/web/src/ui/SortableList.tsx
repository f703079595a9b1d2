import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { restrictToVerticalAxis } from '@dnd-kit/modifiers';
import {
  rectSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import { useMemo, type ReactNode } from 'react';

type Props<T extends { id: string }> = {
  items: readonly T[];
  label: string;
  /** What a line is called when it is picked up. */
  nameOf(item: T): string;
  onMove(from: number, to: number): void;
  className?: string;
  /** Lies side by side, in as many rows as it takes. */
  across?: boolean;
  render(item: T, index: number, handle: ReactNode): ReactNode;
  classOf?(item: T): string;
};

/**
 * A list whose lines are put in order by drag, by picking up their handle with Space and the arrows, or with
 * Alt and an arrow anywhere in the line.
 */
export function SortableList<T extends { id: string }>({
  items,
  label,
  nameOf,
  onMove,
  className,
  render,
  classOf,
  across = false,
}: Props<T>) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = useMemo(() => items.map((i) => i.id), [items]);
  const indexOf = (id: unknown) => items.findIndex((i) => i.id === id);
  const place = (id: unknown) => `${indexOf(id) + 1} of ${items.length}`;
  const name = (id: unknown) => {
    const item = items[indexOf(id)];
    return item ? nameOf(item) : '';
  };
  const end = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) onMove(indexOf(active.id), indexOf(over.id));
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      modifiers={across ? [] : [restrictToVerticalAxis]}
      onDragEnd={end}
      accessibility={{
        screenReaderInstructions: {
          draggable: 'Space picks it up, arrows move it, Space puts it down, Escape puts it back.',
        },
        announcements: {
          onDragStart: ({ active }) => `${name(active.id)} picked up, ${place(active.id)}.`,
          onDragOver: ({ active, over }) => (over ? `${name(active.id)} over place ${place(over.id)}.` : ''),
          onDragEnd: ({ active, over }) => (over ? `${name(active.id)} put down at ${place(over.id)}.` : ''),
          onDragCancel: ({ active }) => `${name(active.id)} put back.`,
        },
      }}
    >
      <SortableContext items={ids} strategy={across ? rectSortingStrategy : verticalListSortingStrategy}>
        <ol className={className} aria-label={label}>
          {items.map((item, index) => (
            <SortableItem
              key={item.id}
              id={item.id}
              name={nameOf(item)}
              className={classOf?.(item) ?? ''}
              across={across}
              onStep={(by) => {
                const to = index + by;
                if (to >= 0 && to < items.length) onMove(index, to);
              }}
            >
              {(handle) => render(item, index, handle)}
            </SortableItem>
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

/** Never drawn anew. */
const GRIP = <GripVertical size={14} aria-hidden="true" />;

function SortableItem({
  id,
  name,
  className,
  across,
  onStep,
  children,
}: {
  id: string;
  name: string;
  className: string;
  across: boolean;
  onStep(by: number): void;
  children(handle: ReactNode): ReactNode;
}) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id });
  const handle = (
    <button
      type="button"
      className="handle"
      {...attributes}
      {...listeners}
      aria-label={`Move ${name}`}
      title="Drag, or Space and arrows"
    >
      {GRIP}
    </button>
  );
  return (
    <li
      ref={setNodeRef}
      className={`${className} ${isDragging ? 'dragged' : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      onKeyDown={(e) => {
        const [back, on] = across ? ['ArrowLeft', 'ArrowRight'] : ['ArrowUp', 'ArrowDown'];
        if (!e.altKey || (e.key !== back && e.key !== on)) return;
        e.preventDefault();
        onStep(e.key === back ? -1 : 1);
      }}
    >
      {children(handle)}
    </li>
  );
}
