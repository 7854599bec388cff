'use client';
import { memo, type ReactNode } from 'react';
import type { ListingLine } from '../../work/memory/listing-list';
import type { ListingField } from '../../work/quoting/listing-cells';
import type { Place } from './block';

export const ROW = 30;

interface Props {
  /** Ids of its cells begin with it. */
  readonly id: string;
  readonly index: number;
  readonly start: number;
  readonly tracks: string;
  readonly columns: readonly ListingField[];
  /** Undefined while it is fetched. */
  readonly row: ListingLine | undefined;
  /** Columns of the chosen block, both included; -1 where the row is not in it. */
  readonly left: number;
  readonly right: number;
  /** The column that keys go to; -1 where that is another row. */
  readonly here: number;
  /** What stands in the cell that is edited. */
  readonly field: ReactNode;
  readonly onPick: (place: Place, extend: boolean) => void;
  readonly onEdit: () => void;
}

function PlainRow({
  id,
  index,
  start,
  tracks,
  columns,
  row,
  left,
  right,
  here,
  field,
  onPick,
  onEdit,
}: Props) {
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-busy={row === undefined || undefined}
      className="absolute inset-x-0 grid border-b border-rule-soft"
      style={{ transform: `translateY(${start}px)`, height: ROW, gridTemplateColumns: tracks }}
    >
      <span
        role="rowheader"
        title={row && `${row.title}, ${row.market}`}
        className="sticky left-0 z-10 truncate border-r border-rule bg-raised px-2 leading-[29px]"
      >
        {row ? (
          <>
            <span className="font-mono text-[12.5px]">{row.sku}</span>{' '}
            <span className="text-xs text-muted">{row.market}</span>
          </>
        ) : (
          <span className="sr-only">Loading</span>
        )}
      </span>
      {columns.map((c, column) => {
        const inside = column >= left && column <= right;
        const edited = column === here && field;
        return (
          <span
            key={c.id}
            id={`${id}-${index}-${column}`}
            role="gridcell"
            aria-selected={inside}
            onMouseDown={(e) => !edited && onPick({ row: index, column }, e.shiftKey)}
            onMouseEnter={(e) => e.buttons === 1 && onPick({ row: index, column }, true)}
            onDoubleClick={onEdit}
            className={`cursor-cell truncate border-r border-rule-soft px-2 leading-[29px] select-none ${inside ? 'bg-river-soft' : ''} ${column === here ? 'outline-2 -outline-offset-2 outline-river' : ''}`}
          >
            {edited || row?.cells?.[column]}
          </span>
        );
      })}
    </div>
  );
}

/** A listing of the grid: drawn again only when it, or what is chosen of it, changed. */
export const GridRow = memo(PlainRow);
