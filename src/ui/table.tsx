'use client';
import { defaultRangeExtractor, type Range, useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import {
  type KeyboardEvent,
  memo,
  type ReactNode,
  type RefObject,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';

/** A column by its name, width and what it shows of a row. */
export interface Column<R> {
  readonly id: string;
  readonly header: string;
  /** CSS grid track. */
  readonly width: string;
  readonly cell: (row: R) => ReactNode;
  /** Numbers stand on the right. */
  readonly right?: boolean;
  readonly sort?: boolean;
  /** Left out of tables narrower than this many pixels. */
  readonly from?: 600 | 800 | 1000;
  readonly help?: string;
}

export interface Marks {
  readonly has: (key: string) => boolean;
  readonly toggle: (key: string) => void;
  readonly add: (keys: readonly string[]) => void;
}

interface Props<R> {
  readonly label: string;
  readonly columns: readonly Column<R>[];
  readonly count: number;
  /** The row at a place, or undefined while it is being fetched. */
  readonly rowAt: (i: number) => R | undefined;
  readonly keyOf: (row: R) => string;
  readonly chosen: string;
  readonly onChoose: (key: string) => void;
  readonly marks?: Marks;
  readonly sort?: { readonly by: string; readonly descending: boolean };
  readonly onSort?: (by: string) => void;
  readonly onRange?: (from: number, to: number) => void;
  /**
   * Keys of rows between two places, fetched or not; needed to mark ranges of a table that holds only a
   * window.
   */
  readonly keysBetween?: (from: number, to: number) => Promise<string[]>;
}

const ROW = 38;
/**
 * Rows drawn beyond each edge: enough while it scrolls that none comes in empty; next to none while it
 * stands, when an answer writes into all that are drawn.
 */
const SCROLLED = 5;
const STILL = 1;

/** The width of the table itself, which the open docket narrows. */
function useWidth(box: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(1280);
  useEffect(() => {
    const { current } = box;
    if (!current) return;
    const observer = new ResizeObserver(() => setWidth(current.clientWidth));
    observer.observe(current);
    return () => observer.disconnect();
  }, [box]);
  return width;
}

/**
 * A dense table of any length: only rows in view are drawn. Arrows or j/k move, Space marks, Shift extends,
 * Enter opens the docket, Home and End go to the ends. The cursor follows the open docket.
 */
function PlainTable<R>({
  label,
  columns,
  count,
  rowAt,
  keyOf,
  chosen,
  onChoose,
  marks,
  sort,
  onSort,
  onRange,
  keysBetween,
}: Props<R>) {
  const box = useRef<HTMLDivElement>(null);
  const [cursor, setCursor] = useState(0);
  const width = useWidth(box);
  const moved = useRef(false);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    onChange: ({ isScrolling }) => {
      moved.current = isScrolling;
    },
    rangeExtractor: useCallback(
      (range: Range) => defaultRangeExtractor({ ...range, overscan: moved.current ? SCROLLED : STILL }),
      [],
    ),
  });
  const items = virtual.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (count) onRange?.(first, last);
  }, [first, last, count, onRange]);
  const at = Math.min(cursor, Math.max(0, count - 1));

  const shown = useMemo(() => columns.filter((c) => width >= (c.from ?? 0)), [columns, width]);
  const tracks = `${marks ? '34px ' : ''}${shown.map((c) => c.width).join(' ')}`;

  const markBetween = useCallback(
    async (a: number, b: number) => {
      if (!marks) return;
      const [from, to] = [Math.min(a, b), Math.max(a, b)];
      const keys: string[] = [];
      for (let i = from; i <= to; i++) {
        const row = rowAt(i);
        if (row !== undefined) keys.push(keyOf(row));
        else if (keysBetween) return marks.add(await keysBetween(from, to));
      }
      marks.add(keys);
    },
    [marks, rowAt, keyOf, keysBetween],
  );

  const go = useCallback(
    (to: number, extend: boolean) => {
      const next = Math.min(Math.max(to, 0), count - 1);
      if (extend) markBetween(at, next);
      setCursor(next);
      virtual.scrollToIndex(next);
      const row = rowAt(next);
      if (chosen && row !== undefined) onChoose(keyOf(row));
    },
    [at, count, markBetween, rowAt, keyOf, chosen, onChoose, virtual],
  );

  const onKey = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || !count) return;
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 400) / ROW) - 1);
    const step: Record<string, number> = {
      ArrowDown: 1,
      j: 1,
      J: 1,
      ArrowUp: -1,
      k: -1,
      K: -1,
      PageDown: page,
      PageUp: -page,
    };
    const row = rowAt(at);
    if (event.key in step) go(at + step[event.key]!, event.shiftKey);
    else if (event.key === 'Home') go(0, event.shiftKey);
    else if (event.key === 'End') go(count - 1, event.shiftKey);
    else if (event.key === ' ' && marks && row !== undefined) marks.toggle(keyOf(row));
    else if (event.key === 'Enter' && row !== undefined) onChoose(keyOf(row));
    else if (event.key === 'Escape' && chosen) onChoose('');
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const pick = useCallback(
    (index: number, key: string, extend: boolean) => {
      if (extend && marks) markBetween(at, index);
      setCursor(index);
      if (!extend || !marks) onChoose(key);
    },
    [at, marks, markBetween, onChoose],
  );
  const mark = useCallback(
    (index: number, key: string, extend: boolean) => {
      if (extend) markBetween(at, index);
      else marks?.toggle(key);
      setCursor(index);
    },
    [at, marks, markBetween],
  );

  const active = rowAt(at);
  return (
    <div
      ref={box}
      role="grid"
      aria-label={label}
      aria-rowcount={count + 1}
      aria-multiselectable={marks ? true : undefined}
      aria-activedescendant={active === undefined ? undefined : `row-${keyOf(active)}`}
      tabIndex={0}
      onKeyDown={onKey}
      data-table
      className="group/table min-h-0 grow overflow-auto border-t border-rule bg-surface outline-offset-[-2px]"
    >
      <div
        role="row"
        aria-rowindex={1}
        className="sticky top-0 z-10 grid min-w-full items-center border-b border-rule bg-raised text-xs font-semibold text-muted"
        style={{ gridTemplateColumns: tracks }}
      >
        {marks && (
          <span role="columnheader" className="px-2">
            <span className="sr-only">Marked</span>
          </span>
        )}
        {shown.map(({ id, header, right, sort: sortable, help }) => {
          const on = sort?.by === id;
          return (
            <span
              key={id}
              role="columnheader"
              aria-sort={on ? (sort.descending ? 'descending' : 'ascending') : undefined}
              className={`truncate px-2 py-1.5 ${right ? 'text-right' : ''}`}
            >
              {onSort && sortable ? (
                <button
                  type="button"
                  title={help}
                  className="inline-flex items-center gap-0.5 hover:text-ink"
                  onClick={() => onSort(id)}
                >
                  {header}
                  {on &&
                    (sort.descending ? (
                      <ArrowDown aria-hidden size={12} />
                    ) : (
                      <ArrowUp aria-hidden size={12} />
                    ))}
                </button>
              ) : (
                header
              )}
            </span>
          );
        })}
      </div>
      <div role="rowgroup" className="relative" style={{ height: virtual.getTotalSize() }}>
        {items.map((item) => {
          const row = rowAt(item.index);
          const place = {
            transform: `translateY(${item.start}px)`,
            gridTemplateColumns: tracks,
            height: ROW,
          };
          if (row === undefined)
            return (
              <div
                key={item.index}
                role="row"
                aria-rowindex={item.index + 2}
                aria-busy
                className="absolute inset-x-0 border-b border-rule-soft"
                style={place}
              >
                <span role="gridcell" className="sr-only">
                  Loading
                </span>
              </div>
            );
          const key = keyOf(row);
          return (
            <BodyRow
              // By place, not by row: an answer to a new key writes into the rows that stand there instead of
              // building them anew.
              key={item.index}
              id={key}
              row={row}
              index={item.index}
              start={item.start}
              tracks={tracks}
              columns={shown}
              chosen={key === chosen}
              marked={marks ? marks.has(key) : null}
              cursor={item.index === at}
              onPick={pick}
              onMark={mark}
            />
          );
        })}
      </div>
    </div>
  );
}

/** Drawn again only when what it is given changed; its callers keep that the same between keys. */
export const DataTable = memo(PlainTable) as typeof PlainTable;

interface BodyRowProps<R> {
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
  readonly onPick: (index: number, key: string, extend: boolean) => void;
  readonly onMark: (index: number, key: string, extend: boolean) => void;
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
  onPick,
  onMark,
}: BodyRowProps<R>) {
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: keys are handled by the grid, which keeps the focus
    <div
      id={`row-${id}`}
      role="row"
      aria-rowindex={index + 2}
      aria-selected={marked ?? chosen}
      onClick={(e) => onPick(index, id, e.shiftKey)}
      className={`absolute inset-x-0 grid [contain:layout_style] cursor-default items-center border-b border-rule-soft ${chosen ? 'bg-chosen shadow-[inset_3px_0_0_var(--river)]' : marked ? 'bg-river-soft' : 'hover:bg-raised'} ${cursor ? 'group-focus-visible/table:outline-1 group-focus-visible/table:-outline-offset-1 group-focus-visible/table:outline-river' : ''}`}
      style={{ transform: `translateY(${start}px)`, gridTemplateColumns: tracks, height: ROW }}
    >
      {marked !== null && (
        <span role="gridcell" className="px-2">
          <input
            type="checkbox"
            tabIndex={-1}
            aria-label="Mark this row"
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
          className={`min-w-0 truncate px-2 leading-tight ${column.right ? 'text-right' : ''}`}
        >
          {column.cell(row)}
        </span>
      ))}
    </div>
  );
}

/**
 * A row is drawn again only when what it shows changed: scrolling draws the rows that come in, not those that
 * stay.
 */
const BodyRow = memo(PlainRow) as typeof PlainRow;

/** A column in one line. */
export const column = <R,>(
  id: string,
  header: string,
  width: string,
  cell: (row: R) => ReactNode,
  more: Pick<Column<R>, 'right' | 'sort' | 'from' | 'help'> = {},
): Column<R> => ({ id, header, width, cell, ...more });

/** Two lines in one cell: what it is, and the small print. */
export function Two({ top, under }: { top: React.ReactNode; under: React.ReactNode }) {
  return (
    <span className="block min-w-0">
      <span className="block truncate">{top}</span>
      <span className="block truncate text-xs text-muted">{under}</span>
    </span>
  );
}
