import Papa from 'papaparse';

/** A cell of a file that is written: a number stays one. */
export type WrittenCell = string | number | null;

const NUMBER = /^[+-]?\d+(?:[.,]\d+)*$/;

/** Signs that spreadsheets begin a formula by, in full width too. */
const FORMULA = '[=+\\-@\\t\\r\\n\\uFF1D\\uFF0B\\uFF0D\\uFF20]';
const BEGINS = new RegExp(`^'*${FORMULA}`);
const WRAPPED = new RegExp(`^'+${FORMULA}`);
/** Where a text would begin a cell of its own in a program that parts cells by semicolons. */
const PART_BEGINS = /;('*)(?=\s*[=+\-@])/g;
const PART_WRAPPED = /;'('*)(?=\s*[=+\-@])/g;

/**
 * A text as it is written into a cell, so that no spreadsheet works it out: an apostrophe stands before what begins like a
 * formula, also behind a semicolon. {@link unwrapWritten} gives back exactly what it was. Numbers stay as they are.
 * @example wrapCell('=1+1\n') → `'=1+1\n`; wrapCell('-5.00') → `-5.00`
 */
export function wrapCell(text: string): string {
  if (NUMBER.test(text)) return text;
  return (BEGINS.test(text) ? `'${text}` : text).replace(PART_BEGINS, ";'$1");
}

/** What {@link wrapCell} was given. */
export const unwrapWritten = (text: string): string =>
  (WRAPPED.test(text) ? text.slice(1) : text).replace(PART_WRAPPED, ';$1');

/** A cell of a file as it was before a spreadsheet or Sampan wrapped it: `="0012"` is 0012. */
export function asWritten(text: string): string {
  const t = text.trim();
  return t.startsWith('="') && t.endsWith('"') && t.length > 2 ? t.slice(2, -1) : unwrapWritten(t);
}

/**
 * Rows as delimited text (RFC 4180), which no spreadsheet works out.
 * @param delimiter between cells; a comma where none is named
 */
export const writeDelimited = (rows: readonly (readonly WrittenCell[])[], delimiter = ','): string =>
  `${Papa.unparse(
    rows.map((row) => row.map((cell) => (typeof cell === 'string' ? wrapCell(cell) : cell))),
    { delimiter, newline: '\r\n' },
  )}\r\n`;

/** Names of columns of which no two are the same: the second of a name has a number. */
export function uniqueNames(names: readonly string[]): string[] {
  const seen = new Map<string, number>();
  return names.map((name) => {
    const key = name.trim().toLowerCase();
    const n = (seen.get(key) ?? 0) + 1;
    seen.set(key, n);
    return n === 1 ? name : `${name} (${n})`;
  });
}
