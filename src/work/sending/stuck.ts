import type { OutboxRow } from '../../store';
import { failureInWords, noteFailure } from '../context/failure';
import type { Work } from '../context/work';
import { backoff } from '../outbox/circuit';

/** A row that something here failed at, not the other side; kept beside it so that a person is told. */
export interface StuckRow {
  readonly connection: string;
  readonly kind: OutboxRow['kind'];
  readonly order: string | null;
  readonly says: string;
  readonly tries: number;
}

const stuckId = (row: string) => `stuck:${row}`;

/** Rows that failed here more than once. */
export const stuckRows = async ({ db }: Pick<Work, 'db'>): Promise<StuckRow[]> =>
  (await db.notes.where('id').startsWith('stuck:').toArray())
    .map((note) => note.value as StuckRow)
    .filter((row) => row.tries > 1);

/**
 * Lets rows that something here failed at wait ever longer, so that they stand in no other's way; each goes alone the next
 * time. What no storage takes is thrown on.
 */
export async function stepAside(work: Work, rows: readonly OutboxRow[], error: unknown): Promise<void> {
  noteFailure(error);
  const says = failureInWords(error);
  const at = work.clock();
  await work.db.outbox.bulkUpdate(
    rows.map((r) => ({
      key: r.id,
      changes: { attempts: r.attempts + 1, nextAt: at + backoff(r.attempts + 2, work.chance()), says },
    })),
  );
  if (rows.length > 1) return;
  await work.db.notes.bulkPut(
    rows.map(({ id, connection, kind, order, attempts }) => {
      const value: StuckRow = { connection, kind, order, says, tries: attempts + 1 };
      return { id: stuckId(id), value };
    }),
  );
}

export async function wentWell(work: Work, row: OutboxRow): Promise<void> {
  if (row.attempts > 0) await work.db.notes.delete(stuckId(row.id));
}
