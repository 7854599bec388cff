'use client';
import { defaultRangeExtractor, type Range, useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { type KeyboardEvent, memo, type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import type { Column, Edit } from './column';
import { ColumnsMenu } from './columns-menu';
import { useLayout } from './table-layout';

export interface Marks {
  readonly has: (key: string) => boolean;
  readonly toggle: (key: string) => void;
  readonly add: (keys: readonly string[]) => void;
}

interface Props<R> {
  /** Under which the widths and order of its columns are remembered. */
  readonly id: string;
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
const MARK = 34;
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
  id,
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

  const layout = useLayout(id, columns, width - (marks ? MARK : 0));
  const { shown, tracks: own } = layout;
  const tracks = `${marks ? `${MARK}px ` : ''}${own}`;
  const [editing, setEditing] = useState<{ readonly key: string; readonly column: string } | null>(null);
  const endEdit = useCallback(() => {
    setEditing(null);
    box.current?.focus();
  }, []);

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
    if (event.target !== event.currentTarget) return;
    if ((event.ctrlKey || event.metaKey) && event.key === 'c' && !window.getSelection()?.toString()) {
      const row = rowAt(at);
      if (row === undefined) return;
      navigator.clipboard.writeText(shown.map((c) => String(c.value?.(row) ?? '')).join('\t'));
      event.preventDefault();
      return;
    }
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
    else if (event.key === 'F2' && row !== undefined && shown.some((c) => c.edit))
      setEditing({ key: keyOf(row), column: shown.find((c) => c.edit)!.id });
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
    <div className="relative flex min-h-0 min-w-0 grow flex-col">
      <div className="absolute top-[3px] right-2 z-20 bg-raised">
        <ColumnsMenu label={label} layout={layout} />
      </div>
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
          {shown.map(({ id: column, header, right, sort: sortable, help }, k) => {
            const on = sort?.by === column;
            return (
              <span
                key={column}
                role="columnheader"
                aria-sort={on ? (sort.descending ? 'descending' : 'ascending') : undefined}
                title={help}
                className={`relative truncate py-1.5 pl-2 ${k === shown.length - 1 ? 'pr-8' : 'pr-2'} ${right ? 'text-right' : ''}`}
              >
                {onSort && sortable ? (
                  <button
                    type="button"
                    className="inline-flex items-center gap-0.5 hover:text-ink"
                    onClick={() => onSort(column)}
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
                <span
                  aria-hidden
                  onPointerDown={layout.resizer(column)}
                  className="absolute inset-y-1 right-0 w-1.5 cursor-col-resize touch-none border-r border-transparent hover:border-edge"
                />
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
                editing={editing?.key === key ? editing.column : null}
                onPick={pick}
                onMark={mark}
                onEdit={setEditing}
                onEdited={endEdit}
              />
            );
          })}
        </div>
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
const BodyRow = memo(PlainRow) as typeof PlainRow;

/** The field in which a cell is edited: Enter saves, Escape leaves it as it was. */
function CellField<R>({
  row,
  label,
  edit,
  onDone,
}: {
  row: R;
  label: string;
  edit: Edit<R>;
  onDone: () => void;
}) {
  const [text, setText] = useState(() => edit.write(row));
  const [problem, setProblem] = useState<string | null>(null);
  const save = async () => {
    const wrong = text === edit.write(row) ? null : await edit.save(row, text);
    if (wrong === null) onDone();
    else setProblem(wrong);
  };
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: it was asked for
      autoFocus
      aria-label={label}
      aria-invalid={problem !== null}
      title={problem ?? undefined}
      value={text}
      onChange={(e) => {
        setText(e.target.value);
        setProblem(null);
      }}
      onClick={(e) => e.stopPropagation()}
      onBlur={() => problem === null && save()}
      onKeyDown={(e) => {
        if (e.key === 'Enter') save();
        else if (e.key === 'Escape') onDone();
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
      className={`w-full min-w-0 rounded-sm border bg-surface px-1 py-0.5 text-right ${problem ? 'border-loss' : 'border-river'}`}
    />
  );
}
