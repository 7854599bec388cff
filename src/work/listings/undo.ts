import { groupsIn } from '../../core/groups';
import { isActive } from '../../core/orders';
import {
  addedIn,
  type ChangedTable,
  type Edit,
  type Listing,
  type Order,
  type Undone,
  undoChange,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { queueChanges } from './publish';
import { listedOn, repriceAfter, tellFullPrices } from './rules';

/** Takes a change back; listings that went live meanwhile stay, and live prices follow what was brought back. */
export async function undo(work: Work, id: string): Promise<Undone> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const sold = soldOf(assortment, await addedIn(db, id));
    const kept = {
      listings: new Set(sold.map((l) => l.id)),
      variants: new Set(sold.map((l) => l.variant)),
      products: new Set(sold.map((l) => l.product)),
    } as const;
    const isKept = (e: Edit) =>
      e.before === null &&
      e.table in kept &&
      kept[e.table as keyof typeof kept].has(e.subject.slice(e.subject.indexOf(':') + 1));
    // An address that a supplier has, or may have, by now is what it was sent with. What it refused was never sent.
    const isSent = (e: Edit, row: unknown) =>
      e.table === 'orders' && (!row || (row as Order).purchases.some(isActive));
    const undone = await undoChange(
      db,
      id,
      nowOf(work),
      (e, row) => !isKept(e) && !isSent(e, row),
      (table, rowId) => assortment.has(table, rowId),
    );
    if (undone.ok) await followUndo(work, undone);
    return undone;
  });
}

/** Listings past the Bench that are among added rows, or are made of them. */
function soldOf(assortment: Assortment, added: ReadonlyMap<ChangedTable, readonly string[]>): Listing[] {
  const idsOf = (table: ChangedTable) => added.get(table) ?? [];
  const places = [
    ...idsOf('listings').map((id) => assortment.placeOf(id)),
    ...assortment.ofVariants(idsOf('variants')),
    ...assortment.ofProducts(idsOf('products')),
  ];
  return assortment.rowsAt(places).flatMap(({ listing }) => (listing.state === 'bench' ? [] : [listing]));
}

/** Lets listings follow a change that was undone: those it touched, or all of them for a rule or a connection. */
async function followUndo(work: Work, { name, redone, touched }: Undone & { ok: true }): Promise<void> {
  const idsOf = (table: ChangedTable) => touched.flatMap((t) => (t.table === table ? [t.id] : []));
  const all = (['plans', 'settings', 'connections', 'rates', 'groups'] as const).some((t) => idsOf(t).length);
  const assortment = await caughtUp(work);
  const of = assortment.rowsAt([
    ...assortment.ofProducts(idsOf('products')),
    ...assortment.ofVariants(idsOf('variants')),
  ]);
  const ids = [...new Set([...idsOf('listings'), ...of.map((f) => f.listing.id)])];
  if (all || ids.length) await repriceAfter(work, all ? null : ids, `${redone ? 'Redo' : 'Undo'}: ${name}`);
  if (touched.some((t) => t.table === 'plans' && t.fields.includes('sale'))) await tellFullPrices(work);
  // What was told of texts is told anew.
  const markets = touched.flatMap((t) =>
    t.table === 'connections' && t.fields.some((field) => TOLD_OF_ALL.has(field)) ? [t.id] : [],
  );
  // Presets may go by groups.
  if (idsOf('groups').length)
    for (const c of assortment.shop.connections.values())
      if (c.role === 'marketplace' && c.presets?.some((p) => groupsIn(p.filter).length)) markets.push(c.id);
  const told = touched.some((t) => t.fields.some((field) => TOLD.has(field)));
  if (told || markets.length) await queueChanges(work, [...ids, ...listedOn(assortment, markets)]);
}

/** Fields that a marketplace is told of besides price and quantity. */
const TOLD: ReadonlySet<string> = new Set([
  'title',
  'description',
  'brand',
  'category',
  'attributes',
  'tags',
  'copy',
  'pictures',
  'alts',
  'gtin',
  'grams',
  'size',
  'apart',
]);

/** Fields whose change is sent for all listings of a marketplace. */
const TOLD_OF_ALL: ReadonlySet<string> = new Set(['categories', 'presets', 'site', 'agreed', 'fees']);
