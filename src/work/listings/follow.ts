import type { Catalogue } from '../../core/catalogue';
import { formatMinor } from '../../core/money';
import {
  applyChange,
  catalogueNote,
  type Listing,
  type Product,
  type RowChange,
  readDetails,
  type SupplierFacts,
} from '../../store';
import { nowOf, type Work } from '../context';
import { supplierOf } from '../shop/quote';
import { readShop } from '../shop/read-shop';
import { movesFor, queueOffers } from './reprice';

/** How a supplier's facts of one item moved, in words; null where they did not. */
function movedInWords(
  from: SupplierFacts,
  to: SupplierFacts,
  gone: boolean,
  currency: string,
): string | null {
  const money = (minor: number | null) => (minor === null ? 'none' : formatMinor(minor, currency));
  const says = [
    gone && from.stock > 0 ? 'No longer offered by the supplier.' : '',
    from.cost !== to.cost ? `Cost ${money(from.cost)} → ${money(to.cost)}.` : '',
    !gone && from.stock !== to.stock ? `Stock ${from.stock} → ${to.stock}.` : '',
    from.map !== to.map ? `MAP ${money(from.map)} → ${money(to.map)}.` : '',
    from.msrp !== to.msrp ? `MSRP ${money(from.msrp)} → ${money(to.msrp)}.` : '',
    from.grams !== to.grams ? `Weight ${from.grams} g → ${to.grams} g.` : '',
  ].filter(Boolean);
  return says.length ? says.join(' ') : null;
}

/**
 * Compares everything taken from a supplier with its catalogue as stored, and lets prices and quantities
 * follow, as one named change with its outbox rows in the same transaction. Safe to run again at any time: it
 * starts from what differs. Cost: the supplier's listings once.
 */
export async function followSupplier(
  work: Work,
  supplier: string,
  catalogue: Catalogue,
): Promise<{ moved: number; told: number }> {
  const { db } = work;
  const at = work.clock();
  const texts = await changedTexts(work, supplier, catalogue, at);
  return db.transaction('rw', db.shopTables, async () => {
    const listings = await db.listings
      .where('[supplier+item]')
      .between([supplier, ''], [supplier, '￿'])
      .toArray();
    if (!listings.length) return { moved: 0, told: 0 };
    const shop = await readShop(db, work.clock());
    const currency = supplierOf(shop, supplier)?.currency ?? '';
    const rows: RowChange[] = [];
    const moved: Listing[] = [];
    const why = new Map<string, string>();
    for (const listing of listings) {
      const row = catalogue.rowOf(listing.item);
      const found = row >= 0 && !catalogue.gone[row];
      const facts = found ? factsAt(catalogue, row, at) : { ...listing.facts, stock: 0, at };
      const says = movedInWords(listing.facts, facts, !found, currency);
      if (says) {
        rows.push({ table: 'listings', id: listing.id, set: { facts }, says });
        why.set(listing.id, says);
      }
      moved.push(says ? { ...listing, facts } : listing);
    }
    for (const { product, theirs } of texts)
      rows.push({
        table: 'products',
        id: product,
        set: { theirs },
        says: theirs ? 'The supplier changed its text.' : 'The supplier’s text is as it was again.',
      });
    const products = new Map(
      (await db.products.bulkGet([...new Set(moved.map((l) => l.product))])).flatMap((p) =>
        p ? [[p.id, p] as const] : [],
      ),
    );
    const moves = movesFor(moved, products, shop, work, (l) => why.get(l.id) ?? '');
    await queueOffers(work, moves.outbox);
    const name = `${shop.connections.get(supplier)?.name ?? supplier} refresh: ${rows.length} moved`;
    await applyChange(
      db,
      { by: 'rule', name, why: 'Prices and quantities follow the supplier.' },
      [...rows, ...moves.rows],
      nowOf(work),
    );
    return { moved: rows.length, told: moves.outbox.filter((o) => o.state === 'waiting').length };
  });
}

/**
 * Products whose supplier text is no longer what it was, with what it is now; null where it is again as it
 * was taken. Reads only what differs.
 */
async function changedTexts(
  work: Work,
  supplier: string,
  c: Catalogue,
  at: number,
): Promise<{ product: string; theirs: Product['theirs'] }[]> {
  const { db } = work;
  const note = await catalogueNote(db, supplier);
  const listings = await db.listings
    .where('[supplier+item]')
    .between([supplier, ''], [supplier, '￿'])
    .toArray();
  const rowOf = new Map<string, number>();
  for (const l of listings) {
    const row = rowOf.has(l.product) ? -1 : c.rowOf(l.item);
    if (row >= 0 && !c.gone[row]) rowOf.set(l.product, row);
  }
  const products = (await db.products.bulkGet([...rowOf.keys()])).filter((p) => p !== undefined);
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

export function factsAt(catalogue: Catalogue, row: number, at: number): SupplierFacts {
  const { cost, stock, map, msrp, grams } = catalogue.numbers;
  const maybe = (n: number) => (n < 0 ? null : n);
  return {
    cost: cost[row]!,
    stock: stock[row]!,
    map: maybe(map[row]!),
    msrp: maybe(msrp[row]!),
    grams: grams[row]!,
    at,
  };
}
