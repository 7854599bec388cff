import type { OutboxKind, OutboxRow, SampanDatabase } from '../../store';
import type { Work } from '../context';

const KINDS = [
  'buy',
  'take back',
  'cancel',
  'dispatch',
  'offer',
  'publish',
] as const satisfies readonly OutboxKind[];

const within = (db: SampanDatabase, connection: string, kind: OutboxKind) =>
  db.outbox
    .where('[connection+state+kind+nextAt]')
    .between([connection, 'waiting', kind, 0], [connection, 'waiting', kind, Number.MAX_SAFE_INTEGER]);

/** How many rows wait for a connection. Cost: no row is read. */
export async function countWaiting(
  db: SampanDatabase,
  connection: string,
  kinds: readonly OutboxKind[] = KINDS,
): Promise<number> {
  const counts = await Promise.all(kinds.map((kind) => within(db, connection, kind).count()));
  return counts.reduce((sum, n) => sum + n, 0);
}

/** All rows that wait for a connection, oldest first. */
export async function waitingFor(db: SampanDatabase, connection: string): Promise<OutboxRow[]> {
  const rows = await Promise.all(KINDS.map((kind) => within(db, connection, kind).toArray()));
  return rows.flat().sort((a, b) => a.at - b.at);
}

/** What belongs to orders: sent one after the other, before anything else. */
export const OF_ORDERS = ['buy', 'take back', 'cancel', 'dispatch'] as const satisfies readonly OutboxKind[];

/** Rows of some kinds that are due for a connection, oldest first. Cost: no other row is read. */
export async function dueOf(
  work: Pick<Work, 'db' | 'clock'>,
  connection: string,
  kinds: readonly OutboxKind[],
  most: number,
): Promise<OutboxRow[]> {
  const now = work.clock();
  const rows = await Promise.all(
    kinds.map((kind) =>
      work.db.outbox
        .where('[connection+state+kind+nextAt]')
        .between([connection, 'waiting', kind, 0], [connection, 'waiting', kind, now], true, true)
        .limit(most)
        .toArray(),
    ),
  );
  return rows
    .flat()
    .sort((a, b) => a.at - b.at)
    .slice(0, most);
}
