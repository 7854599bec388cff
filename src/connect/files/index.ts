export { DISPATCH_COLUMNS, type DispatchFileRow, writeDispatchFile } from './dispatch-file';
export { readTable, STAMP_COLUMN, writeCsv, writeWorkbook } from './edit-file';
export {
  LISTING_COLUMNS,
  type ListingFileRow,
  readAnswerFile,
  writeListingFile,
} from './listing-file';
export { ORDER_COLUMNS, type OrderFileRow, writeOrderFile } from './order-file';
export { readSalesFile, SALES_COLUMNS } from './sales-file';
export { readTrackingFile, type TrackingRow } from './tracking-file';
