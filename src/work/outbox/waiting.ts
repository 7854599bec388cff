import type { OutboxKind, OutboxRow, SampanDatabase } from '../../store';
import type { Work } from '../context/work';

/** When a row is due that nobody sends before a person says so. */
export const BY_WORD = Number.MAX_SAFE_INTEGER - 1;

export const ALL_KINDS = [
  'buy',
  'take back',
  'cancel',
  'decline',
  'misprint',
  'return',
  'claim',
  'send again',
  'dispatch',
  'message',
  'offer',
  'publish',
] as const satisfies readonly OutboxKind[];

const within = (db: SampanDatabase, connection: string, kind: OutboxKind) =>
  db.outbox
    .where('[connection+state+kind+nextAt]')
    .between([connection, 'waiting', kind, 0], [connection, 'waiting', kind, Number.MAX_SAFE_INTEGER]);

/** Rows counted at most: counting goes through all of them, and holds up whatever else storage is asked. */
export const MOST_COUNTED = 500;

/** How many rows wait for a connection, of each kind at most {@link MOST_COUNTED}. Cost: no row is read. */
export async function countWaiting(
  db: SampanDatabase,
  connection: string,
  kinds: readonly OutboxKind[] = ALL_KINDS,
): Promise<number> {
  const keys = await db.transaction('r', db.outbox, () =>
    Promise.all(kinds.map((kind) => within(db, connection, kind).limit(MOST_COUNTED).primaryKeys())),
  );
  return keys.reduce((sum, some) => sum + some.length, 0);
}

/** How many parcels wait until a person says that a marketplace is told of them. */
export const countByWord = ({ outbox }: SampanDatabase, connection: string): Promise<number> =>
  outbox.where('[connection+state+kind+nextAt]').equals([connection, 'waiting', 'dispatch', BY_WORD]).count();

/** Rows in a state other than waiting, of some kinds. */
export async function rowsIn<K extends OutboxKind>(
  db: SampanDatabase,
  state: 'refused',
  kinds: readonly K[],
): Promise<OutboxRow<K>[]> {
  const connections = (await db.connections.toCollection().primaryKeys()) as string[];
  const rows = await db.transaction('r', db.outbox, () =>
    Promise.all(
      connections.flatMap((c) =>
        kinds.map((kind) =>
          db.outbox
            .where('[connection+state+kind+nextAt]')
            .between([c, state, kind, 0], [c, state, kind, Number.MAX_SAFE_INTEGER])
            .toArray(),
        ),
      ),
    ),
  );
  return rows.flat() as OutboxRow<K>[];
}

/** All rows that wait for a connection, oldest first. */
export async function waitingFor<K extends OutboxKind>(
  db: SampanDatabase,
  connection: string,
  kinds: readonly K[],
): Promise<OutboxRow<K>[]> {
  const rows = await db.transaction('r', db.outbox, () =>
    Promise.all(kinds.map((kind) => within(db, connection, kind).toArray())),
  );
  return (rows.flat() as OutboxRow<K>[]).sort((a, b) => a.at - b.at);
}

/** Kinds of messages about orders, which are sent one after the other and before all others. */
export const OF_ORDERS = [
  'buy',
  'take back',
  'cancel',
  'decline',
  'misprint',
  'return',
  'claim',
  'send again',
  'dispatch',
  'message',
] as const satisfies readonly OutboxKind[];

/** Rows of some kinds that are due for a connection, oldest first. Cost: no other row is read. */
export async function dueOf<K extends OutboxKind>(
  work: Pick<Work, 'db' | 'clock'>,
  connection: string,
  kinds: readonly K[],
  most: number,
): Promise<OutboxRow<K>[]> {
  const now = work.clock();
  const { outbox } = work.db;
  const rows = await work.db.transaction('r', outbox, () =>
    Promise.all(
      kinds.map((kind) =>
        outbox
          .where('[connection+state+kind+nextAt]')
          .between([connection, 'waiting', kind, 0], [connection, 'waiting', kind, now], true, true)
          .limit(most)
          .toArray(),
      ),
    ),
  );
  return (rows.flat() as OutboxRow<K>[]).sort((a, b) => a.at - b.at).slice(0, most);
}

/** Calls rows back that wait; what is on its way is answered all the same. Inside the caller's transaction. */
export async function withdraw({ outbox }: SampanDatabase, ids: readonly string[]): Promise<void> {
  const rows = await outbox.bulkGet([...ids]);
  await outbox.bulkPut(
    rows.flatMap((row) => (row?.state === 'waiting' ? [{ ...row, state: 'withdrawn' }] : [])),
  );
}
