import { type OrderState, standingOf } from '../../core/orders';
import { countOf } from '../../core/units';
import { applyChange, buyersByOrder, type Order, type RowChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp, shopNow } from '../memory/assortment';
import { advance, orderChange } from './advance';
import { decide, linkedOf, promisedNow } from './decide';

/**
 * What of the checks is worth a line in the history: which failed and why. What passed may say other figures
 * each time.
 */
const gist = (checks: Order['checks']) => checks.map((c) => (c.passed ? c.kind : JSON.stringify(c))).join();

/**
 * Checks every order that is held or ready again, as after a refresh or a new link; forwards what passes if the
 * rule says so.
 */
export const recheckOrders = (work: Work): Promise<number> =>
  decideAgain(
    work,
    (o) => ['held', 'ready'].includes(standingOf(o)),
    (n) => `Checked ${countOf(n, 'waiting order')} again`,
  );

/** Buys the orders that stand ready and whose rule says that they go by now. @returns how many were looked at */
export async function forwardDue(work: Work): Promise<number> {
  const assortment = await caughtUp(work);
  const at = work.clock();
  const isDue = ({ due }: Pick<OrderState, 'due'>) => due != null && due.at <= at;
  if (![...assortment.openOrders].some(isDue)) return 0;
  return decideAgain(work, isDue, (n) => `Bought ${countOf(n, 'order')} by rule`);
}

/** Decides some open orders anew with what is known now, the oldest first. */
async function decideAgain(
  work: Work,
  isMeant: (order: Order) => boolean,
  name: (n: number) => string,
): Promise<number> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const shop = await shopNow(work);
    const open = await db.orders.where('open').equals(1).sortBy('paidAt');
    const waiting = open.filter(isMeant);
    if (!waiting.length) return 0;
    const linked = await linkedOf(work, waiting);
    const buyers = await buyersByOrder(db, waiting);
    const rows: RowChange[] = [];
    const promised = await promisedNow(work);
    for (const order of waiting) {
      const decided = decide(order, buyers.get(order.id), linked, shop, promised, 'by rule', work.clock());
      const same = gist(decided.checks) === gist(order.checks) && decided.due?.at === order.due?.at;
      if (!decided.purchases.length && !decided.over.length && same) continue;
      const moved = await advance(work, shop, order, [decided], { promised });
      if (moved) rows.push(orderChange(moved));
    }
    await applyChange(db, { by: 'rule', name: name(rows.length), quiet: true }, rows, nowOf(work));
    return rows.length;
  });
}
