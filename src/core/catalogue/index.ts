export { Catalogue } from './catalogue';
export { hashOf, type Mark, markOf, marksOfBytes, RowTable } from './hash';
export { type Item, type ItemDetail, optionsInWords } from './item';
export { coldHash, type Incoming, Layout } from './layout';
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
export { NO_PRICE, type Prices, priceRows } from './prices';
export { type Moved, NO_TALLY, PIECE, type Put, Reading, type Tally, tallyInWords } from './reading';
export {
  FACETS,
  type FacetName,
  type FacetValue,
  type Found,
  MARGIN_BANDS,
  mayBecomeField,
  type Problem,
  Searcher,
  type Shelf,
  SORTS,
  type SortColumn,
} from './search';
export { itemsOnSheet, type Sheet, SheetLayout } from './sheet';
export { type Bytes, BytesRoom, type Texts, textsIn } from './texts';
export { eachWord, wordsOf } from './words';
