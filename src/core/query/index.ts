export {
  type Bounds,
  type Compiled,
  compile,
  type Field,
  type Fields,
  NO_VALUE,
  parseBounds,
  parseQuery,
  parseRange,
  splitTyped,
  type Term,
} from './query';
export { hasTerm, termFor, toggleTerm } from './terms';
