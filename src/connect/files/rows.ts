import { plainText } from '../../core/copy';
import { asWritten } from '../../core/lists';
import { minorOf } from '../amounts';
import { tableOfText, widthProblem } from './table';

/** What a file gave: its good rows, and those that could not be read with where and why. The good ones go on. */
export interface ReadRows<T> {
  readonly rows: readonly T[];
  readonly refused: readonly { readonly line: number; readonly reason: string }[];
}

export type FileRead<T> =
  | { readonly ok: true; readonly value: ReadRows<T> }
  | { readonly ok: false; readonly reason: string };

/** The cells of one row by the name of their column in lower case; '' where there is none. */
export type Cell = (name: string) => string;

/** What is said of the row in which a file breaks off. */
export const BROKEN = 'A quotation mark is not closed: the file breaks off here.';

const MOST_BYTES = 5_000_000;
const LONGEST = 400;
const AMOUNT = /^\d{1,8}(\.\d{1,4})?$/;

/**
 * Reads a file of rows: comma, semicolon or tab separated, a header row whose names may be in any case. Rows whose number
 * of cells is not the header's are refused: their values may stand in wrong columns.
 * @param needed columns without which nothing can be read
 * @param rowOf throws a RangeError with the reason where a cell cannot be read
 */
export function readRows<T>(
  text: string,
  needed: readonly string[],
  rowOf: (cell: Cell, line: number) => T,
): FileRead<T> {
  if (text.length > MOST_BYTES) return { ok: false, reason: 'The file is larger than 5 MB. Split it.' };
  const { rows: all, brokenAt } = tableOfText(text);
  const [first, ...body] = all;
  const fields = (first?.cells ?? []).map((h) => h.trim().toLowerCase());
  const missing = needed.filter((name) => !fields.includes(name));
  if (missing.length)
    return {
      ok: false,
      reason: `The header row lacks ${missing.join(', ')}. It has: ${fields.slice(0, 12).join(', ') || 'nothing'}.`,
    };
  const rows: T[] = [];
  const refused: { line: number; reason: string }[] = [];
  for (const { line, cells } of body) {
    const wrong = line === brokenAt ? BROKEN : widthProblem(cells, fields);
    if (wrong) {
      refused.push({ line, reason: wrong });
      continue;
    }
    // What was neutralised for a spreadsheet comes back as it was.
    const cell: Cell = (name) => {
      const at = fields.indexOf(name);
      return at < 0 ? '' : plainText(asWritten(cells[at] ?? '')).slice(0, LONGEST);
    };
    try {
      rows.push(rowOf(cell, line));
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      refused.push({ line, reason: error.message });
    }
  }
  return { ok: true, value: { rows, refused } };
}

/** A cell that must not be empty. Throws RangeError. */
export function needed(cell: Cell, name: string): string {
  const value = cell(name);
  if (!value) throw new RangeError(`${name}: is missing`);
  return value;
}

/** An amount as minor units; null where the cell is empty. Throws RangeError. */
export function amountIn(cell: Cell, name: string, currency: string): number | null {
  const value = cell(name);
  if (!value) return null;
  if (!AMOUNT.test(value)) throw new RangeError(`${name}: “${value}” is not an amount such as 12.50`);
  return minorOf(value, currency);
}

/** A number of units, from 1. Throws RangeError. */
export function unitsIn(cell: Cell, name: string): number {
  const value = cell(name);
  if (!/^[1-9]\d{0,5}$/.test(value)) throw new RangeError(`${name}: “${value}” is not a number of units`);
  return Number(value);
}
