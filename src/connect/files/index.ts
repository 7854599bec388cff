export { ORDER_COLUMNS, type OrderFileRow, writeOrderFile } from './order-file';
export { readTrackingFile, type TrackingFile, type TrackingRow } from './tracking-file';
