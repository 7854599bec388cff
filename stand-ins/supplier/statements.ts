import { closeDue, closeStatement, type OnAccount, openStatements, type Statements } from '../statements';
import { houseOf, type Purchase, type Warehouse } from './warehouse';

const minorOf = (amount: string | undefined) => Math.round(Number(amount ?? '0') * 100);

/** What a purchase has on the account. */
function onAccount(p: Purchase): OnAccount {
  const returned = (p.returns ?? []).reduce((sum, r) => sum + minorOf(r.credit) - minorOf(r.restocking), 0);
  const again = (p.back ?? []).reduce((sum, one) => sum + minorOf(one.again?.charge), 0);
  return {
    order: p.reference,
    totals: { goods: -p.goods, shipping: -p.shipping, return: returned - again },
  };
}

const house = (w: Warehouse) => ({
  prefix: `${(w.house ?? 'brackwater').slice(0, 2).toUpperCase()}S`,
  currency: houseOf(w).currency,
  ...{ every: 7, paysOut: false, monthly: 0, dueIn: 0 },
});

export function statementsOf(w: Warehouse, now: number): Statements {
  w.statements ??= openStatements();
  closeDue(w.statements, house(w), () => w.purchases.map(onAccount), now);
  return w.statements;
}

/** Closes a statement now. @returns how many lines it has */
export function closeNow(w: Warehouse, now: number, wrong = 0): number {
  const s = statementsOf(w, now);
  s.wrong = wrong;
  return closeStatement(s, house(w), w.purchases.map(onAccount), now);
}
