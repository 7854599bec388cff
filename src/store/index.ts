export {
  buyerOf,
  buyersByOrder,
  eraseArchived,
  orderById,
  ordersById,
  readArchived,
} from './archive';
export { dropUnowned, keepAsset, readAsset } from './assets';
export { bucketOf } from './buckets';
export { hashOfFile, streamPieces } from './bytes';
export {
  addHistory,
  catalogueNote,
  dropPieces,
  firstPictures,
  type HistoryPoint,
  historyOf,
  historyShareOf,
  putPieces,
  readCatalogue,
  readCold,
  readDetails,
  readPieces,
} from './catalogue';
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
export {
  accountPart,
  type Connection,
  type ConnectionRow,
  type ConnectionTrouble,
  type Credential,
  cleanHealth,
  connectionOf,
  type Delivery,
  type FeesOf,
  type HealthRow,
  type LeapRule,
  type MarketConnection,
  type MarketRow,
  type Preset,
  type PresetFill,
  STARTING_LEAP_RULE,
  type StatedRow,
  type SupplierConnection,
  type SupplierRow,
  stateSite,
} from './connection-rows';
export { allConnections, allHealth, connectionById, healthOf, marketById, supplierById } from './connections';
export { SampanDatabase, SCHEMA } from './database';
export { linesOf, loadDump } from './dump/read';
export { type DumpedRows, dumpOf } from './dump/write';
export { EarlierValues, earlierBegins, earlierSince, noteEarlier } from './earlier';
export type { FeedRow, GroupRow, MadeFeedRow } from './feeds';
export { fileOf, type StoredFile, toStore } from './files';
export {
  type AssetKind,
  type CopyTemplate,
  type CostLeap,
  type DocumentRow,
  DRIFT_FIELDS,
  type Drift,
  type DriftField,
  EVERYWHERE,
  type FactTimes,
  FREE_STEPS,
  type HeldStep,
  type ItemRow,
  itemKey,
  type Listing,
  type ListingDocument,
  type ListingState,
  type MadeToOrder,
  type PlanRow,
  type PlanSale,
  type Product,
  type Published,
  type Source,
  type SourceRole,
  type StepRule,
  type SupplierText,
  sizedKey,
  type Variant,
} from './goods';
export {
  JOURNALED,
  type JournaledTable,
  type JournalRow,
  journalEnd,
  journalSince,
  trimJournal,
} from './journal';
export { db } from './open';
export type {
  ArchiveBlock,
  ArchivedRows,
  LedgerRow,
  LedgerTerms,
  Order,
  UnclaimedRow,
  UnreadRow,
  WholeOrder,
} from './orders';
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
export { packOrders, unpackRows } from './packed';
export {
  type BlankRow,
  blankKey,
  type DesignNote,
  type DesignRow,
  type PrintedDesign,
  type PrintRow,
  printFileKey,
  type SheetRow,
} from './print';
export {
  type AlertRule,
  type CatalogueNote,
  CHANGED_TABLES,
  type Change,
  type ChangedTable,
  type DoubtRow,
  type Edit,
  type HistoryRow,
  type Job,
  type LinkProposal,
  type ListBytes,
  type ListFile,
  type MailSender,
  type MatchRow,
  type Note,
  type PageRow,
  type PersonalSettings,
  type RateRow,
  type ReadingRow,
  type Refused,
  type RefusedRow,
  type RemovedListing,
  type RowEdit,
  type SavedSearch,
  type SavedView,
  type Settings,
  type Stage,
  type StoredCold,
  type StoredPiece,
  type Task,
} from './rows';
export { orderRules, returnRules, STARTING_SETTINGS, settingsOf, statementRules } from './settings';
export { sizeOf } from './size';
export {
  type CostRow,
  type LooseLine,
  type StatementRow,
  type StatementRules,
  USUAL_STATEMENT_RULES,
} from './statements';
export { onWrites, type Watched } from './writes';
