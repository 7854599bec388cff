import { work } from '../../browser/browser';
import { undo } from '../../listings/undo';
import { countChanges, editsOf, lastRedoable, lastUndoable } from '../../memory/history';
import { bound } from '../bound';
import { stored } from '../feed';

/** Questions about the history, and undo. */
export const historyDesk = {
  editsOf: (subjects: readonly string[]) => editsOf(work, subjects),
  undo: bound(undo),
  /** The change that undo takes back next in this tab. */
  lastUndoable: () => lastUndoable(work.db, work.tab),
  /** The undo that redo takes back next in this tab. */
  lastRedoable: () => lastRedoable(work.db, work.tab),
};

export const historyFeeds = {
  countChanges: stored(countChanges),
  undoNext: stored(async (w) => (await lastUndoable(w.db, work.tab)) ?? null),
};
