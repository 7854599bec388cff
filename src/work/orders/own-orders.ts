import { readSalesFile } from '../../connect/files';
import type { MarketOrder } from '../../connect/marketplace';
import {
  type Address,
  type Buyer,
  countUnits,
  type LineUnits,
  type OrderLine,
  type OwnKind,
  step,
  unitsOf,
  withText,
} from '../../core/orders';
import type { Instant } from '../../core/units';
import { applyChange, buyerOf, type Order, orderById } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp, shopNow } from '../memory/assortment';
import { listingOf } from '../quoting/promised';
import { marketOf } from '../quoting/worth';
import { postSale } from './accounts';
import { decide, linkedIn, openOf, promisedIn } from './decide';

export type Entered =
  | { readonly ok: true; readonly id: string; readonly number: string }
  | {
      readonly ok: false;
      readonly reason: string;
      /** It is there already. */
      readonly known?: true;
    };

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
  const lines: OrderLine[] = [];
  for (const [k, { sku, units, unitPrice }] of typed.lines.entries()) {
    const title = await titleOf(work, market.id, sku);
    if (title === null)
      return { ok: false, reason: `Line ${k + 1}: ${sku} is not one of your listings on ${market.name}.` };
    if (!Number.isSafeInteger(units) || units < 1 || units > 10_000)
      return { ok: false, reason: `Line ${k + 1}: the quantity is a whole number from 1 to 10,000.` };
    lines.push({
      ...{ id: `${k + 1}`, sku, title, quantity: units, unitPrice },
      ...{ personalisation: null, cancelled: 0, cancelledAt: null },
    });
  }
  const buyer = { name: typed.address.name, email: typed.email, addresses: [typed.address], texts: [] };
  return put(work, { kind: typed.kind, marketplace: market.id, lines, shipping: typed.shipping, buyer });
}

/** What a listing is called; null where a marketplace has no listing of an SKU. */
async function titleOf({ db }: Work, marketplace: string, sku: string): Promise<string | null> {
  const listing = await db.listings.get(listingOf({ marketplace }, { sku }));
  const product = listing && (await db.products.get(listing.product));
  return product?.taken.title ?? null;
}

/** What became of a file of orders. */
export type EnteredFile =
  | {
      readonly ok: true;
      readonly entered: number;
      /** Orders that were entered before. */
      readonly known: number;
      /** What was not entered: an order by its number, or a row by its line. */
      readonly refused: readonly { readonly where: string; readonly reason: string }[];
    }
  | { readonly ok: false; readonly reason: string };

/**
 * Enters orders of a file, in the columns of a file of sales (`docs/wire-contract.md`). Good orders go on; the same file
 * again enters nothing. Each is checked and waits for a person to forward it.
 */
export async function enterOrdersFile(
  work: Work,
  { kind, marketplace, text }: Pick<TypedOrder, 'kind' | 'marketplace'> & { readonly text: string },
): Promise<EnteredFile> {
  const { shop } = await caughtUp(work);
  const market = marketOf(shop, marketplace);
  if (!market) return { ok: false, reason: 'This marketplace is not connected.' };
  const read = readSalesFile(text, market.site.currency, work.clock());
  if (!read.ok) return read;
  const refused = read.value.refused.map(({ line, reason }) => ({ where: `line ${line}`, reason }));
  let [entered, known] = [0, 0];
  for (const order of read.value.rows) {
    const said = await enterRead(work, kind, market.id, order);
    if (said.ok) entered++;
    else if (said.known) known++;
    else refused.push({ where: `order ${order.number}`, reason: said.reason });
  }
  return { ok: true, entered, known, refused };
}

async function enterRead(
  work: Work,
  kind: TypedOrder['kind'],
  marketplace: string,
  read: MarketOrder,
): Promise<Entered> {
  if (read.status !== 'paid') return { ok: false, reason: `It is ${read.status}: there is nothing to buy.` };
  let buyer: Buyer = {
    ...{ id: '', name: read.buyer.name, email: read.buyer.email, addresses: [read.address] },
    ...{ texts: [], erasedAt: null },
  };
  const placeOf = (words: string): number => {
    const kept = withText(buyer, words);
    buyer = kept.buyer;
    return kept.place;
  };
  const lines: OrderLine[] = [];
  for (const { personalisation, ...line } of read.lines) {
    const title = await titleOf(work, marketplace, line.sku);
    if (title === null) return { ok: false, reason: `${line.sku} is not one of your listings there.` };
    const words = personalisation === null ? null : placeOf(personalisation);
    lines.push({ ...line, title, personalisation: words, cancelled: 0, cancelledAt: null });
  }
  const { paidAt, shipBy, shipping } = read;
  const note = read.note ? { buyerNote: placeOf(read.note) } : {};
  const number = `OWN-${read.number}`;
  return put(work, { kind, marketplace, lines, shipping, buyer, number, paidAt, shipBy, ...note });
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
  const { marketplace } = order;
  return put(work, { kind: 'replacement', marketplace, lines, shipping: 0, buyer, of: order });
}

/** An order to be entered. */
interface ToEnter {
  readonly kind: OwnKind;
  readonly marketplace: string;
  readonly lines: readonly OrderLine[];
  readonly shipping: number;
  readonly buyer: Omit<Buyer, 'id' | 'erasedAt'>;
  /** The order that it is sent for again; missing for none. */
  readonly of?: Order;
  /** As a file names it; missing for the next number. */
  readonly number?: string;
  readonly paidAt?: Instant;
  readonly shipBy?: Instant;
  /** Which of the buyer's texts is the note that came with it; missing for none. */
  readonly buyerNote?: number;
}

async function put(
  work: Work,
  { kind, marketplace, lines, shipping, buyer: whose, of, buyerNote, ...given }: ToEnter,
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
    const number = given.number ?? `${first}${n}`;
    const id = `${marketplace}:${number}`;
    if (await orderById(db, id)) return { ok: false, reason: `${number} was entered before.`, known: true };
    const buyer: Buyer = { ...whose, id, erasedAt: null };
    const address = of?.address ?? 0;
    const order: Order = {
      ...{ id, marketplace, number, currency: market.site.currency, lines, shipping, own: kind },
      ...{ settledAt: at, address },
      paidAt: given.paidAt ?? at,
      shipBy: given.shipBy ?? at + HOURS_TO_SHIP * 3_600_000,
      country: buyer.addresses[address]!.country,
      ...{ refunded: 0, checkedAt: null, dispatched: [], elsewhere: false, purchases: [], cases: [] },
      ...{ open: 1, checks: [], released: KNOWN, slip: of?.slip ?? null, expected: null },
      ...(buyerNote !== undefined && { buyerNote }),
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
