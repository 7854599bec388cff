export { type Compiled, compile, type Field, type Fields } from './compile';
export { type Conditions, conditionsOf, type FieldKinds, type Problem } from './conditions';
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
