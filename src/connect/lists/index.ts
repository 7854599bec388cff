export { findRecords, openCsv } from './csv';
export { guessDelimiter, openList, readPart, rowsOf, type Sniffed, sniff } from './open';
export type { Batch, ListSource, Opened, Part } from './source';
