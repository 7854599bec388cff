export {
  type Account,
  type AccountLine,
  actualAccount,
  addAccounts,
  type Charged,
  cancelledAccount,
  type DayTotal,
  daysOf,
  expectedAccount,
  NOTHING,
  totalsByDay,
} from './ledger';
