'use client';
import { memo } from 'react';
import { CellField } from './cell-field';
import type { Column } from './column';

export const ROW = 38;

interface Props<R> {
  readonly id: string;
  readonly row: R;
  readonly index: number;
  readonly start: number;
  readonly tracks: string;
  readonly columns: readonly Column<R>[];
  readonly chosen: boolean;
  /** Null in a table without marks. */
  readonly marked: boolean | null;
  readonly cursor: boolean;
  /** The column that is being edited in this row. */
  readonly editing: string | null;
  readonly onPick: (index: number, key: string, extend: boolean) => void;
  readonly onMark: (index: number, key: string, extend: boolean) => void;
  readonly onEdit: (what: { readonly key: string; readonly column: string }) => void;
  readonly onEdited: () => void;
}

function PlainRow<R>({
  id,
  row,
  index,
  start,
  tracks,
  columns,
  chosen,
  marked,
  cursor,
  editing,
  onPick,
  onMark,
  onEdit,
  onEdited,
}: Props<R>) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: keys are handled by the grid, which keeps the focus
    <div
      id={`row-${id}`}
      role="row"
      aria-rowindex={index + 2}
      aria-selected={marked ?? chosen}
      // Shift with a click selects rows, not the text between them.
      onMouseDown={(e) => e.shiftKey && e.preventDefault()}
      onClick={(e) => onPick(index, id, e.shiftKey)}
      className={`absolute inset-x-0 grid [contain:layout_style] cursor-default items-center border-b border-rule-soft ${chosen ? 'bg-chosen shadow-[inset_3px_0_0_var(--river)]' : marked ? 'bg-river-soft' : 'hover:bg-raised'} ${cursor ? 'group-focus-visible/table:outline-1 group-focus-visible/table:-outline-offset-1 group-focus-visible/table:outline-river' : ''}`}
      style={{ transform: `translateY(${start}px)`, gridTemplateColumns: tracks, height: ROW }}
    >
      {marked !== null && (
        <span role="gridcell" className="px-2">
          <input
            type="checkbox"
            tabIndex={-1}
            aria-label="Select this row"
            checked={marked}
            onClick={(e) => {
              e.stopPropagation();
              if (!e.shiftKey) return;
              e.preventDefault();
              onMark(index, id, true);
            }}
            onChange={() => onMark(index, id, false)}
            className="size-3.5 accent-river"
          />
        </span>
      )}
      {columns.map((column) => (
        <span
          key={column.id}
          role="gridcell"
          title={column.edit && 'Double-click or F2 to edit'}
          onDoubleClick={column.edit && (() => onEdit({ key: id, column: column.id }))}
          className={`min-w-0 truncate px-2 leading-tight ${column.right ? 'text-right' : ''}`}
        >
          {column.edit && editing === column.id ? (
            <CellField row={row} label={column.header} edit={column.edit} onDone={onEdited} />
          ) : (
            column.cell(row)
          )}
        </span>
      ))}
    </div>
  );
}

/**
 * A row is drawn again only when what it shows changed: scrolling draws the rows that come in, not those that
 * stay.
 */
export const BodyRow = memo(PlainRow) as typeof PlainRow;
