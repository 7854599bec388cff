import type { Currency, Ppm, Rates } from '../money';
import { type FurtherCosts, type SoldLine, type SumKind, takenOf, withTax } from '../pricing';
import type { Instant } from '../units';
import { type Entry, type EntryKind, rateFor } from './ledger';

/** What one purchase will cost, in its supplier's currency. */
export interface ExpectedCost {
  readonly reference: string;
  readonly supplier: string;
  readonly currency: Currency;
  readonly goods: number;
  readonly shipping: number;
  /** What comes besides, handling aside, which is part of the shipping. */
  readonly further?: Omit<FurtherCosts, 'handling'>;
}

/** An order as its account is expected. */
export interface ExpectedOrder {
  readonly marketplace: string;
  readonly currency: Currency;
  readonly lines: readonly SoldLine[];
  /** What the buyer pays for shipping. */
  readonly shipping: number;
  readonly costs: readonly ExpectedCost[];
  /** Tax on cost that is not reclaimed. */
  readonly costTax: Ppm;
}

/** What a line of a sum is in an account; undefined for what is no fee and no tax. */
export const feeEntry = (kind: SumKind): EntryKind | undefined => FEES[kind];

const FEES: Readonly<Partial<Record<SumKind, EntryKind>>> = {
  sale: 'sale fee',
  payment: 'payment fee',
  advertising: 'advertising',
  listing: 'listing fee',
  tax: 'tax',
};

/** What one purchase costs, part by part; cashback below nothing. */
export function boughtParts(
  { goods, shipping, further }: Pick<ExpectedCost, 'goods' | 'shipping' | 'further'>,
  costTax: Ppm,
): [EntryKind, number][] {
  return [
    ['goods', goods],
    ['shipping', shipping],
    ['tax on cost', withTax(goods, shipping, costTax).tax],
    ['duty', further?.duty ?? 0],
    ['import tax', further?.importTax ?? 0],
    ['paying', further?.paying ?? 0],
    ['cashback', -(further?.cashback ?? 0)],
  ];
}

/**
 * What an order is expected to bring, entry by entry: the sale, what the marketplace takes by {@link takenOf}, each
 * purchase with its goods, its shipping and the tax on both that is not reclaimed.
 */
export function expectedEntries(order: ExpectedOrder, rates: Rates, at: Instant): Entry[] {
  const entries: Entry[] = [];
  const rate = rateFor(rates, order.currency);
  const own = { currency: order.currency, rate, at, purchase: null };
  const add = (kind: EntryKind, name: string, amount: number, from: string) => {
    if (amount) entries.push({ ...own, kind, name, amount, from });
  };
  add(
    'sale',
    '',
    order.lines.reduce((sum, l) => sum + l.unitPrice * l.quantity, 0),
    '',
  );
  add('buyer shipping', '', order.shipping, '');
  for (const { kind, name, minor } of takenOf(order.lines, order.shipping))
    add(FEES[kind]!, name, -minor, kind === 'tax' ? '' : order.marketplace);
  for (const cost of order.costs) {
    const theirs = rateFor(rates, cost.currency);
    const bought = {
      currency: cost.currency,
      rate: theirs,
      at,
      from: cost.supplier,
      purchase: cost.reference,
      name: '',
    };
    for (const [kind, minor] of boughtParts(cost, order.costTax))
      if (minor) entries.push({ ...bought, kind, amount: -minor });
  }
  return entries;
}
