'use client';
import { useVirtualizer } from '@tanstack/react-virtual';
import {
  type ClipboardEvent,
  type KeyboardEvent,
  useCallback,
  useEffect,
  useId,
  useRef,
  useState,
} from 'react';
import { formatCount } from '../../core/units';
import type { ListingLine } from '../../work/memory/listing-list';
import { type FieldId, isShared, type ListingField } from '../../work/quoting/listing-cells';
import { type Place, sizeOfBlock, useChosen } from './block';
import { type IdsBetween, useCellEdits } from './cell-edits';
import { GridField } from './grid-field';
import { GridRow, ROW } from './grid-row';
import { gridKey } from './keys';
import { RefusedCells } from './refused-cells';

const WIDTHS: Partial<Record<FieldId, number>> = { title: 340, tags: 220, category: 170, barcode: 150 };
const NAME = 210;

interface Props {
  readonly label: string;
  readonly columns: readonly ListingField[];
  readonly count: number;
  readonly rowAt: (i: number) => ListingLine | undefined;
  readonly onRange: (from: number, to: number) => void;
  readonly idsBetween: IdsBetween;
  readonly sort: { readonly by: string; readonly descending: boolean };
  readonly onSort: (by: string) => void;
}

/** Columns that the grid is sorted by; the first stands for the rows themselves. */
const SORTED: Partial<Record<FieldId, string>> = { title: 'title' };

/**
 * Listings as a spreadsheet: type to replace, F2 or a double click to edit, Delete to go back to where a value came from;
 * blocks are copied and pasted as spreadsheets have them, Ctrl D fills down. Each step is one change that can be undone.
 */
export function ListingGrid({ label, columns, count, rowAt, onRange, idsBetween, sort, onSort }: Props) {
  const sorter = (by: string, words: string) => (
    <button type="button" className="hover:underline" onClick={() => onSort(by)}>
      {words}
      {sort.by === by && <span aria-hidden> {sort.descending ? '↓' : '↑'}</span>}
    </button>
  );
  const sorted = (by: string) =>
    sort.by === by ? (sort.descending ? 'descending' : 'ascending') : undefined;
  const tracks = `${NAME}px ${columns.map((c) => `${WIDTHS[c.id] ?? 120}px`).join(' ')}`;
  const box = useRef<HTMLDivElement>(null);
  const id = useId();
  const [typing, setTyping] = useState<string | null>(null);
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

  const show = useCallback(
    ({ row, column }: Place) => {
      virtual.scrollToIndex(row);
      const cell = document.getElementById(`${id}-${row}-${column}`);
      cell?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    },
    [id, virtual],
  );
  const focus = useCallback(() => box.current?.focus(), []);
  /** Where nothing else has the focus meanwhile: what one types goes on. */
  const focusBack = useCallback(() => {
    if (!document.activeElement || document.activeElement === document.body) focus();
  }, [focus]);
  const chosen = useChosen(count, columns.length, show);
  const { at, end, block, choose, chooseBlock } = chosen;
  const edits = useCellEdits(columns, count, idsBetween, focusBack, focus);

  const commit = (text: string, down: number, right: number) => {
    const row = rowAt(at.row);
    const field = columns[at.column]!;
    setTyping(null);
    if (row && text !== row.cells?.[at.column])
      edits.apply([{ listing: row.id, field: field.id, text }], `${field.name} of ${row.sku}`);
    choose({ row: at.row + down, column: at.column + right });
    focus();
  };
  const edit = (typed?: string) => setTyping(typed ?? rowAt(at.row)?.cells?.[at.column] ?? '');
  const onPaste = async (event: ClipboardEvent) => {
    if (typing !== null) return;
    event.preventDefault();
    const into = await edits.paste(event.clipboardData.getData('text/plain'), block);
    if (into) chooseBlock({ row: into.top, column: into.left }, { row: into.bottom, column: into.right });
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || !count) return;
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 400) / ROW) - 2);
    const used = gridKey(event, chosen, columns.length, page, {
      copy: () => edits.textOf(block).then((text) => navigator.clipboard.writeText(text)),
      fillDown: () => edits.fillDown(block),
      chooseAll: () => chooseBlock({ row: 0, column: 0 }, { row: count - 1, column: columns.length - 1 }),
      clear: () => edits.clear(block),
      edit,
    });
    if (!used) return;
    event.preventDefault();
    event.stopPropagation();
  };
  const pick = useCallback(
    (to: Place, extend: boolean) => {
      // A text that is selected with the mouse extends no block.
      if (typing === null || !extend) choose(to, extend);
    },
    [typing, choose],
  );
  const editRef = useRef(edit);
  useEffect(() => {
    editRef.current = edit;
  });
  const onEdit = useCallback(() => editRef.current(), []);

  const cells = sizeOfBlock(block);
  return (
    <div className="flex min-h-0 min-w-0 grow flex-col">
      <p className="flex items-center gap-3 border-t border-rule px-4 py-1 text-[12.5px] text-muted">
        <span role="status" className="grow">
          {edits.busy
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
      <RefusedCells
        refused={edits.refused}
        columns={columns}
        onAgree={() =>
          edits.apply(
            edits.refused.flatMap((cell) => (cell.asks ? [{ ...cell, agreed: true }] : [])),
            'Own prices that were asked about',
          )
        }
        onClose={edits.forgetRefused}
      />
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
          <span
            role="columnheader"
            aria-sort={sorted('sku')}
            className="sticky left-0 z-10 border-r border-rule bg-raised px-2 py-1.5"
          >
            {sorter('sku', 'Listing')}
          </span>
          {columns.map((c) => {
            const by = SORTED[c.id];
            return (
              <span
                key={c.id}
                role="columnheader"
                aria-sort={by ? sorted(by) : undefined}
                title={isShared(c) ? `${c.name} is the same on all marketplaces` : undefined}
                className="truncate border-r border-rule-soft px-2 py-1.5"
              >
                {by ? sorter(by, c.name) : c.name}
                {isShared(c) && <span className="ml-1 font-normal">on all</span>}
              </span>
            );
          })}
        </div>
        <div role="rowgroup" className="relative w-max min-w-full" style={{ height: virtual.getTotalSize() }}>
          {items.map(({ index, start }) => {
            const row = rowAt(index);
            const within = index >= block.top && index <= block.bottom;
            const here = index === at.row;
            return (
              <GridRow
                key={index}
                {...{ id, index, start, tracks, columns, row, onEdit }}
                left={within ? block.left : -1}
                right={within ? block.right : -1}
                here={here ? at.column : -1}
                field={
                  here &&
                  row &&
                  typing !== null && (
                    <GridField
                      label={`${columns[at.column]!.name} of ${row.sku}`}
                      listing={row.id}
                      field={columns[at.column]!.id}
                      text={typing}
                      onCommit={commit}
                      onCancel={() => {
                        setTyping(null);
                        focus();
                      }}
                    />
                  )
                }
                onPick={pick}
              />
            );
          })}
        </div>
      </div>
    </div>
  );
}
