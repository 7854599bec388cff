import type { ReactNode } from 'react';

/** How the value of a cell is changed in its place. */
export interface Edit<R> {
  /** As it stands in the field at first. */
  readonly write: (row: R) => string;
  /** Reads what was typed and saves it. @returns why it cannot be saved, or null */
  readonly save: (row: R, text: string) => Promise<string | null>;
}

/** A column: its name, how much room it takes, its value and what it shows of a row. */
export interface Column<R> {
  readonly id: string;
  readonly header: string;
  /** Pixels it takes at first, and at least where it grows. */
  readonly size: number;
  /** Takes what room is left. */
  readonly grows?: boolean;
  readonly cell: (row: R) => ReactNode;
  /** What it stands for: copied, and read out of the row for whatever looks at values. */
  readonly value?: (row: R) => string | number | null;
  /** How the value is changed in its place. */
  readonly edit?: Edit<R>;
  /** Numbers stand on the right. */
  readonly right?: boolean;
  readonly sort?: boolean;
  /** Not shown until it is asked for. */
  readonly off?: boolean;
  /** Where there is not enough room the highest leave first; 0 never does. */
  readonly rank?: number;
  readonly help?: string;
}

/** Two lines in one cell: what it is, and the small print. */
export function Two({ top, under }: { top: ReactNode; under: ReactNode }) {
  return (
    <span className="block min-w-0">
      <span className="block truncate">{top}</span>
      <span className="block truncate text-xs text-muted">{under}</span>
    </span>
  );
}
