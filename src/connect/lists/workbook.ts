import { formatCount } from '../../core/units';
import { openArchive, type Packed } from './archive';
import { DEEPEST, MOST_CELLS, MOST_COLUMNS, MOST_ROWS, type Opened, refuse } from './source';

export type Sheets = { name: string; data: unknown[][] }[];

/** How far a sheet reaches, and how deep its elements lie in each other. */
interface Extent {
  readonly rows: number;
  readonly columns: number;
  readonly depth: number;
}

const LESS = 60;
const MORE = 62;
const SLASH = 47;

/** The attribute `r` of a tag (`r="XFD12"`), or '' where it has none. */
function placeIn(tag: string): string {
  const at = tag.search(/\sr=["']/);
  if (at < 0) return '';
  return /^[A-Z]*\d*/.exec(tag.slice(at + 4, at + 20))![0];
}

const columnOf = (letters: string) => [...letters].reduce((n, c) => n * 26 + c.charCodeAt(0) - 64, 0);

/**
 * Looks over the XML of a workbook's part without making anything of it. Stops at the first limit that is
 * passed.
 */
function extentOf(bytes: Uint8Array): Extent {
  let depth = 0;
  let deepest = 0;
  let rows = 0;
  let columns = 0;
  let column = 0;
  for (let at = bytes.indexOf(LESS); at >= 0; at = bytes.indexOf(LESS, at + 1)) {
    const first = bytes[at + 1]!;
    if (first === SLASH) {
      depth--;
      continue;
    }
    // Comments, declarations and instructions open nothing.
    if (first === 33 || first === 63) continue;
    const end = bytes.indexOf(MORE, at);
    if (end < 0) break;
    if (bytes[end - 1] !== SLASH) deepest = Math.max(deepest, ++depth);
    if (deepest > DEEPEST) break;
    const after = bytes[at + 2]!;
    const row = first === 114 && after === 111 && bytes[at + 3] === 119;
    // `<c r="B2">` and `<row r="2">`; both may leave their place out, and then stand behind the one before.
    if (!row && !(first === 99 && (after === 32 || after === MORE || after === SLASH))) continue;
    const place = placeIn(String.fromCharCode(...bytes.subarray(at, Math.min(end, at + 200))));
    const letters = /^[A-Z]{0,3}/.exec(place)![0];
    const number = Number(place.slice(letters.length)) || 0;
    if (row) {
      rows = Math.max(rows + 1, number);
      column = 0;
    } else {
      column = letters ? columnOf(letters) : column + 1;
      columns = Math.max(columns, column);
      rows = Math.max(rows, number);
    }
    if (rows > MOST_ROWS || columns > MOST_COLUMNS) break;
  }
  return { rows, columns, depth: deepest };
}

/**
 * What keeps a workbook from being read: a part that is damaged, or a cell far out that would make a table of
 * many gigabytes; null where nothing does.
 */
async function problemOf(parts: readonly Packed[]): Promise<string | null> {
  let cells = 0;
  for (const part of parts.filter((p) => /\.(xml|rels)$/i.test(p.name))) {
    const bytes = await part.bytes();
    if (!bytes.ok) return bytes.reason;
    const { rows, columns, depth } = extentOf(bytes.value);
    if (depth > DEEPEST)
      return `The elements of the workbook lie more than ${DEEPEST} deep in each other; up to ${DEEPEST} levels are read.`;
    if (!/worksheets\//.test(part.name)) continue;
    if (columns > MOST_COLUMNS)
      return `A cell of the workbook stands in column ${formatCount(columns)}; up to ${MOST_COLUMNS} columns are read. Clear what stands far to the right, and save it again.`;
    if (rows > MOST_ROWS)
      return `A cell of the workbook stands in row ${formatCount(rows)}; up to ${formatCount(MOST_ROWS)} rows are read. Clear what stands far below, and save it again.`;
    cells += rows * columns;
  }
  return cells > MOST_CELLS
    ? `The workbook reaches over ${formatCount(cells)} cells; up to ${MOST_CELLS / 1_000_000} million are read. Clear what stands far out, or save the list alone as CSV.`
    : null;
}

/** What stands in a cell of numbers: one that is none stays text, so that it is refused alone and not the workbook. */
const numberOrText = (text: string): number | string => {
  const n = Number(text);
  return Number.isFinite(n) ? n : text;
};

/** All sheets of a workbook as tables. */
export async function readSheets(blob: Blob): Promise<Opened<Sheets>> {
  const parts = await openArchive(blob);
  if (!parts.ok) return parts;
  const problem = await problemOf(parts.value);
  if (problem) return refuse(problem);
  try {
    const { default: readXlsx } = await import('read-excel-file/universal');
    const sheets = (await readXlsx(blob, { parseNumber: numberOrText })) as unknown as {
      sheet: string;
      data: unknown[][];
    }[];
    return { ok: true, value: sheets.map((s) => ({ name: s.sheet, data: s.data })) };
  } catch (error) {
    return refuse(
      `The workbook cannot be read: ${String((error as Error).message).slice(0, 120)}. Save it again as .xlsx or CSV.`,
    );
  }
}
