export { type ExpectedCost, type ExpectedOrder, expectedEntries } from './expected';
export {
  type Account,
  accountOf,
  addAccounts,
  type DayTotal,
  daysOf,
  differences,
  type Entry,
  type EntryKind,
  inBooks,
  NOTHING,
  rateFor,
  totalsByDay,
} from './ledger';
