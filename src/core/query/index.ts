export { type Compiled, compile, type Field, type Fields, parseQuery, parseRange, type Term } from './query';
