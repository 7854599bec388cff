import { type Part, readPart, TextFinder } from '../../connect/lists';
import { PIECE, SheetLayout } from '../../core/catalogue';
import { type Match, rowReader, whoseRow } from '../../core/lists';
import type { Refused } from '../../store';
import type { ItemsRead, ListHelpers } from '../context/list-helpers';

/** Cells of a refused row that are kept. */
export const keptCells = (cells: readonly string[]): string[] => cells.slice(0, 200);

let last: { key: string; read: ReturnType<typeof rowReader> } | null = null;

/** The reader of a match: parts of one list come one after the other, and it remembers texts that repeat. */
function readerOf(match: Match): ReturnType<typeof rowReader> {
  const key = JSON.stringify(match);
  if (last?.key !== key) last = { key, read: rowReader(match) };
  return last.read;
}

/**
 * Reads the items of a part of a price list and lays them out. Knows nothing of the catalogue, so that it can
 * be done anywhere.
 * @param lines where each record stands in the list; marks: two numbers for each
 */
export function readItems(match: Match, part: Part, lines: Int32Array, marks: Int32Array): ItemsRead {
  const read = readerOf(match);
  const width = match.header.length;
  const sheets: ItemsRead['sheets'][number][] = [];
  const refused: Refused[] = [];
  const spoiled: ItemsRead['spoiled'][number][] = [];
  const most = Math.ceil(lines.length / Math.ceil(lines.length / PIECE));
  let layout = new SheetLayout(most);
  let itemLines: number[] = [];
  const close = () => {
    if (layout.n) sheets.push({ sheet: layout.close(), lines: Int32Array.from(itemLines) });
    layout = new SheetLayout(most);
    itemLines = [];
  };
  const spoil = (
    cells: readonly string[],
    line: number,
    column: string | null,
    value: string,
    reason: string,
  ) => {
    const sku = whoseRow(match, cells);
    if (sku !== '') spoiled.push({ sku, line });
    refused.push({
      line,
      sku: sku ?? '',
      column,
      value,
      reason,
      taken: false,
      asks: false,
      cells: keptCells(cells),
    });
  };
  let k = -1;
  for (const rows of readPart(part))
    for (const cells of rows) {
      const line = lines[++k]!;
      // Also where those too many are empty: a delimiter in a text has moved the others to the right.
      if (cells.length > width) {
        const reason = `the row has ${cells.length} cells, there are ${width} columns: a delimiter or quote stands in a text`;
        spoil(cells, line, null, keptCells(cells).slice(width).join(' ').slice(0, 200), reason);
        continue;
      }
      const row = read(cells);
      if (!row.ok) {
        spoil(cells, line, row.problem.column, row.problem.value, row.problem.reason);
        continue;
      }
      layout.add(row.item, row.detail, marks[k * 2]!, marks[k * 2 + 1]!);
      itemLines.push(line);
      for (const t of row.told)
        refused.push({
          line,
          sku: row.item.sku,
          column: t.column,
          value: t.value,
          reason: t.reason,
          taken: true,
          asks: false,
          cells: null,
        });
      if (layout.n === most) close();
    }
  close();
  return { sheets, refused, spoiled };
}

/** Where there are no helpers. */
export const withoutHelpers: ListHelpers = {
  readItems: async (...of) => readItems(...of),
  findText: (list, from) => {
    const finder = new TextFinder(list);
    let place: string | null = from;
    return {
      async next() {
        const found = place === null ? null : await finder.next(place);
        place = found?.next ?? null;
        return found;
      },
    };
  },
};
