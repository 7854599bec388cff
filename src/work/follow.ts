import type { Columns } from '../core/catalogue';
import { formatMinor } from '../core/money';
import { applyChange, type Listing, type RowChange, type SupplierFacts } from '../store';
import { nowOf, type Work } from './context';
import { supplierOf } from './quote';
import { movesFor, queueOffers } from './reprice';
import { readShop } from './shop';

/** How a supplier's facts of one item moved, in words; null where they did not. */
function movedInWords(from: SupplierFacts, to: SupplierFacts, gone: boolean, currency: string): string | null {
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
 * Compares everything taken from a supplier with its catalogue as stored, and lets prices and quantities follow, as one named change with its outbox
 * rows in the same transaction. Safe to run again at any time: it starts from what differs. Cost: the supplier's listings and its hot columns once.
 * @param whole whether the catalogue was read to its end, so that a missing item is gone
 */
export async function followSupplier(work: Work, supplier: string, whole: boolean): Promise<{ moved: number; told: number }> {
  const { db } = work;
  const blocks = await db.blocks.where('[connection+from]').between([supplier, ''], [supplier, '￿']).toArray();
  const at = work.clock();
  return db.transaction(
    'rw',
    [db.listings, db.products, db.plans, db.orders, db.settings, db.connections, db.jobs, db.outbox, db.changes, db.edits],
    async () => {
      const listings = await db.listings.where('[supplier+item]').between([supplier, ''], [supplier, '￿']).toArray();
      if (!listings.length) return { moved: 0, told: 0 };
      const wanted = new Map<string, { columns: Columns; i: number }>();
      const skus = new Set(listings.map((l) => l.item));
      for (const { columns } of blocks)
        for (let i = 0; i < columns.length; i++) if (skus.has(columns.sku[i]!)) wanted.set(columns.sku[i]!, { columns, i });

      const shop = await readShop(db);
      const currency = supplierOf(shop, supplier)?.currency ?? '';
      const rows: RowChange[] = [];
      const moved: Listing[] = [];
      const why = new Map<string, string>();
      for (const listing of listings) {
        const found = wanted.get(listing.item);
        if (!found && !whole) continue;
        const facts = found ? factsAt(found.columns, found.i, at) : { ...listing.facts, stock: 0, at };
        const says = movedInWords(listing.facts, facts, !found, currency);
        if (says) {
          rows.push({ table: 'listings', id: listing.id, set: { facts }, says });
          why.set(listing.id, says);
        }
        moved.push(says ? { ...listing, facts } : listing);
      }
      const products = new Map(
        (await db.products.bulkGet([...new Set(moved.map((l) => l.product))])).flatMap((p) => (p ? [[p.id, p] as const] : [])),
      );
      const moves = movesFor(moved, products, shop, work, (l) => why.get(l.id) ?? '');
      await queueOffers(work, moves.outbox);
      const name = `${shop.connections.get(supplier)?.name ?? supplier} refresh: ${rows.length} moved`;
      await applyChange(db, { by: 'rule', name, why: 'Prices and quantities follow the supplier.' }, [...rows, ...moves.rows], nowOf(work));
      return { moved: rows.length, told: moves.outbox.filter((o) => o.state === 'waiting').length };
    },
  );
}

export function factsAt(columns: Columns, i: number, at: number): SupplierFacts {
  const maybe = (n: number) => (n < 0 ? null : n);
  return {
    cost: columns.cost[i]!,
    stock: columns.stock[i]!,
    map: maybe(columns.map[i]!),
    msrp: maybe(columns.msrp[i]!),
    grams: columns.grams[i]!,
    at,
  };
}
