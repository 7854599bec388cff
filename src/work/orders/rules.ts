import { type OrderRules, USUAL_RULES } from '../../core/forwarding';
import { convert, factorOf } from '../../core/money';
import { chargeOf, type Purchase, standingOf } from '../../core/orders';
import { assertUnderstood, type Condition } from '../../core/query';
import { applyChange, buyersByOrder, type Settings } from '../../store';
import { nowOf, type Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import type { Shop } from '../quoting/worth';
import { BUYING_FIELDS } from './buying';
import { decide, linkedIn, promisedIn } from './decide';
import { recheckOrders } from './due';

/** Settings of the shop that say when orders go. */
type Rules = Pick<Settings, 'forward' | 'orders' | 'telling'>;

const conditionsOf = (rules: OrderRules): Condition[] =>
  [...rules.forwarding, ...rules.checks, ...(rules.services ?? [])].map((rule) => rule.when);

/**
 * Sets the rules for orders, as one change; what waits is decided by them at once.
 * @throws where a condition is not understood
 */
export async function setOrderRules(work: Work, rules: Partial<Rules>, name: string): Promise<void> {
  const { db } = work;
  for (const when of conditionsOf(rules.orders ?? USUAL_RULES)) assertUnderstood(when, BUYING_FIELDS);
  await db.transaction('rw', db.shopTables, () =>
    applyChange(
      db,
      { by: 'person', name, undoable: true },
      [{ table: 'settings', id: 'shop', set: { ...rules } }],
      nowOf(work),
    ),
  );
  await recheckOrders(work);
}

/** What purchases cost as charged, else as expected, in the currency of the books; those without a rate are left out. */
export const spentOn = (purchases: readonly Purchase[], shop: Shop): number =>
  purchases.reduce((sum, p) => {
    const { goods, shipping } = chargeOf(p) ?? p.expected;
    const factor = factorOf(shop.rates, p.currency, shop.settings.currency);
    return factor ? sum + convert(goods + shipping, factor) : sum;
  }, 0);

/** What becomes of the orders that wait. Amounts in the currency of the books. */
export interface Ahead {
  /** Bought at once, with what they cost. */
  readonly goes: number;
  readonly spends: number;
  /** Bought by themselves later. */
  readonly waits: number;
  /** Waits for a person's word. */
  readonly ready: number;
  readonly held: number;
}

/** What rules would make of the orders that wait now, beside what is made of them as they are. Writes nothing. */
export async function rulesAhead(
  work: Work,
  rules: Partial<Rules>,
): Promise<{ readonly before: Ahead; readonly after: Ahead }> {
  const { db } = work;
  const assortment = await caughtUp(work);
  const { shop } = assortment;
  const waiting = [...assortment.openOrders]
    .filter((o) => ['held', 'ready'].includes(standingOf(o)))
    .sort((a, b) => a.paidAt - b.paidAt);
  const buyers = await buyersByOrder(db, waiting);
  const linked = linkedIn(assortment, waiting);
  const weigh = async (by: Shop): Promise<Ahead> => {
    const promised = await promisedIn(work, assortment);
    const sums = { goes: 0, spends: 0, waits: 0, ready: 0, held: 0 };
    for (const order of waiting) {
      const decided = decide(order, buyers.get(order.id), linked, by, promised, 'by rule', work.clock());
      if (!decided.passed) sums.held++;
      else if (decided.purchases.length) {
        sums.goes++;
        sums.spends += spentOn(decided.purchases, shop);
      } else if (decided.due) sums.waits++;
      else sums.ready++;
    }
    return sums;
  };
  return {
    before: await weigh(shop),
    after: await weigh({ ...shop, settings: { ...shop.settings, ...rules } }),
  };
}
