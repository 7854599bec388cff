export { ACCOUNTS, type Booking, bookingsOf, type LedgerAccount } from './bookings';
export { booksYears, ORDER_YEARS } from './books';
export { boughtParts, type ExpectedCost, type ExpectedOrder, expectedEntries, feeEntry } from './expected';
export { costDays, costIn, type FixedCost } from './fixed-costs';
export {
  type Account,
  accountOf,
  addAccounts,
  type DayTotal,
  differences,
  type Entry,
  type EntryKind,
  inBooks,
  isReturnEntry,
  NOTHING,
  RETURN_ENTRIES,
  type ReturnEntry,
  rateFor,
} from './ledger';
export { PERIODS, type Period, periodOf, rangeBeside } from './periods';
export { shareAccount } from './share';
