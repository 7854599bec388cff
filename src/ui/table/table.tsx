'use client';
import { defaultRangeExtractor, type Range, useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, memo, type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { BodyRow, ROW } from './body-row';
import type { Column } from './column';
import { ColumnsMenu } from './columns-menu';
import { HeadRow, type Sorted } from './head-row';
import { tableKey } from './keys';
import { useLayout } from './layout';

export interface Marks {
  readonly has: (key: string) => boolean;
  readonly toggle: (key: string) => void;
  readonly add: (keys: readonly string[]) => void;
  /** Selects all matches, shown or not. */
  readonly markAll?: () => void;
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
  readonly sort?: Sorted;
  readonly onSort?: (by: string) => void;
  readonly onRange?: (from: number, to: number) => void;
  /**
   * Keys of rows between two places, fetched or not; needed to mark ranges of a table that holds only a
   * window.
   */
  readonly keysBetween?: (from: number, to: number) => Promise<string[]>;
}

const MARK = 34;
/** What of the window is above and below a table, at least. */
const AROUND = 180;
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
 * A dense table of any length: only rows in view are drawn. Arrows or j/k move, Space selects, Shift extends, Ctrl A selects
 * the rows in view and then all matches, Enter opens the docket, Home and End go to the ends. The cursor follows the open
 * docket.
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
  // Until it is measured: rows are drawn with the table, not once more after it. Asked once, as the answer may lay out the page.
  const [initialRect] = useState(() => ({ width: 0, height: window.innerHeight - AROUND }));
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    initialRect,
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
    if (event.target !== event.currentTarget || count === 0) return;
    const row = rowAt(at);
    const edited = shown.find((c) => c.edit);
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 400) / ROW) - 1);
    const used = tableKey(event, page, {
      go: (by, extend) => count > 0 && go(at + by, extend),
      copy: () =>
        row && navigator.clipboard.writeText(shown.map((c) => String(c.value?.(row) ?? '')).join('\t')),
      mark: marks && (() => row && marks.toggle(keyOf(row))),
      markMany:
        marks &&
        (() => {
          const keys = items.flatMap(({ index }) => {
            const one = rowAt(index);
            return one === undefined ? [] : [keyOf(one)];
          });
          if (marks.markAll && keys.every(marks.has)) marks.markAll();
          else marks.add(keys);
        }),
      edit: edited && (() => row && setEditing({ key: keyOf(row), column: edited.id })),
      open: () => row && onChoose(keyOf(row)),
      close: chosen ? () => onChoose('') : undefined,
    });
    if (!used) return;
    event.preventDefault();
    event.stopPropagation();
  };

  const pick = useCallback(
    (index: number, key: string, extend: boolean) => {
      if (extend && marks) markBetween(at, index);
      box.current?.focus();
      setCursor(index);
      if (!extend || !marks) onChoose(key);
    },
    [at, marks, markBetween, onChoose],
  );
  const mark = useCallback(
    (index: number, key: string, extend: boolean) => {
      if (extend) markBetween(at, index);
      else marks?.toggle(key);
      // The keys go on from here: the box that was clicked would keep them.
      box.current?.focus();
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
        <HeadRow
          tracks={tracks}
          columns={shown}
          marked={marks !== undefined}
          sort={sort}
          onSort={onSort}
          resizer={layout.resizer}
        />
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
