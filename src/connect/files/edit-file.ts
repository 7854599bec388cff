import Papa from 'papaparse';
import { unwrapCell } from '../../core/lists';
import { type Opened, refuse } from '../lists/source';
import { readSheets } from '../lists/workbook';

/** The name of the column in which an export says what stood in each cell, so that what changed here since is seen. */
export const STAMP_COLUMN = 'Sampan';

const LARGEST = 60_000_000;

/** A table as CSV (RFC 4180), UTF-8; cells that a spreadsheet would take for a formula are neutralised. */
export const writeCsv = (rows: readonly (readonly string[])[]): string =>
  `${Papa.unparse(rows as string[][], { escapeFormulae: true, newline: '\r\n' })}\r\n`;

/** A table as a workbook with one sheet, each cell as text, so that nothing is turned into a number or a date. */
export async function writeWorkbook(rows: readonly (readonly string[])[]): Promise<Blob> {
  const { default: writeXlsx } = await import('write-excel-file/universal');
  const data = rows.map((row, at) =>
    row.map((value) => ({ value, type: String, ...(at === 0 && { fontWeight: 'bold' as const }) })),
  );
  return writeXlsx(data, { stickyRowsCount: 1 }).toBlob();
}

/** Text of a file in UTF-8, UTF-16 with a mark, or as spreadsheets in the west save it. */
function textOf(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

/** A table out of a CSV file or a workbook, as text. What a spreadsheet wrapped is unwrapped; formulas are never worked out. */
export async function readTable(file: Blob, name: string): Promise<Opened<string[][]>> {
  if (file.size > LARGEST) return refuse(`“${name}” is larger than 60 MB. Split it.`);
  const head = new Uint8Array(await file.slice(0, 4).arrayBuffer());
  const zipped = head[0] === 0x50 && head[1] === 0x4b;
  if (zipped) {
    const sheets = await readSheets(file);
    if (!sheets.ok) return sheets;
    const [first] = sheets.value;
    if (!first) return refuse(`“${name}” has no sheet.`);
    return { ok: true, value: first.data.map((row) => row.map(plain)) };
  }
  const text = textOf(new Uint8Array(await file.arrayBuffer()));
  if (text.includes('\0')) return refuse(`“${name}” is neither CSV nor a workbook (.xlsx).`);
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' });
  return { ok: true, value: data.map((row) => row.map(unwrapCell)) };
}

/** A cell of a workbook as the text that stands in it. */
function plain(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return cell.toISOString().slice(0, 10);
  return unwrapCell(String(cell));
}
