import type { DBCore, Dexie, Middleware } from 'dexie';

const underWay = new WeakMap<Dexie, Set<IDBTransaction>>();

/** Knows which transactions of a database are under way, so that they can be ended with `letGo`. */
export function watchingTransactions(db: Dexie): Middleware<DBCore> {
  const all = new Set<IDBTransaction>();
  underWay.set(db, all);
  return {
    stack: 'dbcore',
    name: 'under-way',
    level: -4,
    create: (core) => ({
      ...core,
      transaction: (stores, mode, options) => {
        const begun = core.transaction(stores, mode, options);
        const transaction = begun as unknown as IDBTransaction;
        all.add(transaction);
        for (const end of ['complete', 'abort'])
          transaction.addEventListener(end, () => all.delete(transaction));
        return begun;
      },
    }),
  };
}

/** Aborts what is under way and closes the database for good: nothing here opens it again. */
export function letGo(db: Dexie): void {
  for (const transaction of underWay.get(db) ?? [])
    try {
      transaction.abort();
    } catch {
      // It is being committed: it ends by itself.
    }
  db.close({ disableAutoOpen: true });
}
