export { type Compiled, compile, type Field, type Fields } from './compile';
export {
  assertUnderstood,
  type Conditions,
  conditionsOf,
  type FieldKinds,
  notUnderstood,
  type Problem,
  problemInWords,
} from './conditions';
export {
  type Bounds,
  NO_VALUE,
  narrows,
  parseBounds,
  parseQuery,
  parseRange,
  splitTyped,
  type Term,
} from './query';
export { hasTerm, termFor, toggleTerm } from './terms';
