import Dexie, { type Table } from 'dexie';
import type { Block, Change, Connection, DetailBlock, Edit, Job, Listing, Note, Order, OutboxRow, PlanRow, Product, Settings } from './rows';

/**
 * The browser's database. Every version of the schema stays here for good; a new one says how old data is carried over.
 * Catalogues are blocks of columns, never one record per item; only what was taken becomes rows.
 */
export class SampanDatabase extends Dexie {
  connections!: Table<Connection, string>;
  jobs!: Table<Job, string>;
  blocks!: Table<Block, [string, string]>;
  details!: Table<DetailBlock, [string, string]>;
  products!: Table<Product, string>;
  listings!: Table<Listing, string>;
  plans!: Table<PlanRow, string>;
  orders!: Table<Order, string>;
  outbox!: Table<OutboxRow, string>;
  changes!: Table<Change, string>;
  edits!: Table<Edit, string>;
  settings!: Table<Settings, string>;
  notes!: Table<Note, string>;

  constructor(name = 'sampan') {
    super(name);
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
  }
}
