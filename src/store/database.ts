import Dexie, { type Table } from 'dexie';
import type { Buyer } from '../core/orders';
import { bucketing } from './buckets';
import { BytesStore } from './bytes';
import type { ConnectionRow, CredentialRow, HealthRow, StatedRow } from './connection-rows';
import type { FeedRow, GroupRow, MadeFeedRow } from './feeds';
import type {
  AssetBytes,
  AssetRow,
  CopyTemplate,
  DocumentRow,
  ItemRow,
  Listing,
  PlanRow,
  Product,
  Variant,
} from './goods';
import { type JournalRow, journaling } from './journal';
import { MIGRATIONS } from './migrations';
import type { ArchiveBlock, ArchivedRows, LedgerRow, Order, UnclaimedRow, UnreadRow } from './orders';
import type { OutboxRow } from './outbox';
import type { BlankRow, DesignRow, PrintRow, SheetRow } from './print';
import type {
  Change,
  DoubtRow,
  EarlierRow,
  Edit,
  HistoryRow,
  Job,
  LinkProposal,
  ListBytes,
  ListFile,
  MatchRow,
  Note,
  PageRow,
  RateRow,
  ReadingRow,
  RefusedRow,
  RemovedListing,
  SavedSearch,
  Settings,
  Stage,
  StoredCold,
  StoredPiece,
} from './rows';
import type { CostRow, StatementRow } from './statements';

/** The version of the schema. */
export const SCHEMA = MIGRATIONS.at(-1)!.version;

/**
 * The browser's database. Its versions are in `migrations`. Catalogues are pieces of columns, never one record per item; only what was taken becomes rows.
 */
export class SampanDatabase extends Dexie {
  connections!: Table<ConnectionRow, string>;
  credentials!: Table<CredentialRow, string>;
  stated!: Table<StatedRow, string>;
  health!: Table<HealthRow, string>;
  jobs!: Table<Job, string>;
  pieces!: Table<StoredPiece, [string, number, number]>;
  cold!: Table<StoredCold, [string, number, number]>;
  stages!: Table<Stage, string>;
  pages!: Table<PageRow, [string, string]>;
  readings!: Table<ReadingRow, string>;
  refused!: Table<RefusedRow, [string, number]>;
  doubts!: Table<DoubtRow, string>;
  history!: Table<HistoryRow, [string, number, number]>;
  files!: Table<ListFile, string>;
  bytes!: Table<ListBytes, string>;
  matches!: Table<MatchRow, string>;
  searches!: Table<SavedSearch, string>;
  proposals!: Table<LinkProposal, string>;
  removed!: Table<RemovedListing, string>;
  products!: Table<Product, string>;
  variants!: Table<Variant, string>;
  items!: Table<ItemRow, string>;
  documents!: Table<DocumentRow, string>;
  assets!: Table<AssetRow, string>;
  assetBytes!: Table<AssetBytes, string>;
  /** Where the bytes of {@link assets} lie. */
  readonly bytesStore = new BytesStore(this);
  blanks!: Table<BlankRow, string>;
  designs!: Table<DesignRow, string>;
  sheets!: Table<SheetRow, string>;
  prints!: Table<PrintRow, string>;
  listings!: Table<Listing, string>;
  plans!: Table<PlanRow, string>;
  templates!: Table<CopyTemplate, string>;
  earlier!: Table<EarlierRow, number>;
  rates!: Table<RateRow, string>;
  orders!: Table<Order, string>;
  ledger!: Table<LedgerRow, string>;
  statements!: Table<StatementRow, string>;
  costs!: Table<CostRow, string>;
  groups!: Table<GroupRow, string>;
  feeds!: Table<FeedRow, string>;
  madeFeeds!: Table<MadeFeedRow, string>;
  unclaimed!: Table<UnclaimedRow, string>;
  unread!: Table<UnreadRow, string>;
  outbox!: Table<OutboxRow, string>;
  changes!: Table<Change, string>;
  edits!: Table<Edit, string>;
  journal!: Table<JournalRow, number>;
  archive!: Table<ArchiveBlock, string>;
  archivedRows!: Table<ArchivedRows, string>;
  buyers!: Table<Buyer, string>;
  archivedBuyers!: Table<ArchivedRows, string>;
  settings!: Table<Settings, string>;
  notes!: Table<Note, string>;
  /**
   * Whether this browser stores files; else their bytes are stored. Found out when the database is opened.
   */
  keepsFiles = true;

  /** @param at the version of the schema that it has: an older one only to be carried over */
  constructor(name = 'sampan-shop', at = SCHEMA) {
    super(name);
    for (const part of [...journaling(), bucketing]) this.use(part);
    this.on(
      'ready',
      async (opened) => {
        const notes = (opened as SampanDatabase).notes;
        const known = await notes.get('keeps-files');
        if (known) this.keepsFiles = known.value === true;
        else {
          try {
            await notes.put({ id: 'keeps-files', value: new Blob(['x']) });
          } catch {
            this.keepsFiles = false;
          }
          await notes.put({ id: 'keeps-files', value: this.keepsFiles });
        }
      },
      true,
    );
    for (const { version, stores, change } of MIGRATIONS) {
      if (version > at) break;
      const declared = this.version(version).stores(stores ?? {});
      if (change) declared.upgrade(change);
    }
  }

  /** The tables of what prices are made with. */
  private get termsTables() {
    return [
      this.settings,
      this.plans,
      this.connections,
      this.stated,
      this.health,
      this.rates,
      this.templates,
      this.groups,
      this.jobs,
    ];
  }

  /** The tables that the assortment in memory is made of. */
  get assortmentTables() {
    return [
      ...this.termsTables,
      this.journal,
      this.products,
      this.variants,
      this.items,
      this.listings,
      this.orders,
    ];
  }

  /** The tables that the orders in memory are made of. */
  get bookTables() {
    return [...this.termsTables, this.journal, this.orders, this.buyers, this.ledger, this.archive];
  }

  /** The tables that the shop's own rows lie in: what a decision about listings or orders reads and writes together. */
  get shopTables() {
    return [
      this.products,
      this.variants,
      this.items,
      this.documents,
      this.listings,
      this.blanks,
      this.designs,
      this.sheets,
      this.prints,
      this.plans,
      this.templates,
      this.groups,
      this.feeds,
      this.madeFeeds,
      this.rates,
      this.orders,
      this.buyers,
      this.ledger,
      this.statements,
      this.costs,
      this.archive,
      this.archivedRows,
      this.archivedBuyers,
      this.unclaimed,
      this.unread,
      this.settings,
      this.connections,
      this.stated,
      this.health,
      this.jobs,
      this.searches,
      this.removed,
      this.proposals,
      this.outbox,
      this.changes,
      this.edits,
      this.earlier,
      this.journal,
    ];
  }
}
