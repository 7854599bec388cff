import { marketService } from '../src/connect/marketplace';
import { expectedEntries, rateFor } from '../src/core/ledger';
import type { Buyer, OrderLine, Purchase } from '../src/core/orders';
import { type Deductions, deductionsFor, shippingFor } from '../src/core/pricing';
import {
  catalogueNote,
  type DumpedRows,
  itemKey,
  type Listing,
  type MarketConnection,
  type Order,
  readCatalogue,
  readDetails,
  type SampanDatabase,
  type WholeOrder,
} from '../src/store';
import { newListing, type Taking, takeItems } from '../src/work/listings/take';
import { readShop } from '../src/work/memory/read-shop';
import { archived, BLOCK, RECENT_DAYS } from '../src/work/order-book/archive';
import { noteHealth } from '../src/work/outbox/circuit';
import { allFullListings, type FullListing } from '../src/work/quoting/full-listing';
import { documentOf, markOfDocument } from '../src/work/quoting/listing-standing';
import { categoryOf } from '../src/work/quoting/pricing-terms';
import { missingOf, quoteListing, unitOf } from '../src/work/quoting/quote';
import { marketOf, type Shop, supplierOf } from '../src/work/quoting/worth';
import { buyerOf, personOf, sell } from '../stand-ins/marketplace/market';
import { SITE_IDS, SITES, type SiteId } from '../stand-ins/marketplace/sites';
import { type Chance, chance } from '../stand-ins/random';
import { grow } from '../stand-ins/supplier/warehouse';
import { livePast, type Past, type World } from './past';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

/** The size to plan for: what the shop must carry as lightly as the demo. */
export const FULL = {
  items: 200_000,
  parts: 3_000,
  listings: { pennywharf: 14_000, loomhall: 3_600, 'pennywharf-us': 2_400 },
  orders: 100_000,
  /** Of them, still to be bought or on their way. */
  open: 160,
  days: 3 * 365,
} as const;

/**
 * The demo's shop grown to full size: a few days are lived, with the troubles of every kind in them; then its catalogues,
 * listings and orders become many. Made, not lived, by the application's own reckoning: what a listing shows is what its
 * plan says, and an order's account adds up.
 */
export const liveFull = (until: number): Promise<Past> =>
  livePast(until, {
    days: 6,
    items: 2400,
    parts: FULL.parts,
    after: async (world) => {
      await readAll(world);
      await listMany(world);
      await sellSome(world);
    },
  });

/** Brackwater's whole catalogue is read. */
async function readAll({ work, w, settle }: World): Promise<void> {
  grow(w, FULL.items);
  await work.db.jobs.update('brackwater:catalogue', { nextAt: 0 });
  await settle();
}

/** Items that any marketplace would take, with their texts as the supplier has them. */
async function takings(db: SampanDatabase, supplier: string, most: number): Promise<Taking[]> {
  const note = (await catalogueNote(db, supplier))!;
  const c = await readCatalogue(db, supplier, note.generation, note.pieces, note.items);
  const taken = new Set(
    (await db.variants.toArray()).flatMap((v) => v.sources.map((s) => itemKey(s.supplier, s.item))),
  );
  const fit: number[] = [];
  // Spread over the whole catalogue.
  const step = Math.max(1, Math.floor(c.length / (most * 1.5)));
  for (let from = 0; from < step && fit.length < most; from++)
    for (let row = from; row < c.length && fit.length < most; row += step) {
      if (c.gone[row] || taken.has(`${supplier}:${c.skuAt(row)}`)) continue;
      const item = c.itemAt(row);
      if (item.stock > 4 && item.gtin && item.pictures && item.grams !== null && item.grams < 20_000)
        fit.push(row);
    }
  const details = await readDetails(db, supplier, note.generation, c, fit);
  return fit.map((row) => {
    const item = c.itemAt(row);
    return { supplier, item, detail: details.get(item.sku) ?? null, mark: c.cold[row]! };
  });
}

/** Takes, lists and publishes goods until there are as many listings as wanted. */
async function listMany(world: World): Promise<void> {
  const { work, hollin } = world;
  const { db } = work;
  const there = await db.listings.toArray();
  const room = (site: SiteId) => FULL.listings[site] - there.filter((l) => l.marketplace === site).length;
  await takeItems(work, 'pennywharf', await takings(db, 'brackwater', room('pennywharf')));
  await takeItems(work, 'pennywharf-us', await takings(db, hollin, room('pennywharf-us')));
  const known = new Set(there.map((l) => l.product));
  const makers = (await db.variants.toArray()).filter(
    (v) => v.sources[0]?.supplier === 'brackwater' && !known.has(v.product),
  );
  const crafts = makers.slice(0, room('loomhall'));
  await db.listings.bulkAdd(
    crafts.map((v) => newListing(v, 'loomhall', work.clock(), 'Meant for Loomhall too.')),
  );
  await publishAll(world, new Set(there.map((l) => l.id)));
}

/** Publishes what is on the Bench, but for what was there before. */
async function publishAll({ work }: World, before: ReadonlySet<string>): Promise<void> {
  const { db } = work;
  const at = work.clock();
  const shop = await readShop(db, at);
  const fresh = (await db.listings.filter((l) => l.state === 'bench').toArray()).filter(
    (l) => !before.has(l.id),
  );
  const crafted = fresh.map((l) =>
    l.marketplace === 'loomhall'
      ? { ...l, attributes: { maker: 'another' }, tags: ['stargazing', 'night sky'] }
      : l,
  );
  const live: Listing[] = [];
  const documents: { id: string; document: ReturnType<typeof documentOf>; at: number }[] = [];
  for (const full of await allFullListings(db, crafted)) {
    const { listing } = full;
    const market = marketOf(shop, listing.marketplace)!;
    const quote = quoteListing(full, shop);
    if (!quote?.category || quote.price === null || missingOf(full, quote, market, shop).length) continue;
    const document = documentOf(full, { ...quote, category: quote.category }, market, shop);
    const { price, quantity } = { price: quote.price, quantity: quote.quantity };
    const adapter = marketService(
      work.reach,
      listing.marketplace,
      await tokenOf(work, market),
      market.site.currency,
    );
    const told = await adapter.publish([{ sku: listing.sku, document, price, quantity, draft: false }]);
    if (!told.ok || !told.value.get(listing.sku)?.ok) continue;
    documents.push({ id: listing.id, document, at });
    live.push({
      ...listing,
      approvedAt: at,
      state: quantity > 0 ? 'live' : 'paused',
      published: { price, quantity, at, mark: markOfDocument(document) },
      last: { at, says: `${market.name} took it.` },
    });
  }
  await db.listings.bulkPut(live);
  await db.documents.bulkPut(documents);
}

async function tokenOf({ db }: World['work'], { id }: MarketConnection): Promise<string> {
  const credential = (await db.credentials.get(id))?.credential;
  return credential?.kind === 'consent' ? credential.token : '';
}

/** What came in lately: bought, and some of it on its way. */
async function sellSome({ work, w, markets, luck, settle }: World): Promise<void> {
  w.balance += 1_500_000;
  await noteHealth(work, 'brackwater', { balance: w.balance });
  for (let k = 0; k < FULL.open; k++)
    sell(markets[luck.next() < 0.8 ? 'pennywharf' : 'loomhall'], luck, work.clock() - k * 60_000);
  await work.db.jobs.filter((j) => j.task === 'orders').modify({ nextAt: 0 });
  await settle();
}

/** A listing with all that an order of it is reckoned with. */
interface Sold {
  readonly full: FullListing;
  readonly category: string;
}

const compiled = new Map<string, Deductions>();

/** Fees and tax of a category, compiled once. */
function deductionsOf({ id, site, optedIn }: MarketConnection, category: string): Deductions {
  const key = `${id} ${category}`;
  const made = compiled.get(key) ?? deductionsFor(site.fees, category, optedIn)!;
  compiled.set(key, made);
  return made;
}

/**
 * Orders of three years before the lived ones: paid, bought, delivered and settled, a few of them cancelled or refunded.
 * Those of the last weeks are rows, all others are laid away.
 */
export async function* pastOrders({ db }: Past, until: number): AsyncGenerator<DumpedRows> {
  const shop = await readShop(db, until);
  const luck = chance(77);
  const bySite = new Map<SiteId, Sold[]>(SITE_IDS.map((id) => [id, []]));
  for (const full of await allFullListings(db)) {
    const market = marketOf(shop, full.listing.marketplace);
    const category = market && categoryOf(full, market, shop);
    if (category && full.item && full.listing.published)
      bySite.get(full.listing.marketplace as SiteId)!.push({ full, category });
  }
  const n = FULL.orders - (await db.orders.count());
  const began = until - FULL.days * DAY;
  const recent = until - RECENT_DAYS * DAY;
  const blocks = new Map<string, number>();
  let some: WholeOrder[] = [];
  const monthOf = ({ order }: WholeOrder) => new Date(order.paidAt).toISOString().slice(0, 7);
  const flush = function* () {
    const [first] = some;
    if (!first) return;
    if (first.order.paidAt >= recent) {
      yield { table: 'orders' as const, rows: some.map((w) => w.order) };
      yield { table: 'buyers' as const, rows: some.map((w) => w.buyer) };
      yield { table: 'ledger' as const, rows: some.flatMap((w) => w.ledger ?? []) };
    } else {
      const month = monthOf(first);
      const k = blocks.get(month) ?? 0;
      blocks.set(month, k + 1);
      const { block, rows, buyers } = archived(`${month}:${k}`, some, shop);
      yield { table: 'archive' as const, rows: [block] };
      yield { table: 'archivedRows' as const, rows: [rows] };
      yield { table: 'archivedBuyers' as const, rows: [buyers] };
    }
    some = [];
  };
  for (let k = 0; k < n; k++) {
    // The shop grew: the later, the denser.
    const at = Math.floor(began + Math.sqrt((k + luck.next()) / n) * (until - 8 * DAY - began));
    const { order, buyer, entries } = pastOrder(k, at, bySite, shop, luck);
    const one: WholeOrder = { order, buyer, ledger: { id: order.id, entries }, edits: [] };
    const [first] = some;
    const other = first && (monthOf(first) !== monthOf(one) || first.order.paidAt < recent !== at < recent);
    if (other || some.length === BLOCK) yield* flush();
    some.push(one);
  }
  yield* flush();
}

function pastOrder(
  k: number,
  at: number,
  bySite: ReadonlyMap<SiteId, readonly Sold[]>,
  shop: Shop,
  luck: Chance,
) {
  const place = luck.next();
  const site: SiteId = place < 0.7 ? 'pennywharf' : place < 0.87 ? 'loomhall' : 'pennywharf-us';
  const spec = SITES[site];
  const market = marketOf(shop, site)!;
  // Lower than any number of the lived days, higher than those of other years.
  const number = `${spec.prefix}-0${String(k + 1).padStart(6, '0')}`;
  const id = `${site}:${number}`;
  const first = luck.pick(bySite.get(site)!);
  const chosen = [first];
  if (luck.next() < 0.1) {
    const more = luck.pick(bySite.get(site)!);
    if (more !== first && more.full.source!.supplier === first.full.source!.supplier) chosen.push(more);
  }
  const cancelled = luck.next() < 0.03;
  const lines = chosen
    .map(({ full }, i) => {
      const { price } = full.listing.published!;
      return {
        id: `${number}-${i + 1}`,
        sku: full.listing.sku,
        title: full.listing.title ?? full.product.title ?? full.product.taken.title,
        quantity: luck.next() < 0.15 ? 2 : 1,
        unitPrice: Math.round((price * luck.whole(88, 106)) / 10_000) * 100 + 99,
        personalisation: null,
        cancelledAt: cancelled ? at + HOUR : null,
      };
    })
    .map((l): OrderLine => ({ ...l, cancelled: cancelled ? l.quantity : 0 }));
  const shipping = spec.shipping ? Math.round(Number(spec.shipping) * 100) : 0;
  const { supplier } = first.full.source!;
  const from = supplierOf(shop, supplier)!;
  const units = chosen.map(({ full }) => unitOf(full)!);
  const count = (of: (u: (typeof units)[number]) => number) =>
    units.reduce((sum, u, i) => sum + of(u) * lines[i]!.quantity, 0);
  const expectedCost = {
    goods: Math.round((count((u) => u.cost) * luck.whole(92, 100)) / 100),
    shipping:
      shippingFor(
        from.shipping,
        count((u) => u.grams!),
      ) ?? 0,
  };
  const charged =
    luck.next() < 0.05 ? { ...expectedCost, goods: Math.round(expectedCost.goods * 1.06) } : expectedCost;
  const account = (cost: typeof charged) =>
    expectedEntries(
      {
        marketplace: site,
        currency: market.site.currency,
        lines: chosen.map(({ category }, i) => ({
          unitPrice: lines[i]!.unitPrice,
          quantity: lines[i]!.quantity,
          deductions: deductionsOf(market, category),
        })),
        shipping,
        costs: [{ reference: id, supplier, currency: from.currency, ...cost }],
        costTax: shop.settings.costTax,
      },
      shop.rates,
      at,
    );
  const expected = account(expectedCost);
  const tracking = `FP${String(100_000_000 + k)}GB`;
  const purchase: Purchase = {
    reference: id,
    supplier,
    lane: from.lanes.purchases,
    state: 'accepted',
    lines: lines.map((l, i) => ({
      line: l.id,
      item: chosen[i]!.full.source!.item,
      units: l.quantity,
      pack: chosen[i]!.full.source!.pack,
      personalisation: null,
      calledOff: 0,
    })),
    at,
    number: `${supplier === 'brackwater' ? 'BT' : 'HX'}-0${k + 1}`,
    acceptedAt: at + 60_000,
    currency: from.currency,
    expected: expectedCost,
    charged,
    parcels: [
      {
        carrier: 'Fenpost',
        tracking,
        shippedAt: at + luck.whole(6, 40) * HOUR,
        deliveredAt: at + luck.whole(48, 120) * HOUR,
        inside: lines.map((l) => ({ line: l.id, units: l.quantity })),
        toldAt: at + 41 * HOUR,
      },
    ],
    revision: 1,
  };
  const paid = lines.reduce((sum, l) => sum + l.unitPrice * l.quantity, 0) + shipping;
  const refunded = cancelled ? paid : luck.next() < 0.02 ? Math.round(paid / 4) : 0;
  const person = personOf(spec, luck);
  const { buyer, shipTo } = buyerOf(person, luck);
  const order: Order = {
    id,
    marketplace: site,
    number,
    currency: market.site.currency,
    paidAt: at,
    shipBy: at + 48 * HOUR,
    address: 0,
    country: shipTo.country,
    lines,
    shipping,
    refunded,
    checkedAt: cancelled ? null : at,
    dispatched: cancelled ? [] : [tracking],
    elsewhere: false,
    purchases: cancelled ? [] : [purchase],
    cases: [],
    open: 0,
    checks: [],
    released: [],
    slip: null,
    expected: cancelled ? null : expected,
    settledAt: at + 3 * DAY,
  };
  const sale = {
    currency: order.currency,
    rate: rateFor(shop.rates, order.currency),
    purchase: null,
    name: '',
  };
  const refund = { ...sale, kind: 'refund' as const, amount: -refunded, at: at + 6 * DAY, from: '' };
  const sold = charged === expectedCost ? expected : account(charged);
  const bought: Buyer = {
    ...{ id, ...buyer, addresses: [{ ...shipTo, line2: '' }] },
    ...{ texts: [], erasedAt: null },
  };
  return {
    order,
    buyer: bought,
    entries: cancelled
      ? [...sold.filter((e) => e.kind === 'sale' || e.kind === 'buyer shipping'), refund]
      : [...sold, ...(refunded ? [refund] : [])],
  };
}
