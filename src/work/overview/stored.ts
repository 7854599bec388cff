import { sizeOf } from '../../store';
import type { Work } from '../context/work';

/** Rows of a table that are measured, from its beginning to its end; the others are taken to be like them. */
const MEASURED = 200;

/** The records of one kind. */
export interface StoredKind {
  readonly name: string;
  readonly count: number;
  /** About how many bytes, as written: what the browser adds for indexes, and saves by packing, is not in it. */
  readonly bytes: number;
}

/** Kinds as the seller knows them, and the tables that each lies in, of which the first is counted. */
const KINDS = [
  {
    name: 'Listings with their goods',
    tables: ['listings', 'products', 'variants', 'items', 'documents', 'proposals', 'removed'],
  },
  { name: 'Own pictures', tables: ['assets'] },
  { name: 'Orders with their accounts', tables: ['orders', 'buyers', 'ledger', 'unclaimed'] },
  { name: 'Archived orders, in blocks', tables: ['archive', 'archivedRows', 'archivedBuyers'] },
  { name: 'Catalogues, in pieces', tables: ['pieces', 'cold', 'stages', 'pages'] },
  { name: 'Cost and stock history, in blocks', tables: ['history'] },
  {
    name: 'Price lists',
    tables: ['files', 'bytes', 'readings', 'refused', 'doubts', 'matches'],
  },
  { name: 'Messages', tables: ['outbox'] },
  { name: 'History of changes', tables: ['changes', 'edits', 'journal'] },
];

/**
 * What this browser stores, the largest first, and all else together. Cost: the keys and some rows of each table.
 * @param most rows of a table that are measured at most
 */
export async function storedKinds({ db }: Pick<Work, 'db'>, most = MEASURED): Promise<StoredKind[]> {
  const named = new Set([...KINDS.flatMap(({ tables }) => tables), 'assetBytes']);
  const others = db.tables.flatMap(({ name }) => (named.has(name) ? [] : [name]));
  const measure = async (table: string) => {
    const keys = await db.table(table).toCollection().primaryKeys();
    const step = Math.max(1, keys.length / most);
    const some = keys.filter((_, k) => Math.floor(k / step) > Math.floor((k - 1) / step));
    const rows: unknown[] = await db.table(table).bulkGet(some);
    const bytes = rows.reduce<number>((sum, row) => sum + sizeOf(row), 0);
    return { count: keys.length, bytes: some.length ? Math.round((bytes / some.length) * keys.length) : 0 };
  };
  const kinds = await Promise.all(
    [...KINDS, { name: 'All else', tables: others }].map(async ({ name, tables }): Promise<StoredKind> => {
      const measured = await Promise.all(tables.map(measure));
      const counted = tables === others ? measured : measured.slice(0, 1);
      // The bytes of files lie beside the tables.
      let files = 0;
      if (tables.includes('assets')) await db.assets.each(({ size }) => (files += size));
      return {
        name,
        count: counted.reduce((sum, m) => sum + m.count, 0),
        bytes: files + measured.reduce((sum, m) => sum + m.bytes, 0),
      };
    }),
  );
  return kinds.filter((k) => k.count > 0).sort((a, b) => b.bytes - a.bytes);
}
