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
export const PACKED: readonly string[] = ['products', 'variants', 'items', 'listings'];

interface Row {
  readonly id: string;
}

/** What is stored: rows in no order. */
interface Pack {
  readonly id: string;
  readonly rows: readonly Row[];
}

/** A row's pack is told by its id, so that every tab finds it without a table of places. A power of two. */
const PACKS = 1024;
const packOf = (id: string): string => (hashOf(id) & (PACKS - 1)).toString(36);

/** What a range of keys is, in the words of the layer below. */
const [EQUAL, ANY, NEVER] = [1, 3, 4];

/** Packs from which on all are read at once. */
const MANY = PACKS / 8;

/** Below everything else that knows the tables: what lies above sees rows, not packs. */
export const packing: Middleware<DBCore> = {
  stack: 'dbcore',
  name: 'packs',
  level: -3,
  create: (core) => ({
    ...core,
    table: (name) => (PACKED.includes(name) ? packedTable(core, core.table(name)) : core.table(name)),
  }),
};

function packedTable(core: DBCore, below: DBCoreTable): DBCoreTable {
  const index = below.schema.primaryKey;
  const all: DBCoreKeyRange = { type: ANY!, lower: core.MIN_KEY, upper: core.MAX_KEY };

  const allPacks = async (trans: DBCoreTransaction): Promise<Pack[]> =>
    (await below.query({ trans, values: true, query: { index, range: all } })).result;

  async function packsOf(trans: DBCoreTransaction, ids: readonly string[]): Promise<Map<string, Pack>> {
    const names = [...new Set(ids.map(packOf))];
    const packs =
      names.length < MANY
        ? ((await below.getMany({ trans, keys: names })) as (Pack | undefined)[])
        : await allPacks(trans);
    return new Map(packs.flatMap((pack) => (pack ? [[pack.id, pack]] : [])));
  }

  async function rowsOf(trans: DBCoreTransaction, ids: readonly string[]): Promise<Map<string, Row>> {
    const asked = new Set(ids);
    const rows = new Map<string, Row>();
    for (const pack of (await packsOf(trans, ids)).values())
      for (const row of pack.rows) if (asked.has(row.id)) rows.set(row.id, row);
    return rows;
  }

  /** Rows in the order of their ids. */
  async function rowsIn(trans: DBCoreTransaction, range: DBCoreKeyRange): Promise<Row[]> {
    const { type, lower, upper, lowerOpen, upperOpen } = range;
    if (type === NEVER) return [];
    if (type === EQUAL) return [...(await rowsOf(trans, [lower])).values()];
    const above = (id: string) => typeof lower !== 'string' || (lowerOpen ? id > lower : id >= lower);
    const under = (id: string) => typeof upper !== 'string' || (upperOpen ? id < upper : id <= upper);
    const rows = (await allPacks(trans)).flatMap((pack) => pack.rows);
    return rows.filter(({ id }) => above(id) && under(id)).sort((a, b) => (a.id < b.id ? -1 : 1));
  }

  /** Writes the packs of these ids with what each row is changed to; null for none. */
  async function rewrite(trans: DBCoreTransaction, changed: ReadonlyMap<string, Row | null>): Promise<void> {
    const packs = await packsOf(trans, [...changed.keys()]);
    const rows = new Map<string, Row[]>();
    for (const id of changed.keys()) {
      const name = packOf(id);
      if (!rows.has(name))
        rows.set(
          name,
          (packs.get(name)?.rows ?? []).filter((row) => !changed.has(row.id)),
        );
    }
    for (const [id, row] of changed) if (row) rows.get(packOf(id))!.push(row);
    const values = [...rows].flatMap(([id, own]) => (own.length ? [{ id, rows: own } satisfies Pack] : []));
    const empty = [...rows].flatMap(([id, own]) => (own.length || !packs.has(id) ? [] : [id]));
    for (const answer of [
      values.length ? await below.mutate({ type: 'put', trans, values }) : null,
      empty.length ? await below.mutate({ type: 'delete', trans, keys: empty }) : null,
    ])
      if (answer?.numFailures) throw Object.values(answer.failures)[0];
  }

  async function mutate(request: DBCoreMutateRequest): Promise<DBCoreMutateResponse> {
    const { trans } = request;
    const failures: Record<number, Error> = {};
    const changed = new Map<string, Row | null>();
    switch (request.type) {
      case 'add':
      case 'put': {
        const values = request.values as readonly Row[];
        const there =
          request.type === 'add'
            ? await rowsOf(
                trans,
                values.map((row) => row.id),
              )
            : null;
        for (const [k, row] of values.entries()) {
          if (there && (there.has(row.id) || changed.has(row.id)))
            failures[k] = new Dexie.ConstraintError(`A row with the id ${row.id} is there already.`);
          else changed.set(row.id, row);
        }
        break;
      }
      case 'delete':
        for (const id of request.keys as readonly string[]) changed.set(id, null);
        break;
      case 'deleteRange': {
        if (request.range.type === ANY) return below.mutate({ ...request, range: all });
        for (const { id } of await rowsIn(trans, request.range)) changed.set(id, null);
      }
    }
    if (changed.size) await rewrite(trans, changed);
    const results = 'values' in request ? request.values.map((row: Row) => row.id) : undefined;
    return { numFailures: Object.keys(failures).length, failures, results, lastResult: results?.at(-1) };
  }

  return {
    ...below,
    mutate,
    get: async ({ trans, key }) => (await rowsOf(trans, [key])).get(key),
    getMany: async ({ trans, keys }) => {
      const rows = await rowsOf(trans, keys);
      return keys.map((id) => rows.get(id));
    },
    query: async ({ trans, values, limit, query, direction }) => {
      const rows = await rowsIn(trans, query.range);
      if (direction?.startsWith('prev')) rows.reverse();
      const some = rows.slice(0, limit);
      return { result: values ? some : some.map((row) => row.id) };
    },
    count: async ({ trans, query }) => (await rowsIn(trans, query.range)).length,
    openCursor: async ({ trans, reverse, query }) => {
      const rows = await rowsIn(trans, query.range);
      return rows.length ? cursorOver(trans, reverse ? rows.reverse() : rows) : null;
    },
  };
}

/** Goes through rows that are read already, as through those of storage. */
function cursorOver(trans: DBCoreTransaction, rows: readonly Row[]): DBCoreCursor {
  let at = 0;
  let finish: (value?: unknown) => void = () => {};
  let refuse: (error: Error) => void = () => {};
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
        refuse = reject;
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
      refuse(error);
    },
    next: () => Promise.reject(new Error('Rows in packs are gone through from their start.')),
  };
}

/**
 * Lays rows that were stored one by one into packs; runs while a database is carried over.
 * @param raw the transaction of the upgrade
 */
export async function intoPacks(raw: IDBTransaction, tables: (name: string) => Dexie.Table): Promise<void> {
  for (const name of PACKED) {
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
