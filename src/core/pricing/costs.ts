import { halfUp, type Ppm, WHOLE } from '../money';

/**
 * One band of a fee: the rate holds for the part of the price up to `upTo` minor units, the last band has no
 * end.
 */
export interface FeeBand {
  readonly upTo: number | null;
  readonly rate: Ppm;
}

/**
 * What a marketplace takes of one order with one unit, tax inside the price. All amounts in minor units of
 * its currency.
 */
export interface FeeTable {
  /** By marketplace category; `*` stands for any other. */
  readonly categories: Readonly<Record<string, readonly FeeBand[]>>;
  /** Fixed fee per order. */
  readonly fixed: number;
  readonly payment: { readonly rate: Ppm; readonly fixed: number };
  /** Tax contained in the price: 20 % is 200,000, so a sixth of the price. */
  readonly taxInside: Ppm;
}

/** A supplier's shipping by weight: the first band that holds the weight gives the charge. */
export interface ShippingBand {
  readonly upToGrams: number;
  readonly minor: number;
}

/** The fees of one category, ready for the inner loop. */
export interface Fees {
  readonly bands: readonly FeeBand[];
  readonly fixed: number;
  readonly paymentRate: Ppm;
  readonly paymentFixed: number;
  readonly taxInside: Ppm;
}

export function feesFor(table: FeeTable, category: string): Fees {
  const bands = table.categories[category] ?? table.categories['*'];
  if (!bands?.length) throw new Error(`the fee table has no band for “${category}” and none for the rest`);
  return {
    bands,
    fixed: table.fixed,
    paymentRate: table.payment.rate,
    paymentFixed: table.payment.fixed,
    taxInside: table.taxInside,
  };
}

/** Shipping for a weight, or null where the supplier has no band that holds it. */
export function shippingFor(bands: readonly ShippingBand[], grams: number): number | null {
  for (const band of bands) if (grams <= band.upToGrams) return band.minor;
  return null;
}

/**
 * The marketplace's category fee and fixed fee on a price; banded rates apply to the part of the price within
 * each band, halves rounded up once at the end.
 */
export function marketplaceFee(fees: Fees, price: number): number {
  let sum = 0;
  let from = 0;
  for (const band of fees.bands) {
    const to = band.upTo === null ? price : Math.min(price, band.upTo);
    if (to > from) sum += (to - from) * band.rate;
    if (band.upTo === null || price <= band.upTo) break;
    from = band.upTo;
  }
  return halfUp(sum, WHOLE) + fees.fixed;
}

/** The payment fee on a price, halves rounded up. */
export function paymentFee(fees: Fees, price: number): number {
  return halfUp(price * fees.paymentRate, WHOLE) + fees.paymentFixed;
}

/** Tax contained in a price: price × r ÷ (1 + r), halves rounded up. */
export function taxInside(fees: Fees, price: number): number {
  return halfUp(price * fees.taxInside, WHOLE + fees.taxInside);
}

/**
 * Everything that leaves the price before profit; `landed` is the supplier's price and shipping, both without
 * reclaimable tax.
 */
export interface Sum {
  readonly price: number;
  readonly goods: number;
  readonly shipping: number;
  readonly landed: number;
  readonly fee: number;
  readonly payment: number;
  readonly tax: number;
  readonly profit: number;
}

/** The whole sum of one sale at a price, to the minor unit. */
export function sumAt(price: number, goods: number, shipping: number, fees: Fees): Sum {
  const fee = marketplaceFee(fees, price);
  const payment = paymentFee(fees, price);
  const tax = taxInside(fees, price);
  const landed = goods + shipping;
  return { price, goods, shipping, landed, fee, payment, tax, profit: price - landed - fee - payment - tax };
}

/** Profit of one sale; the inner loop's short form of {@link sumAt}. */
export function profitAt(price: number, landed: number, fees: Fees): number {
  return price - landed - marketplaceFee(fees, price) - paymentFee(fees, price) - taxInside(fees, price);
}
