'use client';
import Papa from 'papaparse';
import { type ClipboardEvent, useId, useRef, useState } from 'react';
import { Button } from './button';

export interface RowsColumn {
  readonly name: string;
  readonly example: string;
  /** The choices, keyed by the value that is stored; the cell is free text where this is missing. */
  readonly choices?: readonly (readonly [value: string, words: string])[];
  readonly right?: boolean;
}

export type Rows = readonly (readonly string[])[];

const isEmpty = (row: readonly string[]) => row.every((cell) => !cell.trim());

/** The rows that say something. */
export const filledRows = (rows: Rows): Rows => rows.filter((row) => !isEmpty(row));

/**
 * Settings that are a table: rows are added, removed, and pasted as a spreadsheet has them; each step can be undone before it
 * is saved. The last row is always empty, to go on in.
 */
export function RowsTable({
  label,
  columns,
  rows,
  wrong,
  widens = false,
  onChange,
}: {
  label: string;
  columns: readonly RowsColumn[];
  rows: Rows;
  /** What is wrong with them; null for nothing. */
  wrong: string | null;
  /** What is pasted may have more columns than there are; else those are left out. */
  widens?: boolean;
  onChange: (rows: Rows) => void;
}) {
  const id = useId();
  const before = useRef<Rows[]>([]);
  const [steps, setSteps] = useState(0);
  const shown = [...rows.filter((row, k) => k < rows.length - 1 || !isEmpty(row)), columns.map(() => '')];
  const put = (next: Rows) => {
    before.current.push(rows);
    setSteps(before.current.length);
    onChange(next);
  };
  const set = (at: number, column: number, text: string) =>
    put(shown.map((row, k) => (k === at ? row.map((cell, c) => (c === column ? text : cell)) : row)));
  const onPaste = (event: ClipboardEvent, at: number, column: number) => {
    const text = event.clipboardData.getData('text/plain').replace(/\r\n?/g, '\n').replace(/\n$/, '');
    if (!/[\t\n]/.test(text)) return;
    event.preventDefault();
    const block = Papa.parse<string[]>(text, { delimiter: '\t' }).data;
    const next = shown.map((row) => [...row]);
    for (const [r, cells] of block.entries()) {
      const row = next[at + r] ?? columns.map(() => '');
      next[at + r] = row;
      for (const [c, cell] of cells.entries())
        if (widens || column + c < columns.length) row[column + c] = cell.trim();
    }
    put(next);
  };
  return (
    <fieldset className="text-xs text-muted">
      <legend className="flex w-full items-center gap-2">
        <span className="grow">{label}</span>
        {steps > 0 && (
          <Button
            kind="text"
            className="py-0"
            onClick={() => {
              const last = before.current.pop();
              setSteps(before.current.length);
              if (last) onChange(last);
            }}
          >
            Undo
          </Button>
        )}
      </legend>
      <table
        className="w-full border-collapse"
        aria-label={label}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
      >
        <thead>
          <tr>
            {columns.map((c, k) => (
              <th
                key={`${k} ${c.name}`}
                scope="col"
                className={`font-normal ${c.right ? 'text-right' : 'text-left'}`}
              >
                {c.name}
              </th>
            ))}
            <td />
          </tr>
        </thead>
        <tbody>
          {shown.map((row, at) => (
            <tr key={at}>
              {columns.map((column, c) => {
                const props = {
                  'aria-label': `${column.name}, row ${at + 1} of ${label}`,
                  value: row[c] ?? '',
                  onChange: (e: { target: { value: string } }) => set(at, c, e.target.value),
                  className: `w-full border border-edge bg-surface px-1.5 py-0.5 text-sm text-ink ${column.right ? 'text-right' : ''}`,
                };
                return (
                  <td key={`${c} ${column.name}`} className="p-0">
                    {column.choices ? (
                      <select {...props}>
                        <option value="" />
                        {column.choices.map(([value, words]) => (
                          <option key={value} value={value}>
                            {words}
                          </option>
                        ))}
                      </select>
                    ) : (
                      <input
                        {...props}
                        placeholder={at === shown.length - 1 ? column.example : ''}
                        autoComplete="off"
                        onPaste={(e) => onPaste(e, at, c)}
                      />
                    )}
                  </td>
                );
              })}
              <td className="w-6 p-0 text-center">
                {at < shown.length - 1 && (
                  <button
                    type="button"
                    aria-label={`Remove row ${at + 1} of ${label}`}
                    className="px-1 text-muted hover:text-ink"
                    onClick={() => put(shown.filter((_, k) => k !== at))}
                  >
                    ×
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {wrong && (
        <p id={`${id}-wrong`} role="alert" className="text-loss">
          {wrong}
        </p>
      )}
    </fieldset>
  );
}
