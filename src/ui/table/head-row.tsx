'use client';
import { ArrowDown, ArrowUp } from 'lucide-react';
import type { Column } from './column';
import type { Layout } from './layout';

export interface Sorted {
  readonly by: string;
  readonly descending: boolean;
}

interface Props<R> {
  readonly tracks: string;
  readonly columns: readonly Column<R>[];
  /** Whether rows can be marked. */
  readonly marked: boolean;
  readonly sort?: Sorted;
  readonly onSort?: (by: string) => void;
  readonly resizer: Layout<R>['resizer'];
}

/** The header row: a click sorts, the right edge of a header sizes its column. */
export function HeadRow<R>({ tracks, columns, marked, sort, onSort, resizer }: Props<R>) {
  return (
    <div
      role="row"
      aria-rowindex={1}
      className="sticky top-0 z-10 grid min-w-full items-center border-b border-rule bg-raised text-xs font-semibold text-muted"
      style={{ gridTemplateColumns: tracks }}
    >
      {marked && (
        <span role="columnheader" className="px-2">
          <span className="sr-only">Selected</span>
        </span>
      )}
      {columns.map(({ id: column, header, right, sort: sortable, help }, k) => {
        const on = sort?.by === column;
        return (
          <span
            key={column}
            role="columnheader"
            aria-sort={on ? (sort.descending ? 'descending' : 'ascending') : undefined}
            title={help}
            className={`relative truncate py-1.5 pl-2 ${k === columns.length - 1 ? 'pr-8' : 'pr-2'} ${right ? 'text-right' : ''}`}
          >
            {onSort && sortable ? (
              <button
                type="button"
                className="inline-flex items-center gap-0.5 hover:text-ink"
                onClick={() => onSort(column)}
              >
                {header}
                {on &&
                  (sort.descending ? <ArrowDown aria-hidden size={12} /> : <ArrowUp aria-hidden size={12} />)}
              </button>
            ) : (
              header
            )}
            <span
              aria-hidden
              onPointerDown={resizer(column)}
              className="absolute inset-y-1 right-0 w-1.5 cursor-col-resize touch-none border-r border-transparent hover:border-edge"
            />
          </span>
        );
      })}
    </div>
  );
}
