import type { Table } from 'dexie';
import { openLines, standingOf } from '@/core/orders';
import type { Listing, Order } from '@/store';
import { SourceSearcher } from '@/work/catalogue/source-search';
import type { Work } from '@/work/context/work';
import { runRound } from '@/work/jobs/runner';
import { backupsOf, linkListings, removeListings, setBackup } from '@/work/listings/link';
import { takeItems } from '@/work/listings/take';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { lastUndoable } from '@/work/memory/history';
import { cancelOrder, editOrder, forwardOrder, releaseOrder } from '@/work/orders/actions';
import { standsInFor } from '@/work/quoting/full-listing';
import { quoteListing } from '@/work/quoting/quote';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { move } from '../stand-ins/supplier/warehouse';
import { factsOf, itemOf, itemsIn, setOut, type Voyage } from './voyage';

let v: Voyage;
let source: SourceSearcher;
beforeEach(async () => {
  v = await setOut({ second: true });
  await v.settle();
  await v.stockUp(6);
  await v.work.db.settings.update('shop', { forward: 'by hand' });
  source = new SourceSearcher(v.work);
});
afterEach(() => v.end());

let n = 0;
const soldOf = async (sku: string, quantity = 1): Promise<Order> => {
  const made = sell(v.outside.market, chance(++n + 70), v.work.clock(), { quantity, sku })!;
  await v.settle(61_000);
  return now(`pennywharf:${made.number}`);
};
const now = async (id: string) => (await v.work.db.orders.get(id))!;
const purchasesAt = (who: 'brackwater' | 'quillmere') =>
  (who === 'quillmere' ? v.quillmere!.warehouse : v.outside.warehouse).purchases;
/** A listing of goods of Brackwater, and an item of Quillmere that has stock. */
async function pair(): Promise<{ listing: Listing; item: string }> {
  const all = await v.work.db.listings.toArray();
  const listing = (
    await Promise.all(
      all.map(async (l) =>
        (await v.work.db.variants.get(l.variant))!.sources[0]!.supplier === 'brackwater' ? l : null,
      ),
    )
  ).find((l) => l !== null)!;
  const { rows } = await source.search({
    market: 'pennywharf',
    query: 'supplier:quillmere stock:>10',
    sort: 'listed',
    descending: false,
    offset: 0,
    limit: 50,
  });
  return { listing, item: rows.find((r) => r.supplier === 'quillmere')!.item.sku };
}

test('what was bought before a listing is linked anew stays with the supplier it was bought of', async () => {
  const { listing, item } = await pair();
  const old = await itemOf(v.work, listing);
  const order = await soldOf(listing.sku);
  await forwardOrder(v.work, order.id);
  // Linked anew while the purchase is on its way.
  expect(await source.link([{ listing: listing.id, supplier: 'quillmere', item }])).toBe(1);
  await v.settle();
  expect(purchasesAt('brackwater').map((p) => p.lines.map((l) => l.sku))).toEqual([[old]]);
  expect(purchasesAt('quillmere')).toEqual([]);
});

test('what waits when a listing is linked anew is bought as the new item of the new supplier', async () => {
  const { listing, item } = await pair();
  const order = await soldOf(listing.sku);
  await source.link([{ listing: listing.id, supplier: 'quillmere', item }]);
  await forwardOrder(v.work, order.id);
  await v.settle();
  expect(purchasesAt('brackwater')).toEqual([]);
  expect(purchasesAt('quillmere').map((p) => p.lines.map((l) => l.sku))).toEqual([[item]]);
});

test('a listing of several units is linked as a pack: cost, stock and what is bought count all of them', async () => {
  const { listing } = await pair();
  const item = await itemOf(v.work, listing);
  const one = { listing: listing.id, supplier: 'brackwater', item };
  const quoted = async () => {
    const assortment = await caughtUp(v.work);
    // Quotes go from thread to thread.
    return structuredClone(quoteListing(assortment.get(listing.id)!, assortment.shop)!);
  };
  const facts = await factsOf(v.work, listing);
  const single = (await quoted()).costs!;
  await source.search({
    market: 'pennywharf',
    query: '',
    sort: 'listed',
    descending: false,
    offset: 0,
    limit: 1,
  });
  await source.link([{ ...one, pack: 3 }]);
  const three = await quoted();
  expect(three.costs!.goods).toBe(single.goods * 3);
  expect(three.quantity).toBeLessThanOrEqual(Math.floor(facts.stock / 3));
  // Linked again without saying so it stays a pack.
  await source.link([one]);
  expect((await quoted()).costs!.goods).toBe(single.goods * 3);
  await setBackup(v.work, listing.variant, { supplier: 'quillmere', item: 'spare', pack: 2 });
  expect(backupsOf((await v.work.db.variants.get(listing.variant))!)[0]).toMatchObject({
    item: 'spare',
    pack: 2,
  });
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  expect((await quoted()).costs!.goods).toBe(single.goods * 3);
});

test('an order that came in without a link is freed by linking later', async () => {
  const { listing } = await pair();
  const item = await itemOf(v.work, listing);
  await linkListings(v.work, [{ listing: listing.id, supplier: 'brackwater', item: '' }], () => null);
  await v.work.db.settings.update('shop', { forward: 'at once' });
  const order = await soldOf(listing.sku);
  expect(standingOf(order)).toBe('held');
  expect(order.checks.filter((c) => !c.passed).map((c) => c.kind)).toContain('linked');
  await source.search({
    market: 'pennywharf',
    query: '',
    sort: 'listed',
    descending: false,
    offset: 0,
    limit: 1,
  });
  await source.link([{ listing: listing.id, supplier: 'brackwater', item }]);
  await v.settle();
  expect(purchasesAt('brackwater').map((p) => p.reference)).toEqual([order.id]);
  expect(standingOf(await now(order.id))).toBe('with supplier');
});

test('an address that a supplier may have is not taken back under it', async () => {
  const { listing } = await pair();
  const order = await soldOf(listing.sku);
  const shipTo = async ({ id, address }: Order) => (await v.work.db.buyers.get(id))!.addresses[address];
  const edited = { ...(await shipTo(order))!, line2: 'Top floor' };
  await editOrder(v.work, order.id, { address: edited });
  const change = (await lastUndoable(v.work.db))!.id;
  await forwardOrder(v.work, order.id);
  expect(await undo(v.work, change)).toMatchObject({ ok: false });
  await v.settle();
  expect(await undo(v.work, change)).toMatchObject({ ok: false });
  expect(await shipTo(await now(order.id))).toEqual(edited);
  expect(purchasesAt('brackwater')[0]!.shipTo.line2).toBe('Top floor');
});

test('the SKU of a listing that was taken out is not given to other goods', async () => {
  const { listing } = await pair();
  await cancelOrder(v.work, (await soldOf(listing.sku)).id, 'None left');
  const item = await itemOf(v.work, listing);
  const taken = (await v.work.db.items.get(`brackwater:${item}`))!;
  await removeListings(v.work, [listing.id]);
  const found = await source.search({
    market: 'pennywharf',
    query: `"${item}"`,
    sort: 'listed',
    descending: false,
    offset: 0,
    limit: 1,
  });
  expect(taken.item).toBe(item);
  const row = found.rows[0]!;
  await takeItems(v.work, 'pennywharf', [
    { supplier: 'brackwater', item: row.item, detail: (await source.look(row.key, null))!.detail },
  ]);
  const again = await v.work.db.listings.filter((l) => l.state === 'bench').toArray();
  expect(again.map((l) => l.sku)).toEqual([`${listing.sku}-2`]);
});

test('a listing that is on sale shows what the item it is linked to allows, at once', async () => {
  const { listing, item } = await pair();
  const facts = [...(await itemsIn(v.work.db, 'quillmere')).values()].find((i) => i.sku === item)!;
  const shown = v.outside.market.listings[listing.sku]!.quantity;
  move(v.quillmere!.warehouse, item, { stock: 4 });
  await v.work.db.jobs.update('quillmere:catalogue', { nextAt: 0 });
  await v.settle();
  expect(facts.stock).toBeGreaterThan(4);
  await source.link([{ listing: listing.id, supplier: 'quillmere', item }]);
  // Without the hour that a schedule would take.
  for (const job of await v.work.db.jobs.toArray())
    await v.work.db.jobs.update(job.id, { nextAt: v.work.clock() + 3_600_000 });
  await v.settle();
  const now = v.outside.market.listings[listing.sku]!.quantity;
  expect([shown > 2, now]).toEqual([true, 2]);
});

test('while the preferred source has none the backup is sold and bought, and back again; one order takes of both', async () => {
  const { listing, item } = await pair();
  const main = await itemOf(v.work, listing);
  const read = async (who: 'brackwater' | 'quillmere', sku: string, stock: number) => {
    move(who === 'quillmere' ? v.quillmere!.warehouse : v.outside.warehouse, sku, { stock });
    await v.work.db.jobs.update(`${who}:catalogue`, { nextAt: 0 });
    await v.settle();
  };
  await read('brackwater', main, 5);
  await read('quillmere', item, 30);
  await source.setBackup(listing.variant, { supplier: 'quillmere', item });
  await v.settle();
  const shown = () => v.outside.market.listings[listing.sku]!.quantity;
  const full = async () => (await caughtUp(v.work)).get(listing.id)!;
  // What is shown counts both, cost and price go by the preferred one.
  expect([shown(), (await full()).source!.item]).toEqual([5, main]);
  // Out at the preferred one: cost, price and stock shown are of the backup, and the why says so.
  await read('brackwater', main, 0);
  expect((await full()).source).toMatchObject({ supplier: 'quillmere', item });
  expect(standsInFor(await full())).toMatchObject({ supplier: 'brackwater', item: main });
  expect(shown()).toBe(5);
  const order = await soldOf(listing.sku);
  await forwardOrder(v.work, order.id);
  await v.settle();
  expect(purchasesAt('quillmere').map((p) => p.lines.map((l) => l.sku))).toEqual([[item]]);
  expect(purchasesAt('brackwater')).toEqual([]);
  // Two are there again: an order of five takes two of it, three of the backup.
  await read('brackwater', main, 2);
  v.outside.market.listings[listing.sku]!.quantity = 9;
  const five = await soldOf(listing.sku, 5);
  if (standingOf(five) === 'held') await releaseOrder(v.work, five.id, ['profit'], true);
  else await forwardOrder(v.work, five.id);
  await v.settle();
  const bought = (who: 'brackwater' | 'quillmere') =>
    purchasesAt(who).flatMap((p) => (p.reference === five.id ? p.lines.map((l) => l.quantity) : []));
  expect([bought('brackwater'), bought('quillmere')]).toEqual([[2], [3]]);
  expect(openLines(await now(five.id))).toEqual([]);
  await undo(v.work, (await v.work.db.changes.filter((c) => c.name.startsWith('Backup of')).first())!.id);
  expect((await full()).offers).toBeUndefined();
});

test('a copy of the shop that was put back buys nothing of one supplier that it had bought of another', async () => {
  const { listing, item } = await pair();
  const { db } = v.work;
  const order = await soldOf(listing.sku);
  const copied: [Table<object>, object[]][] = [];
  for (const table of db.shopTables as unknown as Table<object>[])
    copied.push([table, await table.toArray()]);
  await source.link([{ listing: listing.id, supplier: 'quillmere', item }]);
  await forwardOrder(v.work, order.id);
  await v.settle();
  expect(purchasesAt('quillmere').map((p) => p.reference)).toEqual([order.id]);
  // Put back as it was before: nothing bought, linked to the first supplier. No news is due for an hour.
  await db.transaction('rw', db.shopTables, async () => {
    for (const [table, rows] of copied) {
      await table.clear();
      await table.bulkPut(rows);
    }
    await db.jobs.toCollection().modify({ nextAt: v.work.clock() + 3_600_000 });
  });
  const opened: Work = { ...v.work };
  expect((await now(order.id)).purchases).toEqual([]);
  await forwardOrder(opened, order.id);
  while (await runRound(opened));
  expect(purchasesAt('brackwater')).toEqual([]);
  expect(purchasesAt('quillmere')).toHaveLength(1);
  expect((await now(order.id)).purchases.filter((p) => p.state === 'accepted')).toMatchObject([
    { supplier: 'quillmere', reference: order.id },
  ]);
  expect(openLines(await now(order.id))).toEqual([]);
});
