import type { DBCore, DBCoreMutateRequest, Middleware } from 'dexie';

/** Tables that the shop in memory is made of. */
export const JOURNALED = ['products', 'variants', 'items', 'listings', 'orders', 'ledger'] as const;
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

/**
 * Notes each write to the tables above in the journal, within the same transaction, so that what holds rows in memory
 * learns which of them to read again, in every tab and worker, and nothing is missed when one of them is killed.
 */
export const journaling: Middleware<DBCore> = {
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
      if (!isJournaled(name)) return table;
      return {
        ...table,
        mutate: async (request) => {
          const answer = await table.mutate(request);
          const keys = keysOf(request);
          if (keys?.length === 0) return answer;
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
