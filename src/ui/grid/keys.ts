import type { KeyboardEvent } from 'react';
import type { Chosen } from './block';

/** What keys can do to a grid. */
export interface GridActs {
  readonly copy: () => void;
  readonly fillDown: () => void;
  readonly chooseAll: () => void;
  readonly clear: () => void;
  /** Edits the chosen cell: what is in it, or what is typed over it. */
  readonly edit: (typed?: string) => void;
}

/** @returns whether it was a key of the grid */
function withControl(key: string, acts: GridActs): boolean {
  if (key === 'c') acts.copy();
  else if (key === 'd') acts.fillDown();
  else if (key === 'a') acts.chooseAll();
  else return false;
  return true;
}

/** Rows and columns that a key goes. */
function stepOf(key: string, page: number): readonly [rows: number, columns: number] | null {
  switch (key) {
    case 'ArrowDown':
    case 'Enter':
      return [1, 0];
    case 'ArrowUp':
      return [-1, 0];
    case 'ArrowRight':
      return [0, 1];
    case 'ArrowLeft':
      return [0, -1];
    case 'PageDown':
      return [page, 0];
    case 'PageUp':
      return [-page, 0];
    default:
      return null;
  }
}

/**
 * Keys as spreadsheets have them.
 * @param page rows that a page down goes
 * @returns whether it was a key of the grid
 */
export function gridKey(
  event: KeyboardEvent,
  { at, end, choose }: Chosen,
  columns: number,
  page: number,
  acts: GridActs,
): boolean {
  const { key, shiftKey } = event;
  if (event.ctrlKey || event.metaKey) return withControl(key, acts);
  if (event.altKey) return false;
  const from = shiftKey ? end : at;
  const step = stepOf(key, page);
  if (step) choose({ row: from.row + step[0], column: from.column + step[1] }, shiftKey && key !== 'Enter');
  else if (key === 'Tab') {
    // At the end of a row the grid is left, so that keys never trap anybody.
    const column = at.column + (shiftKey ? -1 : 1);
    if (column < 0 || column >= columns) return false;
    choose({ row: at.row, column });
  } else if (key === 'Home') choose({ row: from.row, column: 0 }, shiftKey);
  else if (key === 'End') choose({ row: from.row, column: columns - 1 }, shiftKey);
  else if (key === 'F2') acts.edit();
  else if (key === 'Delete' || key === 'Backspace') acts.clear();
  else if (key.length === 1) acts.edit(key);
  else return false;
  return true;
}
