'use client';
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import {
  arrayMove,
  rectSortingStrategy,
  SortableContext,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import {
  type ComponentPropsWithRef,
  createContext,
  type KeyboardEvent,
  type ReactNode,
  useContext,
  useMemo,
  useState,
} from 'react';

/** Takes an item to a place; places that are not in the list are its ends. */
type Move = (id: string, to: (at: number, last: number) => number) => void;

const Moving = createContext<Move>(() => undefined);

const KEYS: Readonly<Record<string, (at: number, last: number) => number>> = {
  ArrowUp: (at) => at - 1,
  ArrowLeft: (at) => at - 1,
  ArrowDown: (at) => at + 1,
  ArrowRight: (at) => at + 1,
  Home: () => 0,
  End: (_, last) => last,
};

/**
 * Items that are put in order by dragging their handles, or by the arrow keys, Home and End while a handle has
 * the focus. The items themselves are drawn by `children` with `useSorted`.
 */
export function Sortable({
  ids,
  grid,
  onOrder,
  children,
}: {
  readonly ids: readonly string[];
  /** Items that stand beside each other and wrap. */
  readonly grid?: boolean;
  readonly onOrder: (ids: string[]) => void;
  readonly children: ReactNode;
}) {
  // A little way before it is a drag, so that a click stays a click.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const [told, setTold] = useState('');
  const move = useMemo<Move>(
    () => (id, to) => {
      const at = ids.indexOf(id);
      const place = Math.max(0, Math.min(ids.length - 1, to(at, ids.length - 1)));
      if (place !== at) onOrder(arrayMove([...ids], at, place));
      setTold(`Place ${place + 1} of ${ids.length}`);
    },
    [ids, onOrder],
  );
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{
        screenReaderInstructions: { draggable: 'Move it with the arrow keys, Home and End.' },
      }}
      onDragEnd={({ active, over }) => {
        if (over) move(String(active.id), () => ids.indexOf(String(over.id)));
      }}
    >
      <SortableContext items={[...ids]} strategy={grid ? rectSortingStrategy : verticalListSortingStrategy}>
        <Moving value={move}>{children}</Moving>
      </SortableContext>
      <p role="status" className="sr-only">
        {told}
      </p>
    </DndContext>
  );
}

/** An item of a `Sortable`: what its element and its handle, a button, are given. */
export function useSorted(id: string): {
  readonly item: Pick<ComponentPropsWithRef<'li'>, 'ref' | 'style'>;
  readonly handle: ComponentPropsWithRef<'button'>;
} {
  const move = useContext(Moving);
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({
    id,
  });
  const onKeyDown = (e: KeyboardEvent) => {
    const to = KEYS[e.key];
    if (!to || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    e.stopPropagation();
    move(id, to);
  };
  return {
    item: { ref: setNodeRef, style: { transform: CSS.Translate.toString(transform), transition } },
    handle: {
      type: 'button',
      title: 'Drag it, or move it with the arrow keys',
      ref: setActivatorNodeRef,
      'aria-describedby': attributes['aria-describedby'],
      ...listeners,
      onKeyDown,
    },
  };
}
