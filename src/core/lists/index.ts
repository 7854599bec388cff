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
export {
  columnsOfExample,
  LISTING_FIELDS,
  type ListingFileColumn,
  type ListingFileField,
} from './listing-columns';
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
export {
  type CellProblem,
  cellInWords,
  type ListingRow,
  listingReader,
  type RowRead,
  rowReader,
  type StockRead,
  stockReader,
  whoseRow,
} from './rows';
export { fieldByName, plainName } from './words';
