export { type CashDay, cashByDay, type Flow, payoutDays } from './cash';
export {
  DAY_ORDERS,
  type DayOrder,
  formProblems,
  guessDays,
  guessForm,
  meaningOf,
  STATEMENT_PARTS,
  type StatementColumn,
  type StatementForm,
  type WordMeaning,
} from './form';
export {
  amountsOf,
  coversOf,
  type KindSum,
  newAmong,
  type ReadStatement,
  type StatementLine,
  sumsByKind,
  type WrongTotal,
  wrongTotals,
} from './lines';
export { readSigned, readStatementDay, readStatementRows, type StatementRead } from './read';
export {
  APART_KINDS,
  correctionOf,
  type Difference,
  differencesOf,
  groupOfEntry,
  isStatedKind,
  type Kept,
  type LineKind,
  type Side,
  STATED_KINDS,
  type Stated,
  type StatedAmount,
  type StatedGroup,
  type StatedKind,
  slotOf,
  takenOff,
  undecided,
} from './stated';
