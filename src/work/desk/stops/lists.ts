import { work } from '../../browser/browser';
import {
  confirmGone,
  dropFiles,
  fetchToMatch,
  giveUp,
  keepMissing,
  startReading,
} from '../../readings/dropped-lists';
import { doubtAbout, matchedSuppliers, readDays, readingsOf } from '../../readings/list-standing';
import { bound } from '../bound';
import { stored } from '../feed';

/** Questions and acts of Price lists. */
export const listsDesk = {
  /** Lets a file go that was looked at and is not read. */
  leaveFile: (id: string) => dropFiles(work.db, [{ id }]),
  fetchToMatch: bound(fetchToMatch),
  startReading: bound(startReading),
  confirmGone: bound(confirmGone),
  keepMissing: bound(keepMissing),
  giveUp: bound(giveUp),
};

export const listsFeeds = {
  matchedSuppliers: stored(matchedSuppliers),
  doubt: stored(async (w, supplier: string) => (await doubtAbout(w, supplier)) ?? null),
  readings: stored(readingsOf),
  readDays: stored(readDays),
};
