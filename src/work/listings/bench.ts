import type { Item, ItemDetail } from '../../core/catalogue';
import { countOf } from '../../core/units';
import {
  addAll,
  applyChange,
  type ChangedTable,
  type ChangeHead,
  type Edit,
  type Listing,
  type OutboxRow,
  type Product,
  type RowChange,
  type SampanDatabase,
  settingsOf,
  type Undone,
  undoChange,
} from '../../store';
import { nowOf, type Work } from '../context';
import { outgoing } from '../outbox/row';
import type { PublishBody } from '../outbox/send';
import { marketOf, missingOf, quoteListing, type Shop } from '../shop/quote';
import { readShop } from '../shop/read-shop';
import { movesFor, queueOffers } from './reprice';

/**
 * Our SKU for a supplier's by the shop's pattern; where that is another item's already, a count is put behind it.
 * @example ownSku('DD-{number}', 'BW-010001', …) → DD-010001
 */
function ownSku(pattern: string, sku: string, marketplace: string, used: Set<string>): string {
  const own = pattern.replaceAll('{sku}', sku).replaceAll('{number}', sku.replace(/^[A-Za-z]+-/, '')) || sku;
  let free = own;
  for (let n = 2; used.has(`${marketplace}:${free}`); n++) free = `${own}-${n}`;
  used.add(`${marketplace}:${free}`);
  return free;
}

export interface Taken {
  readonly products: number;
  readonly listings: number;
}

/** An item on its way to the Bench. */
export interface Taking {
  readonly supplier: string;
  readonly item: Item;
  readonly detail: ItemDetail | null;
  /** Hash of the detail as the supplier gave it. */
  readonly mark?: number;
}

/** Rows written between two tellings of progress. */
const AT_ONCE = 2_000;

/**
 * Puts items on the Bench as one change: items of one group become one product with a listing for each
 * variant. Items taken already are passed over. Cost: about 0.4 ms an item, all in one transaction.
 * @param head who does it and why, where it is not a person's own taking
 * @param tell hears how many rows are written
 */
export async function takeItems(
  work: Work,
  marketplace: string,
  items: readonly Taking[],
  head: Partial<ChangeHead> = {},
  tell?: (done: number, total: number) => void,
): Promise<Taken> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const at = work.clock();
    const pattern = (await settingsOf(db)).sku;
    const used = new Set([
      ...(await db.listings.toCollection().primaryKeys()),
      ...(await db.removed.toCollection().primaryKeys()),
    ]);
    const taken = new Set<string>();
    for (const supplier of new Set(items.map((i) => i.supplier))) {
      const keys = await db.listings.where('[supplier+item]').between([supplier, ''], [supplier, '￿']).keys();
      for (const [, sku] of keys as unknown as [string, string][]) taken.add(`${supplier}:${sku}`);
    }
    const groups = new Map<string, Taking[]>();
    for (const one of items) {
      if (taken.has(`${one.supplier}:${one.item.sku}`)) continue;
      const key = `${one.supplier}:${one.item.group ?? one.item.sku}`;
      const own = groups.get(key);
      if (own) own.push(one);
      else groups.set(key, [one]);
    }
    const ids = [...groups.keys()];
    const known = new Set((await db.products.bulkGet(ids)).flatMap((p) => (p ? [p.id] : [])));
    const products: Product[] = [];
    const listings: Listing[] = [];
    for (const [id, members] of groups) {
      const { supplier, item: first, detail, mark } = members[0]!;
      if (!known.has(id))
        products.push({
          id,
          supplier,
          group: first.group,
          marketplace,
          taken: {
            title: first.title,
            description: detail?.description ?? '',
            category: first.category,
            brand: first.brand,
            pictures: detail?.pictures ?? [],
            at,
            mark,
          },
          theirs: null,
          title: null,
          description: null,
          category: null,
          plan: null,
          approvedAt: null,
        });
      for (const { item } of members) {
        const sku = ownSku(pattern, item.sku, marketplace, used);
        const { cost, stock, map, msrp, grams } = item;
        listings.push({
          id: `${marketplace}:${sku}`,
          product: id,
          marketplace,
          supplier,
          item: item.sku,
          sku,
          options: item.options,
          gtin: item.gtin,
          facts: { cost, stock, map, msrp, grams, at },
          backup: null,
          state: 'bench',
          ownPrice: null,
          told: null,
          problem: null,
          last: { at, says: 'Taken from the catalogue.' },
        });
      }
    }
    const total = products.length + listings.length;
    let done = 0;
    const name = `Take ${countOf(listings.length, 'item')} to the Bench`;
    await addAll(
      db,
      { by: 'person', name, ...head },
      [
        { table: 'products', rows: products },
        { table: 'listings', rows: listings },
      ],
      nowOf(work),
      AT_ONCE,
      (n) => {
        done += n;
        tell?.(done, total);
      },
    );
    return { products: groups.size, listings: listings.length };
  });
}

/**
 * Own text, category or plan of a product; null goes back to the supplier's. An approval falls away when what
 * was approved changes.
 */
export async function editProduct(
  work: Work,
  id: string,
  edit: Partial<Pick<Product, 'title' | 'description' | 'category' | 'plan'>>,
): Promise<void> {
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const product = await db.products.get(id);
    if (!product) return;
    const field = Object.keys(edit)[0] ?? 'text';
    const says = `${field[0]!.toUpperCase()}${field.slice(1)} edited.`;
    await applyChange(
      db,
      { by: 'person', name: `Edit ${field} of ${product.title ?? product.taken.title}` },
      [{ table: 'products', id, set: { ...edit, approvedAt: null }, says }],
      nowOf(work),
    );
    if (edit.plan !== undefined || edit.category !== undefined)
      await repriceProducts(work, [id], 'Plan or category changed.');
  });
}

/**
 * An own price for one variant, or null to follow the plan again. A live listing is told at once. @throws
 * RangeError where the price is not more than nothing
 */
export async function setOwnPrice(work: Work, listing: Listing, price: number | null): Promise<void> {
  if (price !== null && !(Number.isSafeInteger(price) && price > 0))
    throw new RangeError(`${price} is no price`);
  const { db } = work;
  await db.transaction('rw', db.shopTables, async () => {
    const name = price === null ? `${listing.sku} follows its plan again` : `Own price for ${listing.sku}`;
    const rows: RowChange[] = [
      { table: 'listings', id: listing.id, set: { ownPrice: price }, says: `${name}.` },
      { table: 'products', id: listing.product, set: listing.state === 'bench' ? { approvedAt: null } : {} },
    ];
    await applyChange(db, { by: 'person', name }, rows, nowOf(work));
    await repriceProducts(work, [listing.product], `${name}.`);
  });
}

/** Lets the live listings of products follow what was just changed. Runs inside the caller's transaction. */
async function repriceProducts(work: Work, ids: readonly string[] | null, because: string): Promise<number> {
  const { db } = work;
  const shop = await readShop(db, work.clock());
  const listings = ids
    ? await db.listings.where('product').anyOf(ids).toArray()
    : await db.listings.where('state').anyOf(['live', 'paused']).toArray();
  const products = new Map(
    (ids ? await db.products.bulkGet([...ids]) : await db.products.toArray()).flatMap((p) =>
      p ? [[p.id, p] as const] : [],
    ),
  );
  const moves = movesFor(listings, products, shop, work, () => because);
  await queueOffers(work, moves.outbox);
  await applyChange(db, { by: 'rule', name: `Prices follow: ${because}` }, moves.rows, nowOf(work));
  return moves.outbox.filter((o) => o.state === 'waiting').length;
}

/**
 * Saves a plan, the stock rule, or both, and lets the whole shop follow. Undo brings the old values and the
 * old prices back.
 */
export async function saveRules(
  work: Work,
  change: { plan?: { id: string; set: Record<string, unknown> }; stock?: { atMost: number; safety: number } },
  name: string,
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const rows: RowChange[] = [];
    if (change.plan) rows.push({ table: 'plans', id: change.plan.id, set: change.plan.set, says: name });
    if (change.stock) rows.push({ table: 'settings', id: 'shop', set: { stock: change.stock }, says: name });
    await applyChange(db, { by: 'person', name }, rows, nowOf(work));
    return repriceProducts(work, null, `${name}.`);
  });
}

/**
 * Takes a change back; listings that went live meanwhile stay, and live prices follow what was brought back.
 */
export async function undo(work: Work, id: string): Promise<Undone> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const gone = (e: Edit, row: unknown) => {
      if (e.before !== null) return false;
      if (e.table === 'listings') return (row as Listing | undefined)?.state !== 'bench';
      return false;
    };
    const live = new Set(
      (await db.listings.where('state').noneOf(['bench']).toArray()).map((l) => l.product),
    );
    const undone = await undoChange(
      db,
      id,
      nowOf(work),
      (e, row) =>
        !gone(e, row) &&
        !(e.table === 'products' && e.before === null && live.has(e.subject.slice('product:'.length))),
    );
    if (undone.ok) await followUndo(work, undone);
    return undone;
  });
}

/**
 * What follows a change that was taken back: the products it touched; all of them where it was a rule or a
 * connection.
 */
async function followUndo(work: Work, { name, touched }: Undone & { ok: true }): Promise<void> {
  const { db } = work;
  const idsOf = (table: ChangedTable) => touched.flatMap((t) => (t.table === table ? [t.id] : []));
  const listings = await db.listings.bulkGet(idsOf('listings'));
  const products = new Set([...idsOf('products'), ...listings.flatMap((l) => (l ? [l.product] : []))]);
  const all = touched.some(
    ({ table }) => table === 'plans' || table === 'settings' || table === 'connections',
  );
  if (all || products.size) await repriceProducts(work, all ? null : [...products], `Undo: ${name}.`);
}

/** The last change a person made that can be taken back. */
export async function lastUndoable(db: SampanDatabase) {
  return db.changes
    .orderBy('at')
    .reverse()
    .filter((c) => c.by === 'person' && c.undoable && c.undoneBy === null)
    .first();
}

/**
 * What stands on the Bench of one product: its variants that are not live, each with its quote and what is
 * missing.
 */
export function benchStanding(product: Product, listings: readonly Listing[], shop: Shop) {
  const site = marketOf(shop, product.marketplace)?.site;
  const variants = listings.map((listing) => {
    const quote = quoteListing(listing, product, shop);
    return { listing, quote, missing: quote && site ? missingOf(listing, product, quote, site) : [] };
  });
  const missing = variants.flatMap((v) => v.missing);
  return { variants, missing, ready: missing.length === 0 && variants.length > 0 && site !== undefined };
}

/** Approves products that lack nothing, as one change. */
export async function approve(
  work: Work,
  ids: readonly string[],
): Promise<{ approved: number; lacking: number }> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const shop = await readShop(db, work.clock());
    const at = work.clock();
    const rows: RowChange[] = [];
    for (const product of await db.products.bulkGet([...ids])) {
      if (!product || product.approvedAt !== null) continue;
      const listings = (await db.listings.where('product').equals(product.id).toArray()).filter(
        (l) => l.state === 'bench' || l.state === 'refused',
      );
      if (benchStanding(product, listings, shop).ready)
        rows.push({ table: 'products', id: product.id, set: { approvedAt: at }, says: 'Approved.' });
    }
    await applyChange(
      db,
      { by: 'person', name: `Approve ${rows.length} ${rows.length === 1 ? 'product' : 'products'}` },
      rows,
      nowOf(work),
    );
    return { approved: rows.length, lacking: ids.length - rows.length };
  });
}

/** Takes products off the Bench again. Those with a live listing stay. */
export async function putBack(work: Work, ids: readonly string[]): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const rows: RowChange[] = [];
    let n = 0;
    for (const id of ids) {
      const listings = await db.listings.where('product').equals(id).toArray();
      const bench = listings.filter((l) => l.state === 'bench' || l.state === 'refused');
      if (bench.length) n++;
      for (const l of bench) rows.push({ table: 'listings', remove: l.id });
      if (bench.length === listings.length) rows.push({ table: 'products', remove: id });
    }
    await applyChange(db, { by: 'person', name: `Put ${n} back` }, rows, nowOf(work));
    return n;
  });
}

/**
 * Writes a publish row for each approved product's variants that are not live, with price and quantity as of
 * now, and marks them. What lacks something by now is left where it is.
 */
export async function publish(work: Work, ids: readonly string[]): Promise<{ queued: number; left: number }> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const shop = await readShop(db, work.clock());
    const at = work.clock();
    const rows: RowChange[] = [];
    const outbox: OutboxRow[] = [];
    let left = 0;
    for (const product of await db.products.bulkGet([...ids])) {
      if (!product || product.approvedAt === null) {
        left++;
        continue;
      }
      const listings = (await db.listings.where('product').equals(product.id).toArray()).filter(
        (l) => l.state === 'bench' || l.state === 'refused',
      );
      const standing = benchStanding(product, listings, shop);
      for (const { listing, quote, missing } of standing.variants) {
        if (missing.length || !quote?.category || quote.price === null) {
          left++;
          continue;
        }
        const draft = {
          sku: listing.sku,
          group: product.group,
          options: listing.options,
          title: product.title ?? product.taken.title,
          description: product.description ?? product.taken.description,
          category: quote.category,
          brand: product.taken.brand,
          gtin: listing.gtin,
          pictures: product.taken.pictures,
          price: quote.price,
          quantity: quote.quantity,
        };
        const body: PublishBody = { listing: listing.id, draft };
        outbox.push(
          outgoing(
            `publish:${listing.id}`,
            listing.marketplace,
            'publish',
            `listing:${listing.id}`,
            body,
            at,
          ),
        );
        rows.push({
          table: 'listings',
          id: listing.id,
          set: { state: 'publishing', problem: null },
          says: 'Sent to be published.',
        });
      }
    }
    await db.outbox.bulkPut(outbox);
    await applyChange(
      db,
      {
        by: 'person',
        name: `Publish ${outbox.length} ${outbox.length === 1 ? 'listing' : 'listings'}`,
        undoable: false,
      },
      rows,
      nowOf(work),
    );
    return { queued: outbox.length, left };
  });
}

/** Calls back what was not sent yet. */
export async function stopPublishing(work: Work): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const waiting = (
      await db.outbox
        .where('[state+nextAt]')
        .between(['waiting', 0], ['waiting', Number.MAX_SAFE_INTEGER])
        .toArray()
    ).filter((r) => r.kind === 'publish' && r.attempts === 0);
    await db.outbox.bulkDelete(waiting.map((r) => r.id));
    const rows: RowChange[] = waiting.map((r) => ({
      table: 'listings',
      id: (r.body as PublishBody).listing,
      set: { state: 'bench' },
      says: 'Stopped before it was sent.',
    }));
    await applyChange(
      db,
      { by: 'person', name: `Stop publishing ${waiting.length}`, undoable: false },
      rows,
      nowOf(work),
    );
    return waiting.length;
  });
}
