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
export { JOURNALED, type JournaledTable, type JournalRow } from './journal';
export { db } from './open';
export type { LedgerRow, Order, UnclaimedRow } from './orders';
export type { MarketLanes, OutboxBodies, OutboxKind, OutboxRow, SupplierLanes } from './outbox';
export * from './rows';
export { STARTING_SETTINGS, settingsOf } from './settings';
