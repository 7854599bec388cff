export {
  type Account,
  type AccountLine,
  actualAccount,
  addAccounts,
  type Charged,
  type DayTotal,
  expectedAccount,
  NOTHING,
  totalsByDay,
} from './ledger';
