import { type Entry, inBooks } from '../ledger';
import type { Currency } from '../money';
import { isReturn, type OrderState, type Return } from '../orders';
import { type Tax, taxInside } from '../pricing';

/** A part of what a return cost: towards the seller above nothing, away below. */
export interface LossPart {
  readonly kind: 'refund' | 'tax' | 'fees' | 'label' | 'credit' | 'restocking' | 'sending again';
  readonly minor: number;
  readonly currency: Currency;
  /** In the currency of the books; null where there is no rate. */
  readonly books: number | null;
}

export interface Loss {
  readonly parts: readonly LossPart[];
  /** In the currency of the books; null where a part has no rate. Below nothing where something was lost. */
  readonly total: number | null;
}

/**
 * What a return cost so far: its share of the order's account, by the entries' own rates. The returns of an order stand
 * one behind the other, so that their shares of the tax add up to the minor unit.
 * @param paid what the buyer paid, with shipping
 * @param ratesOf the rate with which the order's entries of a currency were made
 */
export function lossOf(
  c: Return,
  order: Pick<OrderState, 'cases' | 'purchases' | 'refunded'> & { readonly currency: Currency },
  terms: {
    readonly paid: number;
    readonly tax: Tax;
    readonly rateOf: (currency: Currency) => number | null;
    readonly books: Currency;
  },
): Loss {
  const { paid, tax, rateOf, books } = terms;
  const all = order.cases.filter(isReturn);
  const before =
    Math.max(0, order.refunded - all.reduce((sum, one) => sum + one.refunded, 0)) +
    all.slice(0, all.indexOf(c)).reduce((sum, one) => sum + one.refunded, 0);
  const taxOf = (refunded: number) =>
    tax.model === 'inside' ? taxInside(tax.rate, Math.max(0, paid - refunded)) : 0;
  const currencyOf = (of: { supplier: string; reference: string } | null | undefined) =>
    order.purchases.find((p) => p.supplier === of?.supplier && p.reference === of?.reference)?.currency ??
    order.currency;
  const parts: LossPart[] = [];
  const add = (kind: LossPart['kind'], minor: number, currency: Currency) => {
    if (minor)
      parts.push({
        kind,
        minor,
        currency,
        books: inBooks({ amount: minor, currency, rate: rateOf(currency) }, books),
      });
  };
  add('refund', -c.refunded, order.currency);
  add('tax', taxOf(before) - taxOf(before + c.refunded), order.currency);
  add('fees', c.fees, order.currency);
  add('label', -c.label, order.currency);
  const { claim, parcel } = c;
  add('credit', claim?.credit ?? 0, currencyOf(claim));
  add('restocking', -(claim?.restocking ?? 0), currencyOf(claim));
  add('sending again', -(parcel?.again?.charged ?? 0), currencyOf(parcel));
  const total = parts.reduce<number | null>(
    (sum, p) => (sum === null || p.books === null ? null : sum + p.books),
    0,
  );
  return { parts, total };
}

/** The rate that an order's entries of a currency have; null for none. */
export const rateAmong =
  (entries: readonly Entry[]) =>
  (currency: Currency): number | null =>
    entries.find((e) => e.currency === currency && e.rate !== null)?.rate ?? null;
