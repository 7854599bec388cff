export { markedAddress, markProblem } from './address';
export { compareFeeds, type FeedDifference, type FeedMarks, rowMark } from './compare';
export { FEED_FIELDS, type FeedField, type FeedRecord } from './fields';
export {
  COLUMN_KINDS,
  type ColumnKind,
  ESCAPES,
  type Escape,
  FEED_FORMATS,
  FEED_LIMITS,
  type FeedColumn,
  type FeedForm,
  type FeedFormat,
  type FeedMark,
  FILE_OF,
  fieldsAsked,
  formProblems,
  placeIn,
  startingForm,
  TEMPLATE_PARTS,
  templateProblem,
  usualColumns,
} from './form';
export {
  type ColumnFault,
  type Fault,
  type FeedRow,
  FeedRows,
  faultInWords,
  isOfKind,
  reasonInWords,
  valueIn,
} from './row';
export { together } from './together';
export { type FeedHead, HEAD_FIELDS, type Outgoing, writeFeed } from './write';
