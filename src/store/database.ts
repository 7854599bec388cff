import Dexie, { type Table } from 'dexie';
import { ASK_FROM, type Bytes, BytesRoom, type Texts, textsIn } from '../core/catalogue';
import { storedCold } from './cold';
import type {
  Change,
  Connection,
  DoubtRow,
  Edit,
  HistoryRow,
  Job,
  LinkProposal,
  ListBytes,
  ListFile,
  Listing,
  MatchRow,
  Note,
  Order,
  OutboxRow,
  PageRow,
  PlanRow,
  Product,
  ReadingRow,
  RefusedRow,
  RemovedListing,
  SavedSearch,
  Settings,
  Stage,
  StoredCold,
  StoredPiece,
} from './rows';

/** The version of the schema below. */
export const SCHEMA = 6;

/**
 * The browser's database. Every version of the schema stays here for good; a new one says how old data is
 * carried over. Catalogues are pieces of columns, never one record per item; only what was taken becomes
 * rows.
 */
export class SampanDatabase extends Dexie {
  connections!: Table<Connection, string>;
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
  listings!: Table<Listing, string>;
  plans!: Table<PlanRow, string>;
  orders!: Table<Order, string>;
  outbox!: Table<OutboxRow, string>;
  changes!: Table<Change, string>;
  edits!: Table<Edit, string>;
  settings!: Table<Settings, string>;
  notes!: Table<Note, string>;
  /**
   * Whether this browser stores files; else their bytes are stored. Found out when the database is opened.
   */
  keepsFiles = true;

  constructor(name = 'sampan') {
    super(name);
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
    this.version(1).stores({
      connections: 'id',
      jobs: 'id',
      blocks: '[connection+from]',
      details: '[connection+from]',
      products: 'id',
      listings: 'id, product, state, [supplier+item]',
      plans: 'id',
      orders: 'id, facts.paidAt',
      outbox: 'id, state',
      changes: 'id, at',
      edits: 'id, change, [subject+at]',
      settings: 'id',
      notes: 'id',
    });
    // 2: open orders have an index of their own, and the outbox is read by state and due time.
    this.version(2)
      .stores({ orders: 'id, facts.paidAt, open, supplierNumber', outbox: 'id, [state+nextAt], subject' })
      .upgrade(async (tx) => {
        await tx
          .table('orders')
          .toCollection()
          .modify((order: { open?: number; facts: Order['facts'] }) => {
            const { cancelledAt, toldAt } = order.facts;
            order.open = cancelledAt === null && toldAt === null ? 1 : 0;
          });
        await tx
          .table('outbox')
          .toCollection()
          .modify((row: { nextAt?: number; at: number }) => {
            row.nextAt ??= row.at;
          });
      });
    // 3: catalogues are kept as pieces, hot columns apart from cold text. What was stored page by page is
    // read from the supplier again.
    this.version(3)
      .stores({
        blocks: null,
        details: null,
        pieces: '[supplier+generation+seq]',
        cold: '[supplier+generation+seq]',
        stages: 'supplier',
        pages: '[supplier+from]',
        readings: 'id, [supplier+at]',
        refused: '[reading+seq], supplier',
        history: '[supplier+bucket+day]',
        files: 'id, supplier',
        bytes: 'id',
        matches: 'id, supplier',
        searches: 'id',
        proposals: 'id',
        removed: 'id',
      })
      .upgrade(async (tx) => {
        await tx.table('notes').where('id').startsWith('catalogue:').delete();
        await tx
          .table('jobs')
          .toCollection()
          .modify((job: { task: string; progress: unknown; running: unknown; nextAt: number }) => {
            if (job.task === 'catalogue') Object.assign(job, { progress: null, running: null, nextAt: 0 });
          });
        await tx
          .table('connections')
          .toCollection()
          .modify((c: { role: string; list?: null }) => {
            if (c.role === 'supplier') c.list ??= null;
          });
        await tx
          .table('products')
          .toCollection()
          .modify((p: { theirs?: null }) => {
            p.theirs ??= null;
          });
        await tx
          .table('listings')
          .toCollection()
          .modify((l: { backup?: null }) => {
            l.backup ??= null;
          });
      });
    // 4: descriptions and pictures lay as bytes; before, as text.
    // 5: they lie in a file of their own.
    this.version(5)
      .stores({})
      .upgrade(async (tx) => {
        const asBytes = (before: Texts | Bytes): Bytes => {
          if ('bytes' in before) return before;
          const room = new BytesRoom(before.ends.length);
          for (const text of textsIn(before)) room.add(text);
          return room.close();
        };
        const table = tx.table<
          { cold: Record<'description' | 'pictures', Texts | Bytes> } | StoredCold,
          [string, number, number]
        >('cold');
        for (const [supplier, generation, seq] of await table.toCollection().primaryKeys()) {
          const row = (await table.get([supplier, generation, seq]))!;
          if (!('cold' in row)) continue;
          const cold = { description: asBytes(row.cold.description), pictures: asBytes(row.cold.pictures) };
          await table.put(storedCold({ supplier, generation, seq }, cold, true));
        }
      });
    // 6: purchases can be asked back, and know when they left. What waits may have left before.
    this.version(SCHEMA)
      .stores({ doubts: 'supplier' })
      .upgrade(async (tx) => {
        await tx
          .table('connections')
          .toCollection()
          .modify((c: { role: string; askFrom?: number }) => {
            if (c.role === 'supplier') c.askFrom ??= ASK_FROM;
          });
        await tx
          .table('orders')
          .toCollection()
          .modify((order: { ended?: string[]; recall?: null; attempt?: number }) => {
            order.ended ??= [];
            order.recall ??= null;
            delete order.attempt;
          });
        await tx
          .table('outbox')
          .toCollection()
          .modify((row: { sentAt?: number | null; at: number }) => {
            row.sentAt ??= row.at;
          });
      });
  }
}
