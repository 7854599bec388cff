import { accountOf } from '../../core/ledger';
import type { Currency } from '../../core/money';
import {
  type Buyer,
  type CheckKind,
  FIRM,
  type Go,
  holdsOf,
  mayDo,
  type OrderEvent,
  standingOf,
} from '../../core/orders';
import type { Promised } from '../../core/sourcing';
import { buyersByOrder, type Order, ordersById } from '../../store';
import type { Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { supplierOf } from '../quoting/worth';
import { decide, linkedIn, promisedIn } from './decide';
import { spentOn } from './rules';
import { type LineSources, sourcesOf } from './sources';

/** A purchase that is to come, with what is left at its supplier after it. */
export interface ComingPurchase {
  readonly order: string;
  readonly number: string;
  /** When it is bought by itself; null where a person has to say so. */
  readonly at: number | null;
  readonly rule: string;
  readonly kept: boolean;
  readonly supplier: string;
  readonly currency: Currency;
  readonly cost: number;
  /** Null where it is not paid from a balance. */
  readonly balanceAfter: number | null;
}

/** All that a decision is made with, for looking ahead: nothing of it is written. */
interface Lookout {
  readonly assortment: Assortment;
  readonly promised: Promised;
  readonly buyers: ReadonlyMap<string, Buyer>;
  readonly decideOn: (order: Order, go: Go) => Extract<OrderEvent, { kind: 'decided' }>;
}

async function lookout(work: Work, orders: readonly Order[]): Promise<Lookout> {
  const assortment = await caughtUp(work);
  const promised = await promisedIn(work, assortment);
  const buyers = await buyersByOrder(work.db, orders);
  const linked = linkedIn(assortment, orders);
  const { shop } = assortment;
  return {
    ...{ assortment, promised, buyers },
    decideOn: (order, go) => decide(order, buyers.get(order.id), linked, shop, promised, go, work.clock()),
  };
}

/** The purchases that stand ready, in the order in which they are bought: those with a time first. */
export async function comingPurchases(work: Work): Promise<ComingPurchase[]> {
  const { openOrders } = await caughtUp(work);
  const ready = [...openOrders]
    .filter((o) => standingOf(o) === 'ready')
    .sort((a, b) => (a.due?.at ?? Infinity) - (b.due?.at ?? Infinity) || a.paidAt - b.paidAt);
  const { decideOn, promised } = await lookout(work, ready);
  return ready.flatMap((order) =>
    decideOn(order, 'now').purchases.map(({ supplier, currency, expected }) => ({
      order: order.id,
      number: order.number,
      at: order.due?.at ?? null,
      rule: order.due?.rule ?? '',
      kept: order.kept ?? false,
      supplier,
      currency,
      cost: expected.goods + expected.shipping,
      balanceAfter: promised.balanceAt(supplier),
    })),
  );
}

/** What releasing some orders would do, in the currency of the books. */
export interface ReleaseAhead {
  /** Orders that would pass, with the checks that would be let pass in them. */
  readonly passes: number;
  readonly kinds: readonly { readonly kind: CheckKind; readonly orders: number }[];
  readonly spends: number;
  readonly earns: number;
  /** Of them those that lose money. */
  readonly losing: number;
  /** Orders that stay held: nothing can be bought for them. */
  readonly stays: number;
}

/** Looks at what letting every check of some orders pass and buying them would cost. */
export async function releaseAhead(work: Work, ids: readonly string[]): Promise<ReleaseAhead> {
  const held = [...(await ordersById(work.db, ids)).values()].filter((o) => mayDo('release', o));
  const { decideOn, assortment } = await lookout(work, held);
  const { shop } = assortment;
  const sums = { passes: 0, spends: 0, earns: 0, losing: 0, stays: 0 };
  const kinds = new Map<CheckKind, number>();
  for (const order of held) {
    const failed = holdsOf(order.checks, order.released).map((c) => c.kind);
    const decided = decideOn({ ...order, released: [...order.released, ...failed] }, 'now');
    if (!decided.purchases.length) {
      sums.stays++;
      continue;
    }
    sums.passes++;
    for (const kind of failed) if (!FIRM.includes(kind)) kinds.set(kind, (kinds.get(kind) ?? 0) + 1);
    sums.spends += spentOn(decided.purchases, shop);
    const profit = decided.expected && accountOf(decided.expected, shop.settings.currency)?.profit;
    sums.earns += profit ?? 0;
    if ((profit ?? 0) < 0) sums.losing++;
  }
  return {
    ...sums,
    kinds: [...kinds].map(([kind, orders]) => ({ kind, orders })).sort((a, b) => b.orders - a.orders),
  };
}

/** A candidate of a line as it is shown: what it would cost and earn, and what speaks against it. */
export type ShownSource = Omit<LineSources['candidates'][number], 'full'> & {
  readonly currency: Currency;
  /** Profit of the whole order if the line were bought of it; null where it cannot be told. */
  readonly profit: number | null;
};

/** The candidates of one line, best first. */
export interface ShownSources {
  readonly line: string;
  readonly units: number;
  readonly chosen: boolean;
  readonly split: boolean;
  readonly candidates: readonly ShownSource[];
}

/** Every source that the open lines of an order can be bought of, best first, with the profit of the order by each. */
export async function sourcesAhead(work: Work, id: string): Promise<ShownSources[]> {
  const order = (await ordersById(work.db, [id])).get(id);
  if (!order) return [];
  const { assortment, promised, buyers } = await lookout(work, [order]);
  const { shop } = assortment;
  const linked = linkedIn(assortment, [order]);
  const buyer = buyers.get(id);
  if (!buyer) return [];
  return sourcesOf(order, buyer, linked, shop, promised).map(({ line, rank, split, candidates }) => ({
    split,
    line: line.id,
    units: line.open,
    chosen: order.chosen?.[line.id] !== undefined,
    candidates: rank.map((k) => {
      const { full: _, ...one } = candidates[k]!;
      const { supplier, item } = one;
      const { [line.id]: _shares, ...shares } = order.shares ?? {};
      const by = { ...order, shares, chosen: { ...order.chosen, [line.id]: { supplier, item } } };
      const decided = decide(by, buyer, linked, shop, promised, 'no', work.clock());
      const profit =
        decided.expected && (accountOf(decided.expected, shop.settings.currency)?.profit ?? null);
      const sells = one.against.every(({ why }) => why === 'stock' || why === 'refused');
      const currency = supplierOf(shop, supplier)?.currency ?? shop.settings.currency;
      return { ...one, currency, profit: sells ? profit : null };
    }),
  }));
}
