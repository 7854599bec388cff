export { Catalogue } from './catalogue';
export { ASK_FROM, type Doubt, doubtOf } from './doubt';
export { hashOf, type Mark, markOf, marksOfBytes, RowTable } from './hash';
export { type Item, type ItemDetail, optionsInWords, STOCK_STAYS } from './item';
export { coldHash, type Incoming, Layout } from './layout';
export { SORTS, type SortColumn } from './order';
export {
  type ColdPiece,
  detailAt,
  gtinNumber,
  type Laid,
  LISTS,
  type ListName,
  NUMBERS,
  type NumberName,
  type Piece,
  packGtin,
  unpackGtin,
} from './piece';
export { NO_PRICE, type Prices, priceRows, type RowTerms } from './prices';
export {
  isNothing,
  type Moved,
  NO_TALLY,
  PIECE,
  type Put,
  Reading,
  type Tally,
  tallyInWords,
} from './reading';
export { type FacetValue, type Found, Searcher } from './search';
export { itemsOnSheet, type Sheet, SheetLayout } from './sheet';
export type { Shelf } from './shelf';
export { FACETS, type FacetName, ITEM_FIELDS, MARGIN_BANDS, mayBecomeField, readItems } from './terms';
export { type Bytes, BytesRoom, type Texts, textsIn } from './texts';
export { eachWord, wordsOf } from './words';
