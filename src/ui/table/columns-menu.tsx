'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Columns3, GripVertical } from 'lucide-react';
import { Button } from '../button';
import { Sortable, useSorted } from '../sortable';
import type { Layout } from './layout';

/** Which columns a table shows, in which order and how wide. */
export function ColumnsMenu<R>({ label, layout }: { label: string; layout: Layout<R> }) {
  const { all, show, order, size, sizeOf, reset } = layout;
  const ids = all.map((a) => a.column.id);
  return (
    <Popover className="relative">
      <PopoverButton
        aria-label={`Columns of ${label}`}
        title="Columns"
        className="flex items-center rounded-sm p-1 text-muted hover:text-ink"
      >
        <Columns3 aria-hidden size={15} />
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-40 w-80 rounded-sm border border-rule bg-surface p-2 text-[13px] font-normal shadow-md"
      >
        <Sortable ids={ids} onOrder={order}>
          <ul>
            {all.map(({ column, visible, room }) => (
              <ColumnItem
                key={column.id}
                id={column.id}
                name={column.header || 'State'}
                visible={visible}
                fixed={column.rank === 0}
                note={visible && !room ? 'no room' : ''}
                width={sizeOf(column.id)}
                onShow={(on) => show(column.id, on)}
                onSize={(width) => size(column.id, width)}
              />
            ))}
          </ul>
        </Sortable>
        <Button kind="text" onClick={reset}>
          Reset
        </Button>
      </PopoverPanel>
    </Popover>
  );
}

interface ItemProps {
  readonly id: string;
  readonly name: string;
  readonly visible: boolean;
  readonly fixed: boolean;
  readonly note: string;
  readonly width: number;
  readonly onShow: (on: boolean) => void;
  readonly onSize: (width: number) => void;
}

function ColumnItem({ id, name, visible, fixed, note, width, onShow, onSize }: ItemProps) {
  const { item, handle } = useSorted(id);
  return (
    <li {...item} className="flex items-center gap-1.5 py-0.5">
      <button
        {...handle}
        aria-label={`Move ${name}`}
        className="cursor-grab rounded-sm p-0.5 text-muted hover:text-ink"
      >
        <GripVertical aria-hidden size={14} />
      </button>
      <label className="flex grow items-center gap-1.5">
        <input
          type="checkbox"
          checked={visible}
          disabled={fixed}
          onChange={(e) => onShow(e.target.checked)}
          className="size-3.5 accent-river"
        />
        {name} {note && <span className="text-xs text-muted">{note}</span>}
      </label>
      <input
        type="number"
        aria-label={`Width of ${name} in pixels`}
        value={width}
        step={10}
        onChange={(e) => e.target.value && onSize(Number(e.target.value))}
        className="w-16 rounded-sm border border-edge bg-surface px-1 text-right"
      />
    </li>
  );
}
