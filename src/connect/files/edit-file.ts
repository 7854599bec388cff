import { asWritten, type Encoding } from '../../core/lists';
import { type Opened, refuse } from '../lists/source';
import { readSheets } from '../lists/workbook';
import { type Table, tableOfText } from './table';
import { readText } from './text';

/** The name of the column in which an export says what stood in each cell, so that what changed here since is seen. */
export const STAMP_COLUMN = 'Sampan';

const LARGEST = 60_000_000;

/** A table out of a file, with how its text was read; no encoding of a workbook. */
export interface ReadTable extends Table {
  readonly encoding: Encoding | null;
  readonly sure: boolean;
}

/**
 * A table out of a CSV file or a workbook, as text. What was wrapped for a spreadsheet is unwrapped; formulas are never
 * worked out.
 */
export async function readTable(file: Blob, name: string, encoding?: Encoding): Promise<Opened<ReadTable>> {
  if (file.size > LARGEST) return refuse(`“${name}” is larger than 60 MB. Split it.`);
  const head = new Uint8Array(await file.slice(0, 4).arrayBuffer());
  const zipped = head[0] === 0x50 && head[1] === 0x4b;
  if (zipped) {
    const sheets = await readSheets(file);
    if (!sheets.ok) return sheets;
    const [first] = sheets.value;
    if (!first) return refuse(`“${name}” has no sheet.`);
    const width = Math.max(0, ...first.data.slice(0, 1).map((row) => row.length));
    const rows = first.data.map((row, k) => ({
      line: k + 1,
      // A workbook has all cells of a row, those without a value too.
      cells: Array.from({ length: Math.max(width, row.length) }, (_, c) => plain(row[c])),
    }));
    const filled = rows.filter(({ cells }) => cells.some((cell) => cell.trim()));
    return { ok: true, value: { rows: filled, brokenAt: null, encoding: null, sure: true } };
  }
  const read = await readText(file, name, encoding);
  if (!read.ok) return read;
  const { rows, brokenAt } = tableOfText(read.value.text);
  return {
    ok: true,
    value: {
      rows: rows.map(({ line, cells }) => ({ line, cells: cells.map(asWritten) })),
      brokenAt,
      encoding: read.value.encoding,
      sure: read.value.sure,
    },
  };
}

/** A cell of a workbook as the text that stands in it. */
function plain(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return cell.toISOString().slice(0, 10);
  return asWritten(String(cell));
}
