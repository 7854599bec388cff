import type { Unreadable } from '../../connect/feed';
import { hashOf } from '../../core/catalogue';
import type { UnreadRow } from '../../store';
import type { Work } from '../context/work';

/** Number of an order as far as it can be told; else a mark of what came, so that the same comes once. */
export function entryName(plain: unknown): string {
  const number = (plain as { number?: unknown } | null)?.number;
  return typeof number === 'string' && /^[\w-]{1,64}$/.test(number)
    ? number
    : `~${hashOf(JSON.stringify(plain) ?? '')}`;
}

/** Characters of an entry that are kept at most; one that is longer is kept by its name alone. */
const LONGEST = 100_000;

/** Keeps entries of a feed that cannot be read, as they came. Runs inside the caller's transaction. */
export async function keepUnread(
  { db, clock }: Work,
  connection: string,
  entries: readonly Unreadable[],
): Promise<void> {
  const at = clock();
  const rows = entries.map(({ plain, reason }): UnreadRow => {
    const id = `${connection}:${entryName(plain)}`;
    const kept = (JSON.stringify(plain)?.length ?? 0) <= LONGEST ? plain : { number: entryName(plain) };
    return { id, connection, plain: kept, reason, at, aside: false };
  });
  const before = await db.unread.bulkGet(rows.map((r) => r.id));
  // What was set aside stays so while it says the same.
  const same = (row: UnreadRow, k: number) =>
    JSON.stringify(before[k]?.plain) === JSON.stringify(row.plain) && before[k]!.aside;
  await db.unread.bulkPut(rows.map((row, k) => ({ ...row, aside: same(row, k) })));
}

/** Lets go of what can be read by now. Runs inside the caller's transaction. */
export async function nowRead({ db }: Work, connection: string, numbers: readonly string[]): Promise<void> {
  const ids = numbers.map((n) => `${connection}:${n}`);
  const known = (await db.unread.bulkGet(ids)).flatMap((row) => (row ? [row.id] : []));
  if (known.length) await db.unread.bulkDelete(known);
}
