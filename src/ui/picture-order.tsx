'use client';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  arrayMove,
  rectSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { X } from 'lucide-react';
import { Button } from './button';
import { Picture } from './picture';

/** The pictures of a product in their order, dragged or moved by keys; the first one stands in lists. */
export function PictureOrder({
  supplier,
  pictures,
  all,
  title,
  onChange,
}: {
  /** The supplier's service. */
  supplier: string;
  pictures: readonly string[];
  /** All that the supplier has. */
  all: readonly string[];
  title: string;
  onChange: (pictures: readonly string[]) => void;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const left = all.filter((path) => !pictures.includes(path));
  if (!all.length) return <Picture supplier={supplier} path={undefined} alt={title} size={64} />;
  return (
    <>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (over && active.id !== over.id)
            onChange(
              arrayMove(
                [...pictures],
                pictures.indexOf(String(active.id)),
                pictures.indexOf(String(over.id)),
              ),
            );
        }}
      >
        <SortableContext items={[...pictures]} strategy={rectSortingStrategy}>
          <ul className="flex flex-wrap gap-3 pt-2" aria-label="Pictures, first one first">
            {pictures.map((path, at) => (
              <Sorted
                key={path}
                path={path}
                supplier={supplier}
                name={`${title}, picture ${at + 1} of ${pictures.length}`}
                onDrop={pictures.length > 1 ? () => onChange(pictures.filter((p) => p !== path)) : null}
              />
            ))}
          </ul>
        </SortableContext>
      </DndContext>
      {left.length > 0 && (
        <p className="mt-1 flex flex-wrap items-center gap-2 text-xs text-muted">
          Left out:
          {left.map((path, at) => (
            <button
              key={path}
              type="button"
              aria-label={`Add picture ${at + 1} of those left out`}
              title="Add it"
              onClick={() => onChange([...pictures, path])}
              className="opacity-60 hover:opacity-100"
            >
              <Picture supplier={supplier} path={path} alt="" size={32} />
            </button>
          ))}
          <Button kind="text" onClick={() => onChange([])}>
            Use the supplier’s order
          </Button>
        </p>
      )}
    </>
  );
}

function Sorted({
  path,
  supplier,
  name,
  onDrop,
}: {
  path: string;
  supplier: string;
  name: string;
  onDrop: (() => void) | null;
}) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: path });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className="relative"
    >
      <button
        type="button"
        title="Drag, or press Space and an arrow, to move it"
        className="block cursor-grab"
        {...attributes}
        {...listeners}
        aria-label={`Move ${name}`}
      >
        <Picture supplier={supplier} path={path} alt={name} size={64} />
      </button>
      {onDrop && (
        <button
          type="button"
          aria-label={`Leave out ${name}`}
          title="Leave it out"
          onClick={onDrop}
          className="absolute -top-2 -right-2 grid size-6 place-items-center rounded-full border border-edge bg-surface text-muted hover:text-ink"
        >
          <X aria-hidden size={11} />
        </button>
      )}
    </li>
  );
}
