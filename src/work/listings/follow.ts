import type { Catalogue } from '../../core/catalogue';
import type { Cause, ItemMoves } from '../../core/pricing';
import {
  applyChange,
  catalogueNote,
  type Product,
  type RowChange,
  readDetails,
  supplierById,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { changedItem, itemFrom, itemMoves, withLeapAsked } from '../memory/facts';
import { type FullListing, offersOf } from '../quoting/full-listing';
import { isOnBench } from '../quoting/listing-standing';
import { movingListings, reprice } from './reprice';

/**
 * Compares every item that is sold with its supplier's catalogue as stored, and lets prices and quantities follow, as
 * one named change with its outbox rows in the same transaction. Safe to run again at any time: it starts from what
 * differs. Cost: the supplier's sold items once; the listings of those that moved, and all of them where prices wait.
 */
export async function followSupplier(
  work: Work,
  supplier: string,
  catalogue: Catalogue,
): Promise<{ moved: number; told: number }> {
  const { db } = work;
  const at = work.clock();
  const texts = await changedTexts(work, supplier, catalogue, at);
  return db.transaction('rw', [...db.shopTables, db.notes], async () => {
    const connection = await supplierById(db, supplier);
    if (!connection) return { moved: 0, told: 0 };
    const rows: RowChange[] = [];
    const moved = new Map<string, ItemMoves>();
    const assortment = await caughtUp(work);
    for (const before of assortment.itemsOf(supplier)) {
      const read = itemFrom(catalogue, connection, before.item, at, before);
      const now = read && withLeapAsked(before, read, connection.leap ?? undefined, at);
      const changed = now && changedItem(before, now, at);
      if (!changed) continue;
      const { id: _, ...set } = changed;
      const moves = itemMoves(before, changed);
      rows.push({ table: 'items', id: before.id, set, moves: { item: moves } });
      moved.set(before.id, moves);
    }
    for (const { product, theirs } of texts)
      rows.push({
        table: 'products',
        id: product,
        set: { theirs },
        says: theirs ? 'The supplier changed its text.' : 'The supplier’s text is as it was again.',
      });
    // What waits to be published is no longer what was approved.
    for (const { listing } of assortment.rowsAt(assortment.ofProducts(texts.map((t) => t.product))))
      if (isOnBench(listing) && listing.approvedAt !== null)
        rows.push({
          table: 'listings',
          id: listing.id,
          set: { approvedAt: null },
          says: 'The supplier changed its text: approve it again.',
        });
    const name = `${connection.name} refresh: ${rows.length} moved`;
    await applyChange(
      db,
      { by: 'rule', name, why: 'Prices and quantities follow the supplier.' },
      rows,
      nowOf(work),
      assortment.stored,
    );
    await assortment.catchUp();
    const because = (f: FullListing): Cause => {
      const moves = moved.get(f.item?.id ?? '');
      return moves ? { by: 'item', moves } : { by: 'supplier' };
    };
    const moving = (await movingListings(work, assortment, null)).filter(
      // A backup takes its place, or it takes that of a backup.
      (f) => offersOf(f).some(({ source }) => source.supplier === supplier),
    );
    const moves = await reprice(work, moving, assortment.shop, because, 'rule');
    await applyChange(
      db,
      { by: 'rule', name: `Prices follow ${connection.name}` },
      moves.rows,
      nowOf(work),
      assortment.stored,
    );
    const note = await catalogueNote(db, supplier);
    await db.notes.put({ id: followedId(supplier), value: note?.stamp ?? 0 });
    return { moved: moved.size, told: moves.told };
  });
}

const followedId = (supplier: string) => `followed:${supplier}`;

/** Whether a catalogue changed and what is sold has not followed it: a reading ended and then the work was cut off. */
export async function waitsToFollow(work: Work, supplier: string): Promise<boolean> {
  const note = await catalogueNote(work.db, supplier);
  return (
    note !== undefined &&
    note !== null &&
    (await work.db.notes.get(followedId(supplier)))?.value !== note.stamp
  );
}

/**
 * Products whose supplier text is no longer what it was, with what it is now; null where it is again as it was
 * taken. Reads only what differs.
 */
async function changedTexts(
  work: Work,
  supplier: string,
  c: Catalogue,
  at: number,
): Promise<{ product: string; theirs: Product['theirs'] }[]> {
  const { db } = work;
  const note = await catalogueNote(db, supplier);
  const rowOf = new Map<string, number>();
  const products: Product[] = [];
  for (const [, { product, source }] of (await caughtUp(work)).all()) {
    if (source?.supplier !== supplier || rowOf.has(product.id)) continue;
    const row = c.rowOf(source.item);
    if (row < 0 || c.gone[row]) continue;
    rowOf.set(product.id, row);
    products.push(product);
  }
  const differs = products.filter((p) => {
    const row = rowOf.get(p.id)!;
    const known = p.theirs ?? p.taken;
    return (
      p.taken.mark !== undefined &&
      (known.title !== c.titleAt(row) ||
        known.mark !== c.cold[row] ||
        known.brand !== c.lists.brand[c.codes.brand[row]!] ||
        known.category !== c.lists.category[c.codes.category[row]!])
    );
  });
  if (!note || !differs.length) return [];
  const details = await readDetails(
    db,
    supplier,
    note.generation,
    c,
    differs.map((p) => rowOf.get(p.id)!),
  );
  return differs.map((p) => {
    const row = rowOf.get(p.id)!;
    const item = c.itemAt(row);
    const detail = details.get(item.sku)!;
    const now = {
      title: item.title,
      description: detail.description,
      category: item.category,
      brand: item.brand,
      pictures: detail.pictures,
      at,
      mark: c.cold[row],
    };
    const { taken } = p;
    const same =
      taken.title === now.title &&
      taken.mark === now.mark &&
      taken.brand === now.brand &&
      taken.category === now.category;
    return { product: p.id, theirs: same ? null : now };
  });
}
