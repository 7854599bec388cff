export { openArchive } from './archive';
export { openCsv, TextFinder } from './csv';
export { guessDelimiter, openList, readPart, rowsOf, type Sniffed, sniff } from './open';
export { findRecords, looseCells } from './records';
export type { Batch, FoundText, ListSource, Opened, Part, TextList } from './source';
