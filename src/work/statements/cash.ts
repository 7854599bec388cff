import { costDays, inBooks, rateFor } from '../../core/ledger';
import { isCancelled } from '../../core/orders';
import { Promised } from '../../core/sourcing';
import { type CashDay, cashByDay, type Flow, groupOfEntry, payoutDays } from '../../core/statements';
import { addDays, dayOf } from '../../core/units';
import { allHealth, type LedgerRow, type Order, type StatementRow } from '../../store';
import type { OrderBook } from '../order-book/order-book';
import { currencyOf } from './places';

/** What is with one marketplace. Amounts in its currency. */
export interface WithMarket {
  readonly id: string;
  readonly name: string;
  readonly currency: string;
  /** Left on the account after the last statement; null where none says so. */
  readonly closing: number | null;
  readonly lastDay: string | null;
  /** Recorded of orders and not stated yet: of settled ones, and of those that are still to be sent. */
  readonly settled: number;
  readonly open: number;
  /** When it pays out next, as far as that can be told. */
  readonly nextPayout: string | null;
}

/** What is with one supplier. Amounts in its currency. */
export interface WithSupplier {
  readonly id: string;
  readonly name: string;
  readonly currency: string;
  /** Prepaid; null where it is paid otherwise. */
  readonly balance: number | null;
  /** To be bought for orders that are ready or on their way to it. */
  readonly promised: number;
  /** Statements that are not paid yet: what is owed by which day. */
  readonly bills: readonly {
    readonly id: string;
    readonly number: string;
    readonly minor: number;
    readonly due: string;
  }[];
}

export interface Cash {
  readonly currency: string;
  readonly today: string;
  readonly markets: readonly WithMarket[];
  readonly suppliers: readonly WithSupplier[];
  readonly flows: readonly Flow[];
  readonly days: readonly CashDay[];
  /** Amounts that have no rate into the books and are left out. */
  readonly unrated: number;
}

const DAYS = 30;

/** What a sale's entries come to that no statement has yet. */
function unstated({ entries, stated = [] }: LedgerRow): number {
  let sum = 0;
  for (const e of entries) if (e.purchase === null && groupOfEntry(e.kind, 'marketplace')) sum += e.amount;
  for (const s of stated) if (s.side === 'marketplace') for (const a of s.amounts) sum -= a.amount;
  return sum;
}

/** What is where, and what is expected of the next 30 days. Cost: one pass over the orders in memory. */
export async function cashOf(book: OrderBook): Promise<Cash> {
  const { db, clock } = book.work;
  const { settings, connections, rates } = book.shop;
  const today = dayOf(clock(), settings.zone);
  const end = addDays(today, DAYS - 1);
  const [statements, health, costs] = await Promise.all([
    db.statements.toArray(),
    allHealth(db),
    db.costs.toArray(),
  ]);
  const flows: Flow[] = [];
  let unrated = 0;
  const flow = (
    f: Omit<Flow, 'minor'>,
    amount: number,
    currency: string,
    rate = rateFor(rates, currency),
  ) => {
    const minor = inBooks({ amount, currency, rate }, settings.currency);
    if (minor === null) unrated++;
    // What was due before is due today.
    else if (minor) flows.push({ ...f, day: [f.day, today].sort().at(-1)!, minor });
  };
  const byMarket = new Map<string, { settled: number; open: number }>();
  const firstDay = new Map<string, number>();
  for (const s of statements)
    firstDay.set(s.from, Math.min(firstDay.get(s.from) ?? Number.POSITIVE_INFINITY, Date.parse(s.firstDay)));
  const buying: Order[] = [];
  for (const { order, ledger } of book.hot()) {
    if (order.open === 1) buying.push(order);
    const begins = firstDay.get(order.marketplace);
    // What was settled before the first statement that is known here was paid out before.
    if (!ledger || begins === undefined || (order.settledAt !== null && order.settledAt < begins)) continue;
    const sum = byMarket.get(order.marketplace) ?? { settled: 0, open: 0 };
    if (order.settledAt !== null || isCancelled(order)) sum.settled += unstated(ledger);
    else sum.open += unstated(ledger);
    byMarket.set(order.marketplace, sum);
  }
  const markets: WithMarket[] = [];
  const suppliers: WithSupplier[] = [];
  const promised = new Promised(
    buying,
    () => 0,
    new Map([...health].flatMap(([id, h]) => (h.balance === null ? [] : [[id, h.balance] as const]))),
  );
  for (const c of connections.values()) {
    const own = statements
      .filter((s) => s.from === c.id && s.whole)
      .sort((a, b) => (a.lastDay < b.lastDay ? -1 : 1));
    const last = own.at(-1);
    const currency = currencyOf(c);
    if (c.role === 'marketplace') {
      const { settled, open } = byMarket.get(c.id) ?? { settled: 0, open: 0 };
      const days = last
        ? payoutDays(
            own[0]!.firstDay,
            own.map((s) => s.lastDay),
            today,
            end,
          )
        : [];
      const closing = last?.closing?.minor ?? null;
      markets.push({
        ...{ id: c.id, name: c.name, currency, closing, lastDay: last?.lastDay ?? null, settled, open },
        nextPayout: days[0] ?? null,
      });
      // What is still to be sent is settled some days from now: with the payout after the next.
      const [next, later = next] = days;
      if (next) flow({ day: next, of: c.name, kind: 'payout' }, (closing ?? 0) + settled, currency);
      if (later) flow({ day: later, of: c.name, kind: 'payout' }, open, currency);
      continue;
    }
    const balance = health.get(c.id)?.balance ?? null;
    const bills = own.flatMap(billOf);
    suppliers.push({
      ...{ id: c.id, name: c.name, currency, balance, bills },
      promised: promised.moneyTo(c.id),
    });
    for (const b of bills)
      flow({ day: b.due, of: `${c.name} ${b.number}`, kind: 'bill' }, -b.minor, currency);
    // What is prepaid has left the bank already, but for what it does not cover.
    const kind = balance === null ? 'purchase' : 'top-up';
    const needed = promised.moneyTo(c.id) - (balance ?? 0);
    if (needed > 0) flow({ day: today, of: c.name, kind }, -needed, currency);
  }
  for (const cost of costs)
    for (const day of costDays(cost, today, end))
      flow({ day, of: cost.name, kind: 'cost' }, -cost.minor, cost.currency, cost.rate);
  flows.sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
  return {
    ...{ currency: settings.currency, today, markets, suppliers, flows, unrated },
    days: cashByDay(flows, today, DAYS),
  };
}

/** What a supplier's statement leaves to be paid by a day. */
function billOf(s: StatementRow): WithSupplier['bills'] {
  if (s.due === null || s.paidOn !== null) return [];
  const sum = s.sums.reduce((n, k) => n + k.minor, 0);
  return sum < 0 ? [{ id: s.id, number: s.number, minor: -sum, due: s.due }] : [];
}
