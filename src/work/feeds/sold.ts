import type { OrderBook } from '../order-book/order-book';
import { accountAt, IS } from '../order-book/order-columns';

/** What buyers who came by a mark ordered, over all that is on record. Amounts in the books. */
export interface SoldByMark {
  readonly currency: string;
  readonly sums: readonly {
    readonly id: string;
    readonly market: string;
    readonly orders: number;
    readonly revenue: number;
    /** By what was really charged where that is known, else as expected. */
    readonly profit: number;
    /** Orders with a return. */
    readonly returns: number;
  }[];
}

/** Sums the orders by marketplace and mark. Cost: one pass over the columns of all orders. */
export function soldByMark(book: OrderBook): SoldByMark {
  const c = book.all;
  const sums = new Map<
    string,
    { -readonly [K in keyof SoldByMark['sums'][number]]: SoldByMark['sums'][number][K] }
  >();
  for (let place = 0; place < book.idAt.length; place++) {
    const id = c.mark[place];
    if (!id || !book.idAt[place] || !(c.flags[place]! & IS.counted)) continue;
    const market = c.marketplace[place]!;
    const key = `${market} ${id}`;
    const sum = sums.get(key) ?? { id, market, orders: 0, revenue: 0, profit: 0, returns: 0 };
    const account = accountAt(c.actual, place) ?? accountAt(c.expected, place);
    sum.orders++;
    sum.revenue += account?.revenue ?? 0;
    sum.profit += account?.profit ?? 0;
    if (c.returns[place]?.length) sum.returns++;
    sums.set(key, sum);
  }
  return { currency: c.books, sums: [...sums.values()] };
}
