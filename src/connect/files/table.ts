import Papa from 'papaparse';

/** A row of a file with the line that it begins at, counted from 1. */
export interface TableRow {
  readonly line: number;
  readonly cells: readonly string[];
}

/** A file as rows of cells, the header row first. */
export interface Table {
  readonly rows: readonly TableRow[];
  /** The line in which the file breaks off in the middle of a cell; null where it ends as it should. */
  readonly brokenAt: number | null;
}

/** Characters by which it is told what parts the cells. */
const GUESSED = 50_000;

const LINE_END = /\r\n|\r|\n/g;

/** Parses delimited text: comma, semicolon or tab, cells of several lines, blank rows left out. */
export function tableOfText(text: string): Table {
  const rows: TableRow[] = [];
  let brokenAt: number | null = null;
  let line = 1;
  let seen = 0;
  const sample = text.replace(/^\uFEFF/, '');
  // Blank rows are no sign of what parts the cells, but count as lines.
  const { delimiter } = Papa.parse(sample.slice(0, GUESSED), { preview: 50, skipEmptyLines: 'greedy' }).meta;
  Papa.parse<string[]>(sample, {
    delimiter,
    step: ({ data, meta, errors }) => {
      const taken = sample.slice(seen, meta.cursor);
      if (errors.some((e) => e.code === 'MissingQuotes')) brokenAt = line;
      if (data.some((cell) => cell.trim())) rows.push({ line, cells: data });
      seen = meta.cursor;
      line += taken.match(LINE_END)?.length ?? 0;
    },
  });
  return { rows, brokenAt };
}

/** Why a row cannot be read by its header; null where it has as many cells. */
export const widthProblem = (cells: readonly string[], header: readonly string[]): string | null =>
  cells.length === header.length
    ? null
    : cells.length > header.length
      ? `It has ${cells.length} cells, the header row has ${header.length}: a separator may stand in a text without quotation marks.`
      : `It has ${cells.length} of ${header.length} cells: it is cut off, or a cell is missing.`;
