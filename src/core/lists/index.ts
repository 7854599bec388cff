export { cellInWords } from './cell-in-words';
export {
  hasWeightUnit,
  isDateLike,
  isShortened,
  isShortForm,
  isStockWord,
  readAmount,
  readGtin,
  readStock,
  readWeight,
  unwrapCell,
} from './cells';
export { guessDecimal, guessHeaderRow, guessMatch, stemOf } from './guess';
export { type RowRead, rowReader, whoseRow } from './item-rows';
export {
  columnsOfExample,
  LISTING_FIELDS,
  type ListingFileColumn,
  type ListingFileField,
} from './listing-columns';
export { type ListingRow, listingReader } from './listing-rows';
export {
  ENCODINGS,
  type Encoding,
  FIELD_WORDS,
  FIELDS,
  type FieldName,
  type Format,
  type ListKind,
  type Match,
  matchProblems,
  REASON_COLUMN,
  signatureOf,
  VARIANTS,
  type Variants,
  WEIGHT_UNITS,
  type WeightUnit,
} from './match';
export { cellsOf, flatten, headerOf, listAt, type Repeating, repeatingIn } from './nested';
export { once } from './once';
export type { CellProblem } from './row';
export { type StockRead, stockReader } from './stock-rows';
export { fieldByName, plainName } from './words';
export {
  asWritten,
  uniqueNames,
  unwrapWritten,
  type WrittenCell,
  wrapCell,
  writeDelimited,
} from './written';
