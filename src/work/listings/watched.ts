import { hashOf } from '../../core/catalogue';
import type { Work } from '../context/work';

/** Hash by which a watched search knows a match again. */
export const matchHash = (supplier: string, sku: string): number => hashOf(`${supplier}:${sku}`);

/** Marks items that the seller left out as known to every watched search. Runs inside the caller’s transaction. */
export async function noteLeftOut(
  { db }: Pick<Work, 'db'>,
  items: readonly { readonly supplier: string; readonly item: string }[],
): Promise<void> {
  const hashes = items.map((one) => matchHash(one.supplier, one.item));
  for (const search of await db.searches.toArray()) {
    if (search.watch === 'off') continue;
    const known = Int32Array.from(new Set([...search.known, ...hashes]));
    await db.searches.update(search.id, { known });
  }
}
