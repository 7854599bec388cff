export { findRecords, inBytes, openCsv } from './csv';
export { guessDelimiter, openList, type Sniffed, sniff } from './open';
export type { Batch, ListSource, Opened } from './source';
