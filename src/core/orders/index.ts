export {
  addressProblem,
  CHECKS,
  type Check,
  type CheckInput,
  type CheckKind,
  checkOrder,
  FIRM,
  holdsOf,
} from './check';
export {
  type Address,
  type Facts,
  isLate,
  isOpen,
  MARKS,
  type Mark,
  marksOf,
  mayDo,
  type Standing,
  standingOf,
} from './order';
