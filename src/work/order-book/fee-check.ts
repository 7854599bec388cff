import { type EntryKind, feeEntry } from '../../core/ledger';
import { type FeeTable, takenOf } from '../../core/pricing';
import type { MarketConnection, Order } from '../../store';
import type { Work } from '../context/work';
import { assortmentOf, shopNow } from '../memory/assortment';
import { soldLines } from '../orders/decide';
import { listingOf } from '../quoting/promised';

/** A fee of an order that was charged otherwise than a table says. Amounts in minor units of the order's currency. */
export interface FeeDifference {
  readonly order: string;
  readonly number: string;
  readonly kind: EntryKind;
  readonly expected: number;
  readonly charged: number;
}

export interface FeeCheck {
  /** Orders whose charges are on record and whose goods are known. */
  readonly orders: number;
  /** Those that were charged to the minor unit as the table says. */
  readonly agree: number;
  /** Of all of them together. */
  readonly expected: number;
  readonly charged: number;
  readonly differences: readonly FeeDifference[];
}

const FEES: ReadonlySet<EntryKind> = new Set(['sale fee', 'payment fee', 'advertising', 'listing fee']);

/** Orders that are looked at, the newest first. */
const LOOKED_AT = 300;

/** The fees that a table would have charged for a marketplace’s orders, beside the fees it charged. */
export async function feeCheck(work: Work, market: string, fees: FeeTable): Promise<FeeCheck> {
  const before = await shopNow(work);
  const c = before.connections.get(market) as MarketConnection | undefined;
  if (!c) return { orders: 0, agree: 0, expected: 0, charged: 0, differences: [] };
  const connections = new Map(before.connections).set(market, { ...c, site: { ...c.site, fees } });
  const shop = { ...before, connections };
  const orders = await newestOf(work, market);
  const assortment = assortmentOf(work);
  const linked = new Map(
    orders.flatMap((o) =>
      o.lines.flatMap((line) => {
        const full = assortment.get(listingOf(o, line));
        return full ? [[full.listing.id, full] as const] : [];
      }),
    ),
  );
  const ledgers = await work.db.ledger.bulkGet(orders.map((o) => o.id));
  const differences: FeeDifference[] = [];
  const sum = { orders: 0, agree: 0, expected: 0, charged: 0 };
  for (const [k, order] of orders.entries()) {
    const charged = new Map<EntryKind, number>();
    for (const e of ledgers[k]?.entries ?? [])
      if (e.from === market && FEES.has(e.kind)) charged.set(e.kind, (charged.get(e.kind) ?? 0) - e.amount);
    const lines = charged.size ? soldLines(order, linked, shop) : null;
    if (!lines?.length) continue;
    const expected = new Map<EntryKind, number>();
    for (const { kind, minor } of takenOf(lines, order.shipping)) {
      const entry = feeEntry(kind);
      if (entry && FEES.has(entry)) expected.set(entry, (expected.get(entry) ?? 0) + minor);
    }
    const own = [...new Set([...charged.keys(), ...expected.keys()])].flatMap((kind) => {
      const [is, should] = [charged.get(kind) ?? 0, expected.get(kind) ?? 0];
      sum.charged += is;
      sum.expected += should;
      return is === should
        ? []
        : [{ order: order.id, number: order.number, kind, expected: should, charged: is }];
    });
    sum.orders++;
    if (!own.length) sum.agree++;
    differences.push(...own);
  }
  return { ...sum, differences: differences.slice(0, 50) };
}

const DAY = 86_400_000;
/** Days that are read at once: going back order by order costs far more. */
const SPAN = 3;
const DAYS = 60;

/** The newest settled orders of a marketplace. */
async function newestOf({ db, clock }: Work, market: string): Promise<Order[]> {
  const found: Order[] = [];
  const now = clock();
  for (let back = 0; back < DAYS && found.length < LOOKED_AT; back += SPAN) {
    const [from, to] = [now - (back + SPAN) * DAY, back ? now - back * DAY : Number.MAX_SAFE_INTEGER];
    const some = await db.orders.where('paidAt').between(from, to).toArray();
    found.push(...some.filter((o) => o.marketplace === market && o.settledAt !== null).reverse());
  }
  return found.slice(0, LOOKED_AT);
}
