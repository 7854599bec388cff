import type { Unreadable } from '../../connect/feed';
import type { MarketOrder } from '../../connect/marketplace';
import { fold } from '../../core/copy';
import {
  activeOf,
  type Buyer,
  isRequest,
  NO_PROOF,
  type OrderEvent,
  type OrderFact,
  type OrderLine,
  soldFor,
  step,
  withText,
} from '../../core/orders';
import { isByItself, proposalFor, reasonFor } from '../../core/returns';
import { withSale } from '../../core/stock';
import type { Instant } from '../../core/units';
import {
  applyChange,
  buyerOf,
  buyersByOrder,
  type Listing,
  type MarketConnection,
  type Order,
  type OutboxRow,
  orderRules,
  ordersById,
  type RowChange,
  returnRules,
} from '../../store';
import { nowOf, type Work } from '../context/work';
import { countSale } from '../listings/demand';
import { reprice } from '../listings/reprice';
import { caughtUp, shopNow } from '../memory/assortment';
import { noteHealth } from '../outbox/circuit';
import { listingOf } from '../quoting/promised';
import type { Shop } from '../quoting/worth';
import { postCharges, postReturns, postSale, postSales } from './accounts';
import { advance, isKnown, orderChange } from './advance';
import { decide, linkedIn, openOf, promisedIn } from './decide';
import { messagesFor } from './messages';
import { buyRow } from './outgoing';
import type { Linked } from './sources';
import { claim, unclaimedOf } from './supplier-news';
import { keepUnread, nowRead } from './unread-store';

const idOf = (market: MarketConnection, number: string) => `${market.id}:${number}`;

/** An order as it is read first, and who bought it. */
interface Read {
  readonly order: Order;
  readonly buyer: Buyer;
}

function newOrder(market: MarketConnection, read: MarketOrder, shop: Pick<Shop, 'settings'>): Read {
  const id = idOf(market, read.number);
  const { name, email } = read.buyer;
  let buyer: Buyer = { id, name, email, addresses: [read.address], texts: [], erasedAt: null };
  const lines = read.lines.map((line) => {
    const { personalisation: text, ...rest } = line;
    const own = text === null ? null : withText(buyer, text);
    buyer = own?.buyer ?? buyer;
    const cancelledAt = line.cancelled ? read.paidAt : null;
    return { ...rest, personalisation: own?.place ?? null, cancelledAt };
  });
  let order = orderOf(market, read, lines);
  if (read.note) {
    const noted = withText(buyer, read.note);
    order = { ...order, buyerNote: noted.place };
    buyer = noted.buyer;
  }
  if (read.mark) order = { ...order, mark: read.mark };
  if (read.gift) {
    const written = withText(buyer, read.gift);
    order = { ...order, gift: written.place };
    buyer = written.buyer;
  }
  if (read.request) {
    const { reason, ...request } = read.request;
    const text = reason ? withText(buyer, reason) : null;
    buyer = text?.buyer ?? buyer;
    const said = { ...saidOf(read), request: { ...request, reason: text?.place ?? null } };
    order = step(order, said, { at: read.paidAt, hasLeft: () => false, carriers: [] }).order;
  }
  if (read.returns.length) {
    const told = returnsOf(read, buyer, shop);
    buyer = told.buyer;
    const said = { ...saidOf(read), returns: told.returns };
    order = step(order, said, { at: read.paidAt, hasLeft: () => false, carriers: [] }).order;
  }
  return { order, buyer };
}

function orderOf(market: MarketConnection, read: MarketOrder, lines: readonly OrderLine[]): Order {
  return {
    id: idOf(market, read.number),
    marketplace: market.id,
    number: read.number,
    currency: market.site.currency,
    paidAt: read.paidAt,
    shipBy: read.shipBy,
    address: 0,
    country: read.address.country,
    lines,
    shipping: read.shipping,
    refunded: read.refunded,
    checkedAt: null,
    dispatched: read.dispatched,
    elsewhere: read.status === 'shipped' || read.status === 'delivered',
    purchases: [],
    cases: [],
    open: 1,
    checks: [],
    released: [],
    slip: null,
    expected: null,
    settledAt: null,
  };
}

/**
 * Takes in a page of the marketplace's orders together with the position read up to, in one transaction:
 * however often a page is read, each order comes in once. New ones are checked and, where the rule says so,
 * forwarded at once; quantities shown follow.
 * @returns how many were new
 */
export async function takeOrders(
  work: Work,
  market: MarketConnection,
  page: {
    readonly orders: readonly MarketOrder[];
    readonly refused: readonly Unreadable[];
    /** Null where it is no page of the feed. */
    readonly next: string | null;
  },
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const shop = await shopNow(work);
    const known = await ordersById(
      db,
      page.orders.map((o) => idOf(market, o.number)),
    );
    const rows: RowChange[] = [];
    const fresh = new Map<string, Read>();
    // Past the point of buying when they are first read: from before Sampan, or from after this copy of the shop was
    // made. They are records, and what suppliers say of them is heard.
    const past = new Map<string, MarketOrder>();
    for (const read of page.orders) {
      const id = idOf(market, read.number);
      const before = known.get(id);
      if (before) {
        const event = await heardOf(work, before, read, shop);
        if (!read.charges && isKnown(before, event)) continue;
        if (read.charges) await postCharges(work, before, market.id, read.charges, shop);
        const change = await advance(work, shop, before, [
          event,
          ...answersTo(before, read, shop),
          ...returnsByRule(before, event, shop),
        ]);
        if (!change) continue;
        known.set(id, change.order);
        rows.push(orderChange(change));
      } else if (fresh.has(id)) continue;
      else if (read.status === 'paid') fresh.set(id, newOrder(market, read, shop));
      else past.set(id, read);
    }
    for (const read of past.values()) await takePast(work, market, read, shop);
    await noteSales(work, market, [...past.values()]);
    rows.push(...(await takeFresh(work, market, [...fresh.values()], shop)));
    const name =
      fresh.size === 1
        ? `${[...fresh.values()][0]!.order.number} came in`
        : fresh.size
          ? `${fresh.size} orders came in`
          : `${market.name} told news of orders`;
    const told = fresh.size + past.size;
    await applyChange(db, { by: 'rule', name, told }, rows, nowOf(work));
    await keepUnread(work, market.id, page.refused);
    await nowRead(
      work,
      market.id,
      page.orders.map((o) => o.number),
    );
    if (page.next !== null) await noteHealth(work, market.id, { cursor: page.next });
    // Here what was written is at hand; the next page would read it back.
    await caughtUp(work);
    return fresh.size;
  });
}

/** Notes at listings that they were sold in orders of before. */
async function noteSales(
  { db }: Work,
  market: MarketConnection,
  past: readonly MarketOrder[],
): Promise<void> {
  const sales = new Map<string, (readonly [at: Instant, units: number])[]>();
  for (const { paidAt, lines } of past)
    for (const line of lines) {
      const id = listingOf({ marketplace: market.id }, line);
      sales.set(id, [...(sales.get(id) ?? []), [paidAt, line.quantity]]);
    }
  const listings = await db.listings.bulkGet([...sales.keys()]);
  for (const listing of listings) {
    const own = listing && sales.get(listing.id);
    if (!own) continue;
    await db.listings.update(listing.id, {
      soldAt: own.reduce((last, [at]) => Math.max(last, at), listing.soldAt ?? 0),
      soldOn: own.reduce((days, [at, units]) => withSale(days, at, units), listing.soldOn ?? []),
    });
  }
}

/** Takes in an order that is on its way or over already. Nothing is bought for it. */
async function takePast(work: Work, market: MarketConnection, read: MarketOrder, shop: Shop): Promise<void> {
  const { order: made, buyer } = newOrder(market, read, shop);
  await work.db.buyers.put(buyer);
  const order: Order = { ...made, settledAt: read.charges ? work.clock() : null, open: openOf(made) };
  await postSale(work, order, market, shop);
  if (read.charges) await postCharges(work, order, market.id, read.charges, shop);
  if (order.cases.length) await postReturns(work, order, shop);
  const claimed = await claim(work, order, shop);
  const facts: OrderFact[] = [{ kind: 'read late', as: read.status }, ...(claimed?.facts ?? [])];
  await work.db.orders.add({ ...(claimed?.order ?? order), arrival: { at: work.clock(), facts } });
}

/** An order whose lines know what their listings showed as printed when it came in. */
function asShown(order: Order, linked: Linked): Order {
  const madeOf = (line: OrderLine) => linked.get(listingOf(order, line))?.source?.made;
  if (!order.lines.some(madeOf)) return order;
  return {
    ...order,
    lines: order.lines.map((line) => {
      const made = madeOf(line);
      return made ? { ...line, print: made.print, ...(made.personal && { proof: NO_PROOF }) } : line;
    }),
  };
}

/** Checks new orders one after the other, forwards what may go, and lets quantities follow what they took. */
async function takeFresh(
  work: Work,
  market: MarketConnection,
  read: readonly Read[],
  shop: Shop,
): Promise<RowChange[]> {
  if (!read.length) return [];
  const { db } = work;
  const at = work.clock();
  const assortment = await caughtUp(work);
  const linked = linkedIn(
    assortment,
    read.map((r) => r.order),
  );
  const sold = read.map(({ order, buyer }) => ({ order: asShown(order, linked), buyer }));
  const fresh = sold.map((r) => r.order);
  const promised = await promisedIn(work, assortment);
  const repeats = await repeatsOf(work, assortment.openOrders, sold);
  const aside = orderRules(shop.settings).foreign === 'set aside';
  const rows: RowChange[] = [];
  const buys: OutboxRow[] = [];
  const orders: Order[] = [];
  await db.buyers.bulkPut(sold.map((r) => r.buyer));
  await postSales(work, fresh, market, shop);
  const heard = new Set((await unclaimedOf(work, fresh)).map((row) => row.order));
  for (const { order: made, buyer } of sold) {
    const claimed = heard.has(made.id) ? await claim(work, made, shop) : null;
    const again = repeats.get(made.id);
    const order = { ...(claimed?.order ?? made), ...(again && { repeats: again }) };
    if (aside && !order.lines.some((l) => linked.has(listingOf(order, l)))) {
      const facts: OrderFact[] = [{ kind: 'came in' }, { kind: 'set aside', aside: true }];
      orders.push({ ...order, aside: true, open: 0, arrival: { at, facts } });
      continue;
    }
    const decided = decide(order, buyer, linked, shop, promised, 'by rule', at);
    const took = step(order, decided, { at, hasLeft: () => false, carriers: [] });
    const facts: OrderFact[] = [{ kind: 'came in' }, ...(claimed?.facts ?? []), ...took.facts];
    orders.push({ ...took.order, open: openOf(took.order), arrival: { at, facts } });
    for (const e of took.effects) if (e.kind === 'buy') buys.push(buyRow(took.order, e.purchase, shop, at));
    buys.push(...messagesFor(took.order, facts, shop, at));
  }
  // Stored once, as they were decided: a record costs as much as all that is worked out for it.
  await db.orders.bulkAdd(orders);
  for (const order of orders) {
    const answers = order.cases.filter(isRequest).flatMap((c) => answerBy(order, c.request, shop));
    const moved = answers.length ? await advance(work, shop, order, answers) : null;
    if (moved) rows.push(orderChange(moved));
  }

  await db.outbox.bulkPut(buys);
  // What the marketplace shows went down by what it sold.
  const shown = new Map<string, Pick<Listing, 'published' | 'demand' | 'soldAt' | 'soldOn'>>();
  for (const order of fresh)
    for (const line of order.lines) {
      const id = listingOf(order, line);
      const sold = linked.get(id);
      const before = shown.get(id)?.published ?? sold?.listing.published;
      if (!sold || !before) continue;
      const listing = { ...sold.listing, ...shown.get(id) };
      const published = { ...before, quantity: Math.max(0, before.quantity - line.quantity) };
      const counted = countSale({ ...sold, listing }, shop, line.quantity, line.unitPrice, at);
      const soldAt = Math.max(listing.soldAt ?? 0, order.paidAt);
      const soldOn = withSale(listing.soldOn ?? [], order.paidAt, line.quantity);
      shown.set(id, { published, soldAt, soldOn, ...counted?.set });
      const says = `Sold ${line.quantity} in ${order.number}. ${counted?.says ?? ''}`.trim();
      rows.push({
        table: 'listings',
        id,
        set: { published, soldAt, soldOn, ...counted?.set, last: { at, says } },
        says,
      });
    }
  // Other listings of the same item show fewer, too, on whichever marketplace they are.
  const items = new Set([...linked.values()].flatMap((f) => f.item?.id ?? []));
  await assortment.catchUp();
  const full = assortment.ofItems(items).map((f) => {
    const now = shown.get(f.listing.id);
    return now ? { ...f, listing: { ...f.listing, ...now } } : f;
  });
  const repriced = await reprice(work, full, assortment.shop, () => ({ by: 'sale' }), 'rule');
  return [...rows, ...repriced.rows];
}

/** Who bought, as far as that can be told: by the mail address, else by name and postcode. */
function personOf({ email, name, addresses }: Buyer): string {
  const mail = email.trim().toLowerCase();
  return mail || fold(`${name} ${addresses[0]?.postcode ?? ''}`);
}

const DAY = 86_400_000;

/** Numbers of the orders of the same goods by the same buyer within a day, by the id of each new one that has any. */
async function repeatsOf(
  { db }: Work,
  open: Iterable<Order>,
  fresh: readonly Read[],
): Promise<ReadonlyMap<string, readonly string[]>> {
  const skus = new Set(fresh.flatMap((r) => r.order.lines.map((l) => l.sku)));
  const since = Math.min(...fresh.map((r) => r.order.paidAt)) - DAY;
  const before = [...open].filter((o) => o.paidAt >= since && o.lines.some((l) => skus.has(l.sku)));
  const buyers = await buyersByOrder(db, before);
  const known = new Map<string, Order[]>();
  const note = (order: Order, buyer: Buyer | undefined) => {
    const person = buyer && personOf(buyer);
    if (person) known.set(person, [...(known.get(person) ?? []), order]);
  };
  for (const order of before) note(order, buyers.get(order.id));
  const found = new Map<string, readonly string[]>();
  for (const { order, buyer } of fresh) {
    const others = (known.get(personOf(buyer)) ?? []).filter(
      (o) =>
        o.id !== order.id &&
        Math.abs(o.paidAt - order.paidAt) <= DAY &&
        o.lines.some((l) => order.lines.some((own) => own.sku === l.sku)),
    );
    if (others.length)
      found.set(
        order.id,
        others.map((o) => o.number),
      );
    note(order, buyer);
  }
  return found;
}

/** A buyer's wish to cancel is granted by the shop's rule while nothing is bought. */
const answerBy = (order: Order, request: string, shop: Shop): OrderEvent[] =>
  orderRules(shop.settings).requests === 'accept unbought' && !activeOf(order).length
    ? [{ kind: 'answer request', case: `cancel request:${request}`, accept: true, says: '' }]
    : [];

const answersTo = (before: Order, { request }: MarketOrder, shop: Shop): OrderEvent[] =>
  request?.open ? answerBy(before, request.id, shop) : [];

/** {@link saidOf} with what is the buyer's: other words for a line, a wish to cancel. Both are kept with the buyer. */
async function heardOf(
  work: Work,
  order: Order,
  read: MarketOrder,
  shop: Shop,
): Promise<Extract<OrderEvent, { kind: 'marketplace said' }>> {
  const asked = read.request ? await withRequest(work, order, read) : saidOf(read);
  const said = read.returns.length ? await withReturns(work, order, read, asked, shop) : asked;
  const written = read.lines.filter((l) => l.personalisation !== null);
  if (!written.length || order.elsewhere) return said;
  const before = await buyerOf(work.db, order);
  if (before.erasedAt !== null) return said;
  let buyer = before;
  const words = written.flatMap((l) => {
    const own = order.lines.find((one) => one.id === l.id);
    if (!own || (own.personalisation !== null && buyer.texts[own.personalisation] === l.personalisation))
      return [];
    const text = withText(buyer, l.personalisation!);
    buyer = text.buyer;
    return [{ line: l.id, text: text.place }];
  });
  if (!words.length) return said;
  await work.db.buyers.put(buyer);
  return { ...said, words };
}

/** {@link saidOf} with the buyer's wish to cancel; what the buyer wrote is kept with the buyer. */
async function withRequest(
  { db }: Work,
  order: Order,
  read: MarketOrder,
): Promise<Extract<OrderEvent, { kind: 'marketplace said' }>> {
  const { reason, ...request } = read.request!;
  const before = reason ? await buyerOf(db, order) : null;
  if (!before || before.erasedAt !== null) return { ...saidOf(read), request: { ...request, reason: null } };
  const text = withText(before, reason);
  if (text.buyer !== before) await db.buyers.put(text.buyer);
  return { ...saidOf(read), request: { ...request, reason: text.place } };
}

/** News with the buyer's returns; what the buyer wrote is kept with the buyer. */
async function withReturns(
  { db }: Work,
  order: Order,
  read: MarketOrder,
  said: Extract<OrderEvent, { kind: 'marketplace said' }>,
  shop: Shop,
): Promise<Extract<OrderEvent, { kind: 'marketplace said' }>> {
  const before = await buyerOf(db, order);
  const told = returnsOf(read, before, shop);
  if (told.buyer !== before) await db.buyers.put(told.buyer);
  return { ...said, returns: told.returns };
}

/** Returns as an order hears of them, and the buyer with what was written. Of one who is erased, nothing is kept. */
function returnsOf(
  read: MarketOrder,
  of: Buyer,
  { settings }: Pick<Shop, 'settings'>,
): {
  readonly returns: NonNullable<Extract<OrderEvent, { kind: 'marketplace said' }>['returns']>;
  readonly buyer: Buyer;
} {
  const { reasons } = returnRules(settings);
  let buyer = of;
  const returns = read.returns.map(({ id: request, kind: what, reason, says, ...rest }) => {
    const text = says && buyer.erasedAt === null ? withText(buyer, says) : null;
    buyer = text?.buyer ?? buyer;
    const { id } = reasonFor(reasons, what === 'not received' && !reason ? what : reason);
    return { ...rest, request, what, reason: id, words: text?.place ?? null };
  });
  return { returns, buyer };
}

/** Returns that are new and that the seller's rule answers by itself. */
function returnsByRule(
  before: Order,
  { returns = [] }: Extract<OrderEvent, { kind: 'marketplace said' }>,
  shop: Shop,
): OrderEvent[] {
  const rules = returnRules(shop.settings);
  if (!rules.byItself) return [];
  return returns.flatMap(({ request, what, reason, units, state }): OrderEvent[] => {
    const id = `return:${request}`;
    if (state !== 'open' || before.cases.some((c) => c.id === id)) return [];
    const paid = soldFor(before, units);
    const proposal = proposalFor(
      { what, reason },
      { paid, currency: before.currency, delivered: false },
      rules,
    );
    return isByItself({ what }, proposal, rules)
      ? [{ kind: 'answer return', case: id, answer: 'refund', minor: paid, label: 'seller', says: '' }]
      : [];
  });
}

/** A marketplace’s news of a known order, as an event. */
const saidOf = (read: MarketOrder): Extract<OrderEvent, { kind: 'marketplace said' }> => ({
  kind: 'marketplace said',
  cancelled: read.lines.map((l) => ({ line: l.id, units: l.cancelled })),
  dispatched: read.dispatched,
  refunded: read.refunded,
  settled: read.charges !== null,
});
