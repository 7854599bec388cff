import { chargeOf } from '@/core/orders';
import { NO_COST_RULES } from '@/core/pricing';
import { marketById } from '@/store';
import { SourceSearcher } from '@/work/catalogue/source-search';
import {
  buyersOfOrders,
  saveBuyers,
  saveFees,
  saveKeptOff,
  saveSupplierCosts,
} from '@/work/connections/connection-terms';
import { approve } from '@/work/listings/approve';
import { undo } from '@/work/listings/undo';
import { caughtUp } from '@/work/memory/assortment';
import { lastUndoable } from '@/work/memory/history';
import { feeCheck } from '@/work/order-book/fee-check';
import { whatIfTerms } from '@/work/pricing/what-if';
import { readGoods } from '@/work/quoting/goods';
import { quoteListing } from '@/work/quoting/quote';
import { jobId } from '@/work/schedule/job';
import { sell } from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance } from '../stand-ins/supplier/warehouse';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
beforeEach(async () => {
  v = await setOut({ items: 240, markets: ['pennywharf'] });
  await v.settle();
  await v.stockUp(8);
});
afterEach(() => v.end());

const market = async () => (await marketById(v.work.db, 'pennywharf'))!;
const live = async () => (await v.work.db.listings.toArray()).filter((l) => l.state === 'live');
const prices = async () => Object.fromEntries((await live()).map((l) => [l.id, l.published!.price]));
const HANDLED = { ...NO_COST_RULES, handling: { order: 120, item: 30 }, paying: { rate: 20_000, fixed: 25 } };

test('what buying costs besides moves prices as it was said before, each sum with its lines, and goes back', async () => {
  const before = await prices();
  const ahead = await whatIfTerms(v.work, { connection: { id: 'brackwater', terms: { costs: HANDLED } } });
  expect(ahead.rise).toBeGreaterThan(0);
  expect(await saveSupplierCosts(v.work, 'brackwater', HANDLED)).toBe(ahead.rise + ahead.fall);
  await v.settle();
  const after = await prices();
  for (const p of ahead.prospects) expect(after[p.id]).toBe(p.to);
  const [one] = await live();
  const { shop } = await caughtUp(v.work);
  const quote = quoteListing((await caughtUp(v.work)).get(one!.id)!, shop)!;
  const lines = Object.fromEntries(quote.sum!.lines.map((l) => [l.kind, l.minor]));
  expect(lines.handling).toBe(150);
  expect(lines.paying).toBe(Math.floor((lines.goods! + lines.shipping! + 150) * 0.02 + 0.5) + 25);
  await undo(v.work, (await lastUndoable(v.work.db))!.id);
  await v.settle();
  expect(await prices()).toEqual(before);
});

test('an order of so many units is expected to cost the price that its item has for them', async () => {
  const [one] = await live();
  const { source } = (await caughtUp(v.work)).get(one!.id)!;
  const itemPrices = { [source!.item]: [{ from: 3, price: 111 }] };
  await saveSupplierCosts(v.work, 'brackwater', { ...NO_COST_RULES, itemPrices });
  await v.settle();
  const goodsOf = async (quantity: number) => {
    const wish = { sku: one!.sku, quantity };
    const sale = sell(v.outside.markets.pennywharf, chance(7), v.work.clock(), wish)!;
    expect(sale.lines[0]!.quantity).toBe(quantity);
    await v.settle(60_000);
    const order = (await v.work.db.orders.get(`pennywharf:${sale.number}`))!;
    return order.expected!.filter((e) => e.kind === 'goods').reduce((sum, e) => sum - e.amount, 0);
  };
  expect(await goodsOf(3)).toBe(333);
  expect(await goodsOf(1)).toBe((await caughtUp(v.work)).get(one!.id)!.item!.cost);
});

test('an order is expected to cost what its listing was priced with, and its account keeps it when it is bought', async () => {
  await saveSupplierCosts(v.work, 'brackwater', {
    ...HANDLED,
    imports: [{ countries: ['GB'], duty: 30_000, tax: 200_000, reclaimed: false, freeUpTo: 0 }],
  });
  await v.settle();
  const [one] = await live();
  const quote = quoteListing((await caughtUp(v.work)).get(one!.id)!, (await caughtUp(v.work)).shop)!;
  const sale = sell(v.outside.markets.pennywharf, chance(7), v.work.clock(), { sku: one!.sku, quantity: 1 })!;
  await v.settle(60_000);
  const order = (await v.work.db.orders.get(`pennywharf:${sale.number}`))!;
  const of = (entries: readonly { kind: string; amount: number }[]) => {
    const sums: Record<string, number> = {};
    for (const e of entries) sums[e.kind] = (sums[e.kind] ?? 0) - e.amount;
    return sums;
  };
  const parts = Object.fromEntries(quote.sum!.lines.map((l) => [l.kind, l.minor]));
  const expected = of(order.expected!);
  for (const kind of ['goods', 'duty', 'import tax', 'paying'] as const)
    expect(expected[kind]).toBe(parts[kind]);
  expect(expected.shipping).toBe(parts.shipping! + parts.handling!);
  const ledger = of((await v.work.db.ledger.get(order.id))!.entries.filter((e) => e.from === 'brackwater'));
  const charged = chargeOf((await v.work.db.orders.get(order.id))!.purchases[0]!)!;
  const paid = charged.goods + charged.shipping;
  const duty = Math.floor(paid * 0.03 + 0.5);
  expect(ledger).toMatchObject({
    goods: charged.goods,
    shipping: charged.shipping,
    duty,
    'import tax': Math.floor((paid + duty) * 0.2 + 0.5),
    paying: Math.floor(paid * 0.02 + 0.5) + 25,
  });
});

test('where the buyers are moves shipping, and is found from the orders', async () => {
  expect(await buyersOfOrders(v.work, 'pennywharf')).toEqual([]);
  for (let n = 0; n < 4; n++)
    sell(v.outside.markets.pennywharf, chance(n), v.work.clock(), { ...(n === 3 && { country: 'IE' }) });
  await v.settle(60_000);
  expect(await buyersOfOrders(v.work, 'pennywharf')).toEqual([
    { country: 'GB', share: 750_000 },
    { country: 'IE', share: 250_000 },
  ]);
  const zones = [{ countries: ['IE'], service: '', bands: [{ upToGrams: 30_000, minor: 2_000 }] }];
  await saveSupplierCosts(v.work, 'brackwater', { ...NO_COST_RULES, zones });
  const [one] = await live();
  const carriage = async () =>
    quoteListing((await caughtUp(v.work)).get(one!.id)!, (await caughtUp(v.work)).shop)!.costs!.shipping;
  const home = await carriage();
  await saveBuyers(v.work, 'pennywharf', await buyersOfOrders(v.work, 'pennywharf'));
  expect(await carriage()).toBe(Math.floor((home * 3 + 2_000) / 4 + 0.5));
});

test('fees are checked against what was charged; own ones count until the marketplace’s are taken again', async () => {
  sell(v.outside.markets.pennywharf, chance(3), v.work.clock());
  await v.settle(60_000);
  for (const p of v.outside.warehouse.purchases) advance(v.outside.warehouse, p.number, v.work.clock(), 1000);
  await v.settle(3 * 60_000);
  await v.settle(3 * 60_000);
  const { fees } = (await market()).site;
  const as = await feeCheck(v.work, 'pennywharf', fees);
  expect(as).toMatchObject({ orders: 1, agree: 1, differences: [] });
  expect(as.charged).toBe(as.expected);
  const dearer = fees.rules.map((r) => (r.kind === 'payment' ? { ...r, fixed: r.fixed + 7 } : r));
  const other = await feeCheck(v.work, 'pennywharf', { ...fees, rules: dearer });
  expect(other).toMatchObject({ agree: 0, expected: as.expected + 7 });
  expect(other.differences).toEqual([
    expect.objectContaining({ kind: 'payment fee', expected: expect.any(Number) }),
  ]);
  const before = await prices();
  await saveFees(v.work, 'pennywharf', dearer);
  await v.work.db.jobs.update(jobId('pennywharf', 'site'), { nextAt: 0 });
  await v.settle(60_000);
  // What the marketplace says is no news while one has fees of one's own.
  expect(await market()).toMatchObject({ siteNow: null, theirFees: fees, site: { fees: { rules: dearer } } });
  expect(await prices()).not.toEqual(before);
  await saveFees(v.work, 'pennywharf', null);
  await v.settle();
  expect((await market()).site.fees).toEqual(fees);
  expect(await prices()).toEqual(before);
});

test('what is not sold on a marketplace shows none there, cannot be approved, and comes back', async () => {
  const [one] = await live();
  const { sku } = (await v.work.db.variants.get(one!.variant))!;
  const ahead = await whatIfTerms(v.work, {
    connection: { id: 'pennywharf', terms: { keptOff: [readGoods(`sku:${sku}`)] } },
  });
  expect(ahead.prospects.filter((p) => p.shownTo !== p.shownFrom).map((p) => p.id)).toEqual([one!.id]);
  const there = () => v.outside.markets.pennywharf.listings[one!.sku]!;
  const { quantity } = there();
  await saveKeptOff(v.work, 'pennywharf', [readGoods(`sku:${sku}`)]);
  await v.settle();
  expect(there()).toMatchObject({ state: 'paused', quantity: 0 });
  await new SourceSearcher(v.work).take({ query: 'lantern is:stocked' }, 'pennywharf');
  const bench = (await v.work.db.listings.toArray()).filter((l) => l.state === 'bench');
  await saveKeptOff(v.work, 'pennywharf', [readGoods('lantern')]);
  const ids = bench.map((l) => l.id);
  expect(await approve(v.work, ids)).toMatchObject({ approved: 0 });
  await saveKeptOff(v.work, 'pennywharf', []);
  await v.settle();
  expect(there()).toMatchObject({ state: 'live', quantity });
  expect((await approve(v.work, ids)).approved).toBeGreaterThan(0);
});
