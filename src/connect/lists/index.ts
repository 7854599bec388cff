export { findRecords, openCsv, TextFinder } from './csv';
export { guessDelimiter, openList, readPart, rowsOf, type Sniffed, sniff } from './open';
export type { Batch, FoundText, ListSource, Opened, Part, TextList } from './source';
