export { DISPATCH_COLUMNS, type DispatchFileRow, writeDispatchFile } from './dispatch-file';
export { type ReadTable, readTable, STAMP_COLUMN } from './edit-file';
export {
  LISTING_COLUMNS,
  type ListingFileRow,
  readAnswerFile,
  writeListingFile,
} from './listing-file';
export { ORDER_COLUMNS, type OrderFileRow, writeOrderFile } from './order-file';
export { BROKEN } from './rows';
export { readSalesFile, SALES_COLUMNS } from './sales-file';
export { type Table, tableOfText, widthProblem } from './table';
export { type FileText, readText } from './text';
export { readTrackingFile, type TrackingRow } from './tracking-file';
export { writeWorkbook } from './workbook-file';
export { ZipFile } from './zip-file';
