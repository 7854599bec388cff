export { type Compiled, compile, type Field, type Fields } from './compile';
export {
  type Condition,
  EVERYTHING,
  type FieldCondition,
  isEverything,
  leavesOf,
  partsOf,
} from './condition';
export {
  assertUnderstood,
  type FieldKind,
  type FieldKinds,
  kindOf,
  leafLine,
  leafProblem,
  type Named,
  NO_VALUE,
  type Problem,
  problemInWords,
  problemsOf,
} from './fields';
export { hasTerm, lineOf, narrowedBy, narrows, readCondition, splitTyped, termFor, toggleTerm } from './line';
export { type Bounds, parseBounds, parseRange } from './range';
