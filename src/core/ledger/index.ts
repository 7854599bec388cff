export {
  type Account,
  type AccountLine,
  actualAccount,
  addAccounts,
  type Charged,
  cancelledAccount,
  type DayTotal,
  expectedAccount,
  NOTHING,
  totalsByDay,
} from './ledger';
