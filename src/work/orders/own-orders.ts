import {
  type Address,
  type Buyer,
  countUnits,
  type LineUnits,
  type OrderLine,
  type OwnKind,
  step,
  unitsOf,
} from '../../core/orders';
import { applyChange, buyerOf, type Order, orderById } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp, shopNow } from '../memory/assortment';
import { listingOf } from '../quoting/promised';
import { marketOf } from '../quoting/worth';
import { postSale } from './accounts';
import { decide, linkedIn, openOf, promisedIn } from './decide';

export type Entered =
  | { readonly ok: true; readonly id: string; readonly number: string }
  | { readonly ok: false; readonly reason: string };

/** An order as the seller types it. */
export interface TypedOrder {
  readonly kind: Exclude<OwnKind, 'replacement'>;
  /** The marketplace whose listings, currency and tax it is entered by. */
  readonly marketplace: string;
  readonly address: Address;
  readonly email: string;
  /** In minor units of the marketplace's currency. */
  readonly lines: readonly { readonly sku: string; readonly units: number; readonly unitPrice: number }[];
  readonly shipping: number;
}

const HOURS_TO_SHIP = 48;
/** What a person who enters an order knows already. */
const KNOWN = ['profit', 'repeat', 'note', 'unusual'] as const;

/** Enters an order that no marketplace sold. It is checked, and waits for a person to forward it. */
export async function enterOrder(work: Work, typed: TypedOrder): Promise<Entered> {
  const { shop } = await caughtUp(work);
  const market = marketOf(shop, typed.marketplace);
  if (!market) return { ok: false, reason: 'This marketplace is not connected.' };
  if (!typed.lines.length) return { ok: false, reason: 'It has no line.' };
  const { db } = work;
  const lines: OrderLine[] = [];
  for (const [k, { sku, units, unitPrice }] of typed.lines.entries()) {
    const listing = await db.listings.get(listingOf({ marketplace: market.id }, { sku }));
    const product = listing && (await db.products.get(listing.product));
    if (!listing || !product)
      return { ok: false, reason: `Line ${k + 1}: ${sku} is not one of your listings on ${market.name}.` };
    if (!Number.isSafeInteger(units) || units < 1 || units > 10_000)
      return { ok: false, reason: `Line ${k + 1}: the quantity is a whole number from 1 to 10,000.` };
    const { title } = product.taken;
    lines.push({
      ...{ id: `${k + 1}`, sku, title, quantity: units, unitPrice },
      ...{ personalisation: null, cancelled: 0, cancelledAt: null },
    });
  }
  const buyer = { name: typed.address.name, email: typed.email, addresses: [typed.address], texts: [] };
  return put(work, typed.kind, market.id, lines, typed.shipping, buyer, null);
}

/** Sends units of an order again, at no charge to the buyer: an order of its own, which waits to be forwarded. */
export async function sendAgain(work: Work, id: string, units: readonly LineUnits[]): Promise<Entered> {
  const order = await orderById(work.db, id);
  if (!order) return { ok: false, reason: 'This order is not known.' };
  if (!countUnits(units)) return { ok: false, reason: 'Nothing was chosen to be sent again.' };
  const buyer = await buyerOf(work.db, order);
  if (!buyer || buyer.erasedAt !== null)
    return { ok: false, reason: 'Its buyer was erased: there is no address.' };
  const lines = order.lines.flatMap((l) => {
    const quantity = Math.min(unitsOf(units, l.id), l.quantity);
    return quantity ? [{ ...l, quantity, unitPrice: 0, cancelled: 0, cancelledAt: null }] : [];
  });
  return put(work, 'replacement', order.marketplace, lines, 0, buyer, order);
}

async function put(
  work: Work,
  kind: OwnKind,
  marketplace: string,
  lines: readonly OrderLine[],
  shipping: number,
  whose: Omit<Buyer, 'id' | 'erasedAt'>,
  of: Order | null,
): Promise<Entered> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<Entered> => {
    const shop = await shopNow(work);
    const market = marketOf(shop, marketplace);
    if (!market) return { ok: false, reason: 'This marketplace is not connected.' };
    const at = work.clock();
    const first = of ? `${of.number}-R` : 'OWN-';
    let n = 1;
    while (await db.orders.get(`${marketplace}:${first}${n}`)) n++;
    const number = `${first}${n}`;
    const id = `${marketplace}:${number}`;
    const buyer: Buyer = { ...whose, id, erasedAt: null };
    const address = of?.address ?? 0;
    const order: Order = {
      ...{ id, marketplace, number, currency: market.site.currency, lines, shipping, own: kind },
      ...{ paidAt: at, shipBy: at + HOURS_TO_SHIP * 3_600_000, settledAt: at, address },
      country: buyer.addresses[address]!.country,
      ...{ refunded: 0, checkedAt: null, dispatched: [], elsewhere: false, purchases: [], cases: [] },
      ...{ open: 1, checks: [], released: KNOWN, slip: of?.slip ?? null, expected: null },
    };
    await db.buyers.put(buyer);
    await postSale(work, order, market, shop);
    const assortment = await caughtUp(work);
    const promised = await promisedIn(work, assortment);
    const decided = decide(order, buyer, linkedIn(assortment, [order]), shop, promised, 'no', at);
    // A person forwards it: no rule buys what was entered by hand.
    const took = step(
      { ...order, kept: true },
      { ...decided, due: null },
      { at, hasLeft: () => false, carriers: [] },
    );
    await db.orders.add({
      ...took.order,
      open: openOf(took.order),
      arrival: { at, facts: [{ kind: 'entered', as: kind }, ...took.facts] },
    });
    await applyChange(
      db,
      { by: 'person', name: `Enter ${number}`, undoable: false },
      [{ table: 'orders', id, set: {}, says: of ? `Sends ${of.number} again.` : 'Entered by you.' }],
      nowOf(work),
    );
    return { ok: true, id, number };
  });
}
