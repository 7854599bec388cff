import { type DBCore, type DBCoreMutateRequest, type Middleware, RangeSet, type Table } from 'dexie';

/** Tables that the shop in memory is made of. */
export const JOURNALED = [
  'products',
  'variants',
  'items',
  'listings',
  'orders',
  'buyers',
  'ledger',
  'archive',
] as const;
export type JournaledTable = (typeof JOURNALED)[number];

/** Which rows one write touched, in the order of the writes. */
export interface JournalRow {
  /** Counts up by one, without gaps. */
  readonly seq: number;
  readonly table: JournaledTable;
  /** Null where a write named no rows but a range of them. */
  readonly keys: readonly string[] | null;
}

const isJournaled = (name: string): name is JournaledTable => (JOURNALED as readonly string[]).includes(name);

/** Rows of a write from which on those that watch are told that any of the table may have changed, not which. */
const MANY = 50;

/**
 * Notes each write to the tables above in the journal, within the same transaction, so that what holds rows in memory
 * learns which of them to read again, in every tab and worker, and nothing is missed when one of them is killed.
 *
 * The second part lies below what tells watchers of writes: every tab and worker is told every key, and a tree of some
 * ten thousand keys holds up each of them for a second. A large write goes to the lower part at once.
 */
export function journaling(): readonly [Middleware<DBCore>, Middleware<DBCore>] {
  let below: DBCore | null = null;
  const floor: Middleware<DBCore> = {
    stack: 'dbcore',
    name: 'journal-floor',
    level: -2,
    create: (core) => {
      below = core;
      return {};
    },
  };
  const notes: Middleware<DBCore> = {
    stack: 'dbcore',
    name: 'journal',
    create: (core) => ({
      ...core,
      transaction: (stores, mode, options) =>
        core.transaction(
          mode === 'readwrite' && stores.some(isJournaled) && !stores.includes('journal')
            ? [...stores, 'journal']
            : stores,
          mode,
          options,
        ),
      table: (name) => {
        const table = core.table(name);
        const journaled = isJournaled(name);
        return {
          ...table,
          mutate: async (request) => {
            const keys = keysOf(request);
            const many = keys && keys.length >= MANY && below;
            const answer = await (many ? writeMany(many, name, request) : table.mutate(request));
            if (!journaled || keys?.length === 0) return answer;
            await core.table('journal').mutate({
              type: 'add',
              trans: request.trans,
              values: [{ table: name, keys } satisfies Omit<JournalRow, 'seq'>],
            });
            return answer;
          },
        };
      },
    }),
  };
  return [floor, notes];
}

/** Writes rows and tells watchers that any of the table may have changed. */
async function writeMany(core: DBCore, table: string, request: DBCoreMutateRequest) {
  const { schema, mutate } = core.table(table);
  const answer = await mutate(request);
  const { trans } = request as { trans: { mutatedParts?: Record<string, object>; _cache?: null } };
  // What was read before in this transaction is not what is stored now.
  trans._cache = null;
  trans.mutatedParts ??= {};
  for (const part of ['', ':dels', ...schema.indexes.map((i) => i.name)])
    trans.mutatedParts[`idb://${core.schema.name}/${table}/${part}`] = new RangeSet(
      core.MIN_KEY,
      core.MAX_KEY,
    );
  return answer;
}

function keysOf(request: DBCoreMutateRequest): readonly string[] | null {
  switch (request.type) {
    case 'add':
    case 'put':
      return request.values.map((row: { id: string }) => row.id);
    case 'delete':
      return request.keys as string[];
    case 'deleteRange':
      return null;
  }
}

/** Journal rows read at once; who is behind more than these begins anew. */
const MOST_BEHIND = 2_000;

/**
 * What was written since a place in the journal; null where it cannot be told row by row: it lies too far back, is not
 * in the journal any more, or a whole range was written.
 */
export async function journalSince(
  journal: Table<JournalRow, number>,
  seen: number,
  tables: readonly JournaledTable[],
): Promise<readonly JournalRow[] | null> {
  if (seen < 0) return null;
  const rows = await journal
    .where('seq')
    .aboveOrEqual(seen)
    .limit(MOST_BEHIND + 2)
    .toArray();
  // Its own last row is still there, unless nothing was ever written.
  const next = rows[0]?.seq === seen ? rows.slice(1) : seen === 0 && (rows[0]?.seq ?? 1) === 1 ? rows : null;
  if (!next || next.length > MOST_BEHIND) return null;
  return next.some((r) => r.keys === null && tables.includes(r.table)) ? null : next;
}

/** Deletes what nobody would read any more: who is that far behind begins anew. */
export async function trimJournal(journal: Table<JournalRow, number>): Promise<void> {
  const end = await journalEnd(journal);
  await journal
    .where('seq')
    .below(end - MOST_BEHIND)
    .delete();
}

/** Place of the newest row of the journal; 0 where there is none. */
export const journalEnd = async (journal: Table<JournalRow, number>): Promise<number> =>
  (await journal.orderBy('seq').last())?.seq ?? 0;
