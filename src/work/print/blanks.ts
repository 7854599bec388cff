import type { Result } from '../../connect/reach';
import { type BlankRow, blankKey, type SupplierConnection } from '../../store';
import { supplierAdapter } from '../context/adapters';
import type { Work } from '../context/work';

/**
 * Reads what a maker prints on. A blank that its answer does not name is gone; those that cannot be read stay as they were.
 * @returns how many there are, and why others could not be read
 */
export async function readBlanks(
  work: Work,
  c: SupplierConnection,
): Promise<Result<{ readonly blanks: number; readonly refused: readonly string[] }>> {
  const { db } = work;
  const answer = await (await supplierAdapter(work, c)).blanks();
  if (!answer.ok) return answer;
  const { blanks, refused } = answer.value;
  const at = work.clock();
  await db.transaction('rw', [db.blanks, db.notes], async () => {
    await db.notes.put({ id: `blanks:${c.id}`, value: refused });
    const known = new Map((await db.blanks.where({ supplier: c.id }).toArray()).map((b) => [b.blank, b]));
    const rows = blanks.map((blank): BlankRow => {
      known.delete(blank.id);
      return { ...blank, id: blankKey(c.id, blank.id), blank: blank.id, supplier: c.id, at, gone: false };
    });
    const unread = new Set(refused.map((why) => why.slice(0, why.indexOf(':'))));
    const gone = [...known.values()].filter((b) => !unread.has(b.blank)).map((b) => ({ ...b, gone: true }));
    await db.blanks.bulkPut([...rows, ...gone]);
  });
  return { ok: true, value: { blanks: blanks.length, refused } };
}

/** Why blanks of any maker could not be read the last time, in sentences. */
export async function refusedBlanks({ db }: Pick<Work, 'db'>): Promise<string[]> {
  const notes = await db.notes.where('id').startsWith('blanks:').toArray();
  return notes.flatMap(({ value }) => value as readonly string[]);
}

/** All blanks, by maker and name. */
export async function allBlanks({ db }: Pick<Work, 'db'>): Promise<BlankRow[]> {
  const rows = await db.blanks.toArray();
  return rows.sort((a, b) => (a.supplier + a.name < b.supplier + b.name ? -1 : 1));
}
