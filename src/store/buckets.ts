import Dexie, {
  type DBCore,
  type DBCoreCursor,
  type DBCoreKeyRange,
  type DBCoreMutateRequest,
  type DBCoreMutateResponse,
  type DBCoreTable,
  type DBCoreTransaction,
  type Middleware,
} from 'dexie';
import { hashOf } from '../core/catalogue';

/**
 * Tables whose rows are stored many to a record. The browser's storage takes as long for a record as for everything in
 * it: tens of thousands of listings are written in a few hundred records at once instead of one by one.
 */
export const BUCKETED: readonly string[] = ['products', 'variants', 'items', 'listings'];

interface Row {
  readonly id: string;
}

/** The stored record: rows in no order. */
interface Bucket {
  readonly id: string;
  readonly rows: readonly Row[];
}

/** A row's bucket is told by its id, so that every tab finds it without a table of places. A power of two. */
const BUCKETS = 1024;
export const bucketOf = (id: string): string => (hashOf(id) & (BUCKETS - 1)).toString(36);

/** Kinds of key ranges, as the layer below names them. */
const [EQUAL, ANY, NEVER] = [1, 3, 4];

/** The name of no bucket. */
const NO_BUCKET = '-';

/** Buckets from which on all are read at once: what is read of a bucket costs more than asking for it. */
const MANY = BUCKETS / 2;

/** Below everything else that knows the tables: what lies above sees rows, not buckets. */
export const bucketing: Middleware<DBCore> = {
  stack: 'dbcore',
  name: 'buckets',
  level: -3,
  create: (core) => {
    // One for each name, whoever asks: what a transaction wrote is known to all parts of it.
    const tables = new Map<string, DBCoreTable>();
    return {
      ...core,
      table: (name) => {
        if (!BUCKETED.includes(name)) return core.table(name);
        const table = tables.get(name) ?? bucketedTable(core, core.table(name));
        tables.set(name, table);
        return table;
      },
    };
  },
};

function bucketedTable(core: DBCore, below: DBCoreTable): DBCoreTable {
  const index = below.schema.primaryKey;
  const all: DBCoreKeyRange = { type: ANY!, lower: core.MIN_KEY, upper: core.MAX_KEY };

  // Promises are chained by hand: an `await` here would leave the zone by which the transaction is known.
  const allBuckets = (trans: DBCoreTransaction): Promise<readonly Bucket[]> =>
    below.query({ trans, values: true, query: { index, range: all } }).then(({ result }) => result);

  /** Buckets that a transaction read or wrote. Only one that writes keeps them: nobody else writes meanwhile. */
  const held = new WeakMap<DBCoreTransaction, Map<string, Bucket>>();
  function heldBy(trans: DBCoreTransaction): Map<string, Bucket> | null {
    if ((trans as unknown as IDBTransaction).mode !== 'readwrite') return null;
    let known = held.get(trans);
    if (!known) {
      known = new Map();
      held.set(trans, known);
    }
    return known;
  }

  function bucketsOf(trans: DBCoreTransaction, ids: readonly string[]): Promise<ReadonlyMap<string, Bucket>> {
    const known = heldBy(trans);
    const names = [...new Set(ids.map(bucketOf))];
    const unread = known ? names.filter((name) => !known.has(name)) : names;
    // Storage is asked for something even where all is known: by that Dexie follows the transaction.
    const keys = unread.length ? unread : [NO_BUCKET];
    const read: Promise<readonly (Bucket | undefined)[]> =
      unread.length < MANY ? below.getMany({ trans, keys }) : allBuckets(trans);
    return read.then((buckets) => {
      const found = new Map<string, Bucket>();
      for (const bucket of buckets) if (bucket && !known?.has(bucket.id)) found.set(bucket.id, bucket);
      if (!known) return found;
      // What was read or written meanwhile by another part of the transaction is newer.
      for (const name of unread)
        if (!known.has(name)) known.set(name, found.get(name) ?? { id: name, rows: [] });
      return known;
    });
  }

  const rowsOf = (trans: DBCoreTransaction, ids: readonly string[]): Promise<ReadonlyMap<string, Row>> =>
    bucketsOf(trans, ids).then((buckets) => rowsAmong(buckets, ids));

  /** Rows in the order of their ids. */
  function rowsIn(trans: DBCoreTransaction, range: DBCoreKeyRange): Promise<Row[]> {
    const { type, lower, upper, lowerOpen, upperOpen } = range;
    if (type === EQUAL) return rowsOf(trans, [lower]).then((rows) => [...rows.values()]);
    const above = (id: string) => typeof lower !== 'string' || (lowerOpen ? id > lower : id >= lower);
    const under = (id: string) => typeof upper !== 'string' || (upperOpen ? id < upper : id <= upper);
    return allBuckets(trans).then((buckets) =>
      type === NEVER
        ? []
        : buckets
            .flatMap((bucket) => bucket.rows)
            .filter(({ id }) => above(id) && under(id))
            .sort((a, b) => (a.id < b.id ? -1 : 1)),
    );
  }

  /** Writes buckets with what each row is changed to; null for none. */
  function rewrite(
    trans: DBCoreTransaction,
    buckets: ReadonlyMap<string, Bucket>,
    changed: ReadonlyMap<string, Row | null>,
  ): Promise<void> {
    const rows = new Map<string, Row[]>();
    for (const [id, row] of changed) {
      const name = bucketOf(id);
      let own = rows.get(name);
      if (!own) {
        own = (buckets.get(name)?.rows ?? []).filter((one) => !changed.has(one.id));
        rows.set(name, own);
      }
      if (row) own.push(row);
    }
    const values: Bucket[] = [];
    const keys: string[] = [];
    const known = heldBy(trans);
    for (const [id, own] of rows) {
      known?.set(id, { id, rows: own });
      if (own.length) values.push({ id, rows: own });
      else keys.push(id);
    }
    return below
      .mutate({ type: 'put', trans, values })
      .then(refuse)
      .then(() => below.mutate({ type: 'delete', trans, keys }))
      .then(refuse);
  }

  function mutate(request: DBCoreMutateRequest): Promise<DBCoreMutateResponse> {
    const { trans } = request;
    if (request.type === 'deleteRange')
      return rowsIn(trans, request.range).then((rows) =>
        mutate({ type: 'delete', trans, keys: rows.map((row) => row.id) }),
      );
    const ids: readonly string[] =
      request.type === 'delete' ? request.keys : request.values.map((row: Row) => row.id);
    const failures: Record<number, Error> = {};
    return bucketsOf(trans, ids)
      .then((buckets) => {
        const there = request.type === 'add' ? rowsAmong(buckets, ids) : null;
        const changed = new Map<string, Row | null>();
        for (const [k, id] of ids.entries()) {
          if (there && (there.has(id) || changed.has(id)))
            failures[k] = new Dexie.ConstraintError(`A row with the id ${id} is there already.`);
          else changed.set(id, request.type === 'delete' ? null : request.values[k]);
        }
        return rewrite(trans, buckets, changed);
      })
      .then(() => ({
        numFailures: Object.keys(failures).length,
        failures,
        results: request.type === 'delete' ? undefined : [...ids],
        lastResult: ids.at(-1),
      }));
  }

  return {
    ...below,
    mutate,
    get: ({ trans, key }) => rowsOf(trans, [key]).then((rows) => rows.get(key)),
    getMany: ({ trans, keys }) => rowsOf(trans, keys).then((rows) => keys.map((id) => rows.get(id))),
    query: ({ trans, values, limit, query, direction }) =>
      rowsIn(trans, query.range).then((rows) => {
        const some = (direction?.startsWith('prev') ? rows.reverse() : rows).slice(0, limit);
        return { result: values ? some : some.map((row) => row.id) };
      }),
    count: ({ trans, query }) => rowsIn(trans, query.range).then((rows) => rows.length),
    openCursor: ({ trans, reverse, query }) =>
      rowsIn(trans, query.range).then((rows) =>
        rows.length ? cursorOver(trans, reverse ? rows.reverse() : rows) : null,
      ),
  };
}

function rowsAmong(buckets: ReadonlyMap<string, Bucket>, ids: readonly string[]): ReadonlyMap<string, Row> {
  const asked = new Set(ids);
  const rows = new Map<string, Row>();
  for (const name of new Set(ids.map(bucketOf)))
    for (const row of buckets.get(name)?.rows ?? []) if (asked.has(row.id)) rows.set(row.id, row);
  return rows;
}

/** @throws where a part of a write failed */
function refuse({ numFailures, failures }: DBCoreMutateResponse): void {
  if (numFailures) throw Object.values(failures)[0];
}

/** Goes through rows that are read already, as through those of storage. */
function cursorOver(trans: DBCoreTransaction, rows: readonly Row[]): DBCoreCursor {
  let at = 0;
  let finish: (value?: unknown) => void = () => {};
  let giveUp: (error: Error) => void = () => {};
  let over = false;
  const next = () => {
    at++;
  };
  return {
    trans,
    get key() {
      return rows[at]?.id;
    },
    get primaryKey() {
      return rows[at]?.id;
    },
    get value() {
      return rows[at];
    },
    get done() {
      return at >= rows.length;
    },
    continue: (key?: string) => {
      next();
      if (key !== undefined) while (at < rows.length && rows[at]!.id < key) next();
    },
    continuePrimaryKey: next,
    advance: (count) => {
      at += count;
    },
    start: (onNext) =>
      new Dexie.Promise((resolve, reject) => {
        finish = resolve;
        giveUp = reject;
        try {
          while (!over && at < rows.length) onNext();
          if (!over) resolve(undefined);
        } catch (e) {
          reject(e);
        }
      }) as unknown as Promise<unknown>,
    stop: (value) => {
      over = true;
      finish(value);
    },
    fail: (error) => {
      over = true;
      giveUp(error);
    },
    next: () => Promise.reject(new Error('Rows in buckets are gone through from their start.')),
  };
}

/**
 * Lays rows that were stored one by one into buckets; runs while a database is carried over.
 * @param raw the transaction of the upgrade
 */
export async function intoBuckets(raw: IDBTransaction, tables: (name: string) => Dexie.Table): Promise<void> {
  for (const name of BUCKETED) {
    const rows = await new Dexie.Promise<Row[]>((resolve, reject) => {
      const store = raw.objectStore(name);
      const read = store.getAll();
      read.onerror = () => reject(read.error);
      read.onsuccess = () => {
        const emptied = store.clear();
        emptied.onerror = () => reject(emptied.error);
        emptied.onsuccess = () => resolve(read.result);
      };
    });
    await tables(name).bulkPut(rows);
  }
}
