'use client';
import Papa from 'papaparse';
import { useCallback, useEffect, useRef, useState } from 'react';
import { unwrapWritten, writeDelimited } from '../../core/lists';
import { countOf, formatCount } from '../../core/units';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { Cell, RefusedCell } from '../../work/editing/cells';
import type { ListingField } from '../../work/quoting/listing-cells';
import { ask, say } from '../said';
import type { Block } from './block';

/** Rows that may be pasted at once. */
const MOST_ROWS = 20_000;

/** Ids of rows between two places, fetched or not. */
export type IdsBetween = (from: number, to: number) => Promise<string[]>;

/** The acts on cells. Each is one change that can be undone, and reports the cells it did not take. */
export interface CellEdits {
  readonly busy: boolean;
  readonly refused: readonly RefusedCell[];
  readonly forgetRefused: () => void;
  readonly apply: (cells: readonly Cell[], name: string) => Promise<void>;
  /** @returns the block that was written; null where nothing was */
  readonly paste: (text: string, block: Block) => Promise<Block | null>;
  /** Writes the first row of a block into the others. */
  readonly fillDown: (block: Block) => Promise<void>;
  /** Lets the cells of a block go back to where their values came from. */
  readonly clear: (block: Block) => Promise<void>;
  /** A block as spreadsheets have it on the clipboard. */
  readonly textOf: (block: Block) => Promise<string>;
}

/**
 * @param count rows of the grid
 * @param onDone hears that cells were applied
 * @param onAnswered hears that what was asked before was answered
 */
export function useCellEdits(
  columns: readonly ListingField[],
  count: number,
  idsBetween: IdsBetween,
  onDone: () => void,
  onAnswered: () => void,
): CellEdits {
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<readonly RefusedCell[]>([]);
  const forgetRefused = useCallback(() => setRefused([]), []);
  const fieldsOf = (b: Block) => columns.slice(b.left, b.right + 1);

  const applyRef = useRef<(cells: readonly Cell[], name: string, sure: boolean) => Promise<void>>(
    async () => {},
  );
  const apply = useCallback(
    async (cells: readonly Cell[], name: string, sure = false): Promise<void> => {
      if (!cells.length) return;
      const elsewhere = sure ? null : await theShop().liveElsewhere(cells);
      if (elsewhere && elsewhere.listings > 0)
        return ask(
          `${countOf(elsewhere.listings, 'listing')} on sale on ${elsewhere.markets.join(' and ')} would change too: ${elsewhere.fields.join(', ')} ${elsewhere.fields.length === 1 ? 'is' : 'are'} the same on all marketplaces.`,
          'Change it everywhere',
          () => {
            // One goes on typing at once.
            onAnswered();
            void applyRef.current(cells, name, true);
          },
        );
      setBusy(true);
      try {
        const done = await theShop().applyCells(cells, name);
        setRefused(done.refusedCells);
        const sent = done.sent ? `; ${countOf(done.sent, 'listing')} on the way to the marketplaces` : '';
        const not = done.refused ? `; ${countOf(done.refused, 'cell')} not taken` : '';
        if (cells.length > 1 || done.sent)
          await say(`${countOf(done.changed, 'cell')} changed${sent}${not}.`, { undo: done.change !== null });
      } catch (error) {
        await say(failureInWords(error), { wrong: true });
      }
      setBusy(false);
      onDone();
    },
    [onDone, onAnswered],
  );
  useEffect(() => {
    applyRef.current = apply;
  });

  const paste = async (text: string, block: Block): Promise<Block | null> => {
    const data = copiedCells(text);
    const rows = data.length;
    const width = Math.max(0, ...data.map((r) => r.length));
    if (!rows || !width) return null;
    const problem =
      rows > MOST_ROWS
        ? `What was copied has ${formatCount(rows)} rows; up to ${formatCount(MOST_ROWS)} are pasted at once.`
        : block.left + width > columns.length
          ? `What was copied has ${countOf(width, 'column')}; from ${columns[block.left]!.name} on there are ${columns.length - block.left}. Nothing was pasted.`
          : null;
    if (problem) {
      await say(problem, { wrong: true });
      return null;
    }
    // One value fills all that is chosen; a block goes in as it is.
    const single = rows === 1 && width === 1;
    const into: Block = single
      ? block
      : {
          ...block,
          bottom: Math.min(count - 1, block.top + rows - 1),
          right: block.left + width - 1,
        };
    const ids = await idsBetween(into.top, into.bottom);
    const cells = ids.flatMap((listing, r) =>
      fieldsOf(into).map((field, c) => ({
        listing,
        field: field.id,
        text: (single ? data[0]![0] : data[r]?.[c]) ?? '',
      })),
    );
    await apply(cells, `Paste ${countOf(cells.length, 'cell')}`);
    if (!single && rows > ids.length)
      await say(`The last ${countOf(rows - ids.length, 'row')} had no listing to go to.`, { wrong: true });
    return into;
  };

  const fillDown = async (block: Block) => {
    const [source, ...others] = await idsBetween(block.top, block.bottom);
    if (!source) return;
    const fields = fieldsOf(block).map((f) => f.id);
    const [texts] = await theShop().cells([source], fields);
    const cells = others.flatMap((listing) =>
      fields.map((field, c) => ({ listing, field, text: texts?.[c] ?? '' })),
    );
    await apply(cells, `Fill down ${countOf(cells.length, 'cell')}`);
  };

  const clear = async (block: Block) => {
    const ids = await idsBetween(block.top, block.bottom);
    const cells = ids.flatMap((listing) =>
      fieldsOf(block).map((field) => ({ listing, field: field.id, text: '' })),
    );
    await apply(cells, `Clear ${countOf(cells.length, 'cell')}`);
  };

  const textOf = async (block: Block): Promise<string> => {
    const ids = await idsBetween(block.top, block.bottom);
    const rows = await theShop().cells(
      ids,
      fieldsOf(block).map((f) => f.id),
    );
    return writeDelimited(
      rows.map((r) => [...(r ?? [])]),
      '\t',
    ).replace(/\r\n$/, '');
  };
  return { busy, refused, forgetRefused, apply, paste, fillDown, clear, textOf };
}

/** Cells as a spreadsheet puts them on the clipboard: tabs between them, any line ends, one at the very end. */
const copiedCells = (text: string): string[][] =>
  Papa.parse<string[]>(text.replace(/\r\n?/g, '\n').replace(/\n$/, ''), { delimiter: '\t' }).data.map((row) =>
    row.map(unwrapWritten),
  );
