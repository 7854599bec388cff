import type { KeyboardEvent } from 'react';

/** The acts that keys trigger in a table; an act that is missing is not available there. */
export interface TableActs {
  /** Moves the cursor by so many rows. */
  readonly go: (by: number, extend: boolean) => unknown;
  readonly copy: () => unknown;
  readonly mark?: () => unknown;
  /** Selects what is in view, then all. */
  readonly markMany?: () => unknown;
  readonly edit?: () => unknown;
  readonly open: () => unknown;
  readonly close?: () => unknown;
}

const ENDS = Number.MAX_SAFE_INTEGER / 2;

/** Rows that a key goes. */
function stepOf(key: string, page: number): number | null {
  switch (key) {
    case 'ArrowDown':
    case 'j':
    case 'J':
      return 1;
    case 'ArrowUp':
    case 'k':
    case 'K':
      return -1;
    case 'PageDown':
      return page;
    case 'PageUp':
      return -page;
    case 'Home':
      return -ENDS;
    case 'End':
      return ENDS;
    default:
      return null;
  }
}

/**
 * Keys of a table.
 * @param page rows that a page down goes
 * @returns whether it was one
 */
export function tableKey(event: KeyboardEvent, page: number, acts: TableActs): boolean {
  const { key } = event;
  if (event.ctrlKey || event.metaKey) {
    if (key === 'a' && acts.markMany) {
      acts.markMany();
      return true;
    }
    if (key !== 'c' || window.getSelection()?.toString()) return false;
    acts.copy();
    return true;
  }
  if (event.altKey) return false;
  const step = stepOf(key, page);
  const act =
    step !== null
      ? () => acts.go(step, event.shiftKey)
      : { ' ': acts.mark, F2: acts.edit, Enter: acts.open, Escape: acts.close }[key];
  act?.();
  return act !== undefined;
}
