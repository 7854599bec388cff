import type { OutboxKind, OutboxRow, SampanDatabase } from '../../store';

/**
 * Kinds in the order in which they are sent: what is bought, what buyers wait for, what is shown of what sells, what is
 * new.
 */
export const KINDS = [
  'buy',
  'take back',
  'cancel',
  'dispatch',
  'offer',
  'publish',
] as const satisfies readonly OutboxKind[];

const within = (db: SampanDatabase, connection: string, kind: OutboxKind, until: number) =>
  db.outbox
    .where('[connection+state+kind+nextAt]')
    .between([connection, 'waiting', kind, 0], [connection, 'waiting', kind, until], true, true);

/** Rows of one kind that are due at a connection, oldest first. Cost: those alone. */
export const dueAt = (
  db: SampanDatabase,
  connection: string,
  kind: OutboxKind,
  at: number,
  most: number,
): Promise<OutboxRow[]> => within(db, connection, kind, at).limit(most).toArray();

/** How many rows wait for a connection. Cost: no row is read. */
export async function countWaiting(
  db: SampanDatabase,
  connection: string,
  kinds: readonly OutboxKind[] = KINDS,
): Promise<number> {
  const counts = await Promise.all(
    kinds.map((kind) => within(db, connection, kind, Number.MAX_SAFE_INTEGER).count()),
  );
  return counts.reduce((sum, n) => sum + n, 0);
}

/** All rows that wait for a connection, oldest first. */
export async function waitingFor(db: SampanDatabase, connection: string): Promise<OutboxRow[]> {
  const rows = await Promise.all(
    KINDS.map((kind) => within(db, connection, kind, Number.MAX_SAFE_INTEGER).toArray()),
  );
  return rows.flat().sort((a, b) => a.at - b.at);
}
