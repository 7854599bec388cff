export {
  orderById,
  ordersById,
  packRows,
  readArchived,
  unpackRows,
} from './archive';
export { BUCKETED, bucketOf } from './buckets';
export * from './catalogue';
export {
  addAll,
  addedIn,
  applyChange,
  type ChangeHead,
  type Now,
  type RowChange,
  subjectOf,
  type Undone,
  undoChange,
} from './changes';
export { SampanDatabase, SCHEMA } from './database';
export { fileOf, type StoredFile, toStore } from './files';
export * from './goods';
export {
  JOURNALED,
  type JournaledTable,
  type JournalRow,
  journalEnd,
  journalSince,
  trimJournal,
} from './journal';
export { db } from './open';
export type { ArchiveBlock, ArchivedRows, LedgerRow, Order, UnclaimedRow, WholeOrder } from './orders';
export type {
  ListingKind,
  MarketLanes,
  OfferState,
  OrderKind,
  OrderOf,
  OutboxBodies,
  OutboxKind,
  OutboxRow,
  SupplierLanes,
} from './outbox';
export * from './rows';
export { STARTING_SETTINGS, settingsOf } from './settings';
export { sizeOf } from './size';
export { letGo } from './under-way';
export { onWrites, type Watched } from './writes';
