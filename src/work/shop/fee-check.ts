import { type EntryKind, feeEntry } from '../../core/ledger';
import { type FeeTable, takenOf } from '../../core/pricing';
import type { MarketConnection, Order } from '../../store';
import { shopNow } from '../assortment/assortment';
import type { Work } from '../context';
import { linkedOf, soldLines } from '../orders/decide';

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

/** What a table of fees would have charged for the orders of a marketplace, beside what it really charged. */
export async function feeCheck(work: Work, market: string, fees: FeeTable): Promise<FeeCheck> {
  const before = await shopNow(work);
  const c = before.connections.get(market) as MarketConnection | undefined;
  if (!c) return { orders: 0, agree: 0, expected: 0, charged: 0, differences: [] };
  const connections = new Map(before.connections).set(market, { ...c, site: { ...c.site, fees } });
  const shop = { ...before, connections };
  const orders: Order[] = await work.db.orders
    .orderBy('paidAt')
    .reverse()
    .filter((o) => o.marketplace === market)
    .limit(LOOKED_AT)
    .toArray();
  const linked = await linkedOf(work, orders);
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
