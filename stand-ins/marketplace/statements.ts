import type { WireOrder, WireStatementKind } from '../../src/connect/wire';
import { closeDue, closeStatement, type OnAccount, openStatements, type Statements } from '../statements';
import { type Market, specOf } from './market';

const minorOf = (amount: string | undefined) => Math.round(Number(amount ?? '0') * 100);

const FEE: Readonly<Record<string, WireStatementKind>> = {
  sale: 'sale fee',
  payment: 'payment fee',
  advertising: 'advertising',
  listing: 'listing fee',
};

/** What an order has on the account once it is settled, or was refunded. */
function onAccount(order: WireOrder): OnAccount | null {
  if (!order.charges && !order.returns?.length) return null;
  const totals: OnAccount['totals'] = {};
  const add = (kind: WireStatementKind, minor: number) => {
    if (minor) totals[kind] = (totals[kind] ?? 0) + minor;
  };
  add(
    'sale',
    order.lines.reduce((sum, l) => sum + minorOf(l.unitPrice) * l.quantity, 0),
  );
  add('shipping', minorOf(order.shipping));
  add('refund', -minorOf(order.refunded));
  for (const c of order.charges ?? []) add(FEE[c.kind]!, -minorOf(c.amount));
  for (const r of order.returns ?? []) add('return', -minorOf(r.label));
  return { order: order.number, totals };
}

const accountsOf = (m: Market): OnAccount[] => m.orders.map(onAccount).filter((one) => one !== null);

const houseOf = (m: Market) => ({
  prefix: `${specOf(m).prefix}S`,
  currency: specOf(m).site.currency,
  every: m.site === 'loomhall' ? 14 : 7,
  ...{ paysOut: true, monthly: m.site === 'loomhall' ? 0 : 2_500, dueIn: 0 },
});

export function statementsOf(m: Market, now: number): Statements {
  m.statements ??= openStatements();
  closeDue(m.statements, houseOf(m), () => accountsOf(m), now);
  return m.statements;
}

/** Closes a statement now. @returns how many lines it has */
export function closeNow(m: Market, now: number, wrong = 0): number {
  const s = statementsOf(m, now);
  s.wrong = wrong;
  return closeStatement(s, houseOf(m), accountsOf(m), now);
}
