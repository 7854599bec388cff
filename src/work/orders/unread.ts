import { readMarketOrder } from '../../connect/marketplace';
import { readSupplierOrder } from '../../connect/supplier';
import { type Connection, connectionById, type UnreadRow } from '../../store';
import type { Work } from '../context/work';
import type { Said } from './actions';
import { takeOrders } from './intake';
import { takeSupplierNews } from './supplier-news';
import { entryName } from './unread-store';

/** Takes an entry in as its connection's feed would have. @returns why it cannot be read; null where it was */
async function take(work: Work, c: Connection, plain: unknown): Promise<string | null> {
  if (c.role === 'marketplace') {
    const read = readMarketOrder(plain, c.site.currency);
    if (typeof read === 'string') return read;
    await takeOrders(work, c, { orders: [read], refused: [], next: null });
  } else {
    const read = readSupplierOrder(plain, c.currency);
    if (typeof read === 'string') return read;
    await takeSupplierNews(work, c, [read], [], null);
  }
  return null;
}

/**
 * Reads an entry again: as it came, or as a person put it right. Its number must stay: by it the order is known outside.
 * @param text JSON; null for as it came
 */
export async function readAgain(work: Work, id: string, text: string | null = null): Promise<Said> {
  const { db } = work;
  const row = await db.unread.get(id);
  const c = row && (await connectionById(db, row.connection));
  if (!row || !c) return { ok: false, reason: 'It is not there any more.' };
  let { plain } = row;
  if (text !== null) {
    try {
      plain = JSON.parse(text) as unknown;
    } catch (error) {
      return { ok: false, reason: `This is no JSON: ${(error as Error).message}` };
    }
    if (entryName(plain) !== entryName(row.plain) && !entryName(row.plain).startsWith('~'))
      return {
        ok: false,
        reason: `The number must stay ${entryName(row.plain)}: by it the order is known outside.`,
      };
  }
  const reason = await take(work, c, plain);
  if (reason === null) {
    await db.unread.delete(id);
    return { ok: true };
  }
  await db.unread.update(id, { reason });
  return { ok: false, reason };
}

/** Reads all again that is kept and not set aside, as after an update. @returns how many were read */
export async function readAllAgain(work: Work): Promise<number> {
  let read = 0;
  for (const row of await work.db.unread.toArray())
    if (!row.aside && (await readAgain(work, row.id)).ok) read++;
  return read;
}

/** Sets an entry aside: nothing is wanted of it, and nobody is asked about it any more. */
export async function setAside({ db }: Work, id: string): Promise<Said> {
  return (await db.unread.update(id, { aside: true }))
    ? { ok: true }
    : { ok: false, reason: 'It is not there any more.' };
}

/** The entries that could not be read and wait for a person, oldest first. */
export const unreadRows = async ({ db }: Pick<Work, 'db'>): Promise<UnreadRow[]> =>
  (await db.unread.toArray()).filter((row) => !row.aside).sort((a, b) => a.at - b.at);
