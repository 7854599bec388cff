'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import Papa from 'papaparse';
import {
  type ClipboardEvent,
  type KeyboardEvent,
  useCallback,
  useEffect,
  useId,
  useRef,
  useState,
} from 'react';
import { countOf, formatCount } from '../core/units';
import type { ListingLine } from '../work/assortment/listing-list';
import { theShop } from '../work/clients';
import type { Cell, RefusedCell } from '../work/listings/cells';
import type { FieldId, ListingField } from '../work/listings/fields';
import { useAnswer } from './answer';
import { Button } from './button';
import { Notice } from './head';
import { say } from './said';

const WIDTHS: Partial<Record<FieldId, number>> = { title: 340, tags: 220, category: 170, barcode: 150 };
const NAME = 210;
const ROW = 30;

/** Rows that may be pasted or filled at once. */
const MOST_ROWS = 20_000;
/** Cells refused that are told one by one. */
const TOLD = 6;

interface Place {
  readonly row: number;
  readonly column: number;
}

interface Props {
  readonly label: string;
  readonly columns: readonly ListingField[];
  readonly count: number;
  readonly rowAt: (i: number) => ListingLine | undefined;
  readonly onRange: (from: number, to: number) => void;
  /** Ids of rows between two places, fetched or not. */
  readonly idsBetween: (from: number, to: number) => Promise<string[]>;
}

/** A block of cells: both corners included. */
const blockOf = (a: Place, b: Place) => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.column, b.column),
  right: Math.max(a.column, b.column),
});

/**
 * Listings as a spreadsheet: type to replace, F2 or a double click to edit, Delete to go back to where a value came from;
 * blocks are copied and pasted as spreadsheets have them, Ctrl D fills down. Each step is one change that can be undone.
 */
export function ListingGrid({ label, columns, count, rowAt, onRange, idsBetween }: Props) {
  const tracks = `${NAME}px ${columns.map((c) => `${WIDTHS[c.id] ?? 120}px`).join(' ')}`;
  const box = useRef<HTMLDivElement>(null);
  const id = useId();
  const [at, setAt] = useState<Place>({ row: 0, column: 0 });
  const [end, setEnd] = useState<Place>({ row: 0, column: 0 });
  const [typing, setTyping] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<readonly RefusedCell[]>([]);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => box.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  const items = virtual.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (count) onRange(first, last);
  }, [first, last, count, onRange]);
  const block = blockOf(at, end);

  const go = useCallback(
    (row: number, column: number, extend = false) => {
      const next = {
        row: Math.min(Math.max(row, 0), Math.max(0, count - 1)),
        column: Math.min(Math.max(column, 0), columns.length - 1),
      };
      setEnd(next);
      if (!extend) setAt(next);
      virtual.scrollToIndex(next.row);
      const cell = document.getElementById(`${id}-${next.row}-${next.column}`);
      cell?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    },
    [count, id, virtual, columns.length],
  );

  /** Carries cells out as one change, and tells what could not be. */
  const apply = useCallback(async (cells: readonly Cell[], name: string) => {
    if (!cells.length) return;
    setBusy(true);
    try {
      const done = await theShop().applyCells(cells, name);
      setRefused(done.refusedCells);
      const sent = done.sent ? `; ${countOf(done.sent, 'listing')} on the way to the marketplaces` : '';
      const not = done.refused ? `; ${countOf(done.refused, 'cell')} not taken` : '';
      if (cells.length > 1 || done.sent)
        await say(`${countOf(done.changed, 'cell')} changed${sent}${not}.`, { undo: done.change !== null });
    } catch (error) {
      await say(error instanceof Error ? error.message : String(error), { wrong: true });
    }
    setBusy(false);
    box.current?.focus();
  }, []);

  const commit = (text: string, down: number, right: number) => {
    const row = rowAt(at.row);
    const field = columns[at.column]!;
    setTyping(null);
    if (row && text !== row.cells?.[at.column])
      apply([{ listing: row.id, field: field.id, text }], `${field.name} of ${row.sku}`);
    go(at.row + down, at.column + right);
    box.current?.focus();
  };

  const onPaste = async (event: ClipboardEvent) => {
    if (typing !== null) return;
    event.preventDefault();
    const text = event.clipboardData.getData('text/plain').replace(/\r\n?/g, '\n').replace(/\n$/, '');
    const { data } = Papa.parse<string[]>(text, { delimiter: '\t' });
    const rows = data.length;
    const width = Math.max(0, ...data.map((r) => r.length));
    if (!rows || !width) return;
    if (rows > MOST_ROWS)
      return say(
        `What was copied has ${formatCount(rows)} rows; up to ${formatCount(MOST_ROWS)} are pasted at once.`,
        {
          wrong: true,
        },
      );
    if (block.left + width > columns.length)
      return say(
        `What was copied has ${countOf(width, 'column')}; from ${columns[block.left]!.name} on there are ${columns.length - block.left}. Nothing was pasted.`,
        { wrong: true },
      );
    // One value fills all that is chosen; a block goes in as it is.
    const single = rows === 1 && width === 1;
    const bottom = single ? block.bottom : Math.min(count - 1, block.top + rows - 1);
    const right = single ? block.right : block.left + width - 1;
    const ids = await idsBetween(block.top, bottom);
    const cells = ids.flatMap((listing, r) =>
      columns.slice(block.left, right + 1).map((field, c) => ({
        listing,
        field: field.id,
        text: (single ? data[0]![0] : data[r]?.[c]) ?? '',
      })),
    );
    setEnd({ row: bottom, column: right });
    setAt({ row: block.top, column: block.left });
    await apply(cells, `Paste ${countOf(cells.length, 'cell')}`);
    if (!single && rows > ids.length)
      await say(`The last ${countOf(rows - ids.length, 'row')} had no listing to go to.`, { wrong: true });
  };

  const textOf = async (): Promise<string> => {
    const ids = await idsBetween(block.top, block.bottom);
    const fields = columns.slice(block.left, block.right + 1).map((c) => c.id);
    const rows = await theShop().cells(ids, fields);
    return Papa.unparse(
      rows.map((r) => [...(r ?? [])]),
      { delimiter: '\t', newline: '\r\n' },
    );
  };

  const fillDown = async () => {
    const ids = await idsBetween(block.top, block.bottom);
    const [source] = ids;
    if (!source || ids.length < 2) return;
    const fields = columns.slice(block.left, block.right + 1);
    const [texts] = await theShop().cells(
      [source],
      fields.map((f) => f.id),
    );
    const cells = ids
      .slice(1)
      .flatMap((listing) => fields.map((f, c) => ({ listing, field: f.id, text: texts?.[c] ?? '' })));
    await apply(cells, `Fill down ${countOf(cells.length, 'cell')}`);
  };

  const clear = async () => {
    const ids = await idsBetween(block.top, block.bottom);
    const fields = columns.slice(block.left, block.right + 1);
    const cells = ids.flatMap((listing) => fields.map((f) => ({ listing, field: f.id, text: '' })));
    await apply(cells, `Clear ${countOf(cells.length, 'cell')}`);
  };

  const onKey = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || !count) return;
    const { key, shiftKey } = event;
    const from = shiftKey ? end : at;
    if (event.ctrlKey || event.metaKey) {
      if (key === 'c') textOf().then((text) => navigator.clipboard.writeText(text));
      else if (key === 'd') fillDown();
      else if (key === 'a') {
        setAt({ row: 0, column: 0 });
        setEnd({ row: count - 1, column: columns.length - 1 });
      } else return;
      event.preventDefault();
      event.stopPropagation();
      return;
    }
    if (event.altKey) return;
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 400) / ROW) - 2);
    const steps: Record<string, readonly [number, number]> = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
      PageDown: [page, 0],
      PageUp: [-page, 0],
      Enter: [1, 0],
    };
    const step = steps[key];
    if (step) go(from.row + step[0], from.column + step[1], shiftKey && key !== 'Enter');
    else if (key === 'Tab') {
      // At the end of a row the grid is left, so that keys never trap anybody.
      const column = at.column + (shiftKey ? -1 : 1);
      if (column < 0 || column >= columns.length) return;
      go(at.row, column);
    } else if (key === 'Home') go(from.row, 0, shiftKey);
    else if (key === 'End') go(from.row, columns.length - 1, shiftKey);
    else if (key === 'F2') setTyping(rowAt(at.row)?.cells?.[at.column] ?? '');
    else if (key === 'Delete' || key === 'Backspace') clear();
    else if (key.length === 1) setTyping(key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const cells = (block.bottom - block.top + 1) * (block.right - block.left + 1);
  return (
    <div className="flex min-h-0 min-w-0 grow flex-col">
      <p className="flex items-center gap-3 border-t border-rule px-4 py-1 text-[12.5px] text-muted">
        <span role="status" className="grow">
          {busy
            ? 'Applying …'
            : cells > 1
              ? `${formatCount(cells)} cells chosen`
              : `${columns[at.column]!.name}, for example ${columns[at.column]!.example}`}
        </span>
        <span className="max-lg:hidden">
          Type to replace · F2 edits · Delete goes back · Ctrl C, Ctrl V, Ctrl D fills down · Ctrl Z undoes ·
          what is on sale is sent
        </span>
      </p>
      {refused.length > 0 && (
        <div className="px-4">
          <Notice>
            <ul>
              {refused.slice(0, TOLD).map((cell) => (
                <li key={`${cell.listing} ${cell.field}`}>
                  <span className="font-mono">{cell.listing.slice(cell.listing.indexOf(':') + 1)}</span>,{' '}
                  {columns.find((c) => c.id === cell.field)?.name}: {cell.reason}
                </li>
              ))}
              {refused.length > TOLD && <li>and {formatCount(refused.length - TOLD)} more</li>}
            </ul>
            <Button kind="text" onClick={() => setRefused([])}>
              Close
            </Button>
          </Notice>
        </div>
      )}
      <div
        ref={box}
        role="grid"
        aria-label={label}
        aria-rowcount={count + 1}
        aria-colcount={columns.length + 1}
        aria-multiselectable
        aria-activedescendant={`${id}-${end.row}-${end.column}`}
        tabIndex={0}
        data-table
        onKeyDown={onKey}
        onPaste={onPaste}
        className="min-h-0 grow overflow-auto border-t border-rule bg-surface outline-offset-[-2px]"
      >
        <div
          role="row"
          aria-rowindex={1}
          className="sticky top-0 z-20 grid w-max min-w-full border-b border-rule bg-raised text-xs font-semibold text-muted"
          style={{ gridTemplateColumns: tracks }}
        >
          <span role="columnheader" className="sticky left-0 z-10 border-r border-rule bg-raised px-2 py-1.5">
            Listing
          </span>
          {columns.map((c) => (
            <span key={c.id} role="columnheader" className="truncate border-r border-rule-soft px-2 py-1.5">
              {c.name}
            </span>
          ))}
        </div>
        <div role="rowgroup" className="relative w-max min-w-full" style={{ height: virtual.getTotalSize() }}>
          {items.map((item) => {
            const row = rowAt(item.index);
            return (
              <div
                key={item.index}
                role="row"
                aria-rowindex={item.index + 2}
                aria-busy={row === undefined || undefined}
                className="absolute inset-x-0 grid border-b border-rule-soft"
                style={{
                  transform: `translateY(${item.start}px)`,
                  height: ROW,
                  gridTemplateColumns: tracks,
                }}
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
                  const inside =
                    item.index >= block.top &&
                    item.index <= block.bottom &&
                    column >= block.left &&
                    column <= block.right;
                  const here = item.index === at.row && column === at.column;
                  return (
                    <span
                      key={c.id}
                      id={`${id}-${item.index}-${column}`}
                      role="gridcell"
                      aria-selected={inside}
                      onMouseDown={(e) => {
                        if (typing !== null && here) return;
                        if (e.shiftKey) setEnd({ row: item.index, column });
                        else {
                          setAt({ row: item.index, column });
                          setEnd({ row: item.index, column });
                        }
                      }}
                      onMouseEnter={(e) =>
                        e.buttons === 1 && typing === null && setEnd({ row: item.index, column })
                      }
                      onDoubleClick={() => setTyping(row?.cells?.[column] ?? '')}
                      className={`cursor-cell truncate border-r border-rule-soft px-2 leading-[29px] select-none ${inside ? 'bg-river-soft' : ''} ${here ? 'outline-2 -outline-offset-2 outline-river' : ''}`}
                    >
                      {here && typing !== null && row ? (
                        <GridField
                          label={`${c.name} of ${row.sku}`}
                          listing={row.id}
                          field={c.id}
                          text={typing}
                          onCommit={commit}
                          onCancel={() => {
                            setTyping(null);
                            box.current?.focus();
                          }}
                        />
                      ) : (
                        row?.cells?.[column]
                      )}
                    </span>
                  );
                })}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

/** Milliseconds of rest after which what is typed is checked. */
const REST = 120;

function GridField({
  label,
  listing,
  field,
  text: begun,
  onCommit,
  onCancel,
}: {
  label: string;
  listing: string;
  field: FieldId;
  text: string;
  onCommit: (text: string, down: number, right: number) => void;
  onCancel: () => void;
}) {
  const [text, setText] = useState(begun);
  const problem =
    useAnswer(() => theShop().checkCell({ listing, field, text }), [listing, field, text], REST) ?? null;
  const id = useId();
  const over = useRef(false);
  const end = (act: () => void) => {
    over.current = true;
    act();
  };
  return (
    <>
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus
        aria-label={label}
        aria-invalid={problem !== null}
        aria-describedby={problem ? id : undefined}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => !over.current && end(() => onCommit(text, 0, 0))}
        onKeyDown={(e) => {
          if (e.key === 'Enter') end(() => onCommit(text, e.shiftKey ? -1 : 1, 0));
          else if (e.key === 'Tab') end(() => onCommit(text, 0, e.shiftKey ? -1 : 1));
          else if (e.key === 'Escape') end(onCancel);
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
        className={`-mx-1 w-[calc(100%+8px)] rounded-sm border bg-surface px-1 leading-6 ${problem ? 'border-loss' : 'border-river'}`}
      />
      {problem && (
        <span
          id={id}
          role="alert"
          className="absolute top-full z-30 max-w-80 border border-loss bg-loss-soft px-2 py-0.5 text-xs whitespace-normal"
        >
          {problem}
        </span>
      )}
    </>
  );
}
