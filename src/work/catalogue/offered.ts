import { NO_PRICE, type Prices } from '../../core/catalogue';
import {
  type AheadOrder,
  largest,
  MOST_TOLD,
  medianTenths,
  type Prospect,
  Spread,
  type WhatIf,
} from '../pricing/prospects';

/** A supplier's items with their expected prices as they stand and as they would be. */
export interface OfferedRows {
  readonly before: Prices;
  readonly after: Prices;
  readonly titleAt: (row: number) => string;
  readonly skuAt: (row: number) => string;
  readonly isGone: (row: number) => boolean;
  readonly key: (row: number) => string;
}

/**
 * What would happen to the expected prices of all that suppliers offer, on one marketplace. Items without a price before and
 * after are left out. Cost: one pass, one sort of the items that are told of.
 */
export function offeredAhead(
  suppliers: readonly OfferedRows[],
  market: { readonly name: string; readonly currency: string },
  order: AheadOrder,
): WhatIf {
  const spread = new Spread();
  const total = suppliers.reduce((n, s) => n + s.after.price.length, 0);
  const marginsFrom = new Int32Array(total);
  const marginsTo = new Int32Array(total);
  /** By which rows are told of, the largest first; supplier and row beside it. */
  const weights = new Float64Array(total);
  const places = new Float64Array(total);
  const counts = { listings: 0, rise: 0, fall: 0, stay: 0, held: 0, losing: 0, leaps: 0 };
  let [priced, had, profitFrom, profitTo] = [0, 0, 0, 0];
  for (const [s, { before, after, isGone }] of suppliers.entries())
    for (let row = 0; row < after.price.length; row++) {
      const [from, to] = [before.price[row]!, after.price[row]!];
      if ((from === NO_PRICE && to === NO_PRICE) || isGone(row)) continue;
      const k = counts.listings++;
      places[k] = s * 2 ** 32 + row;
      if (from !== NO_PRICE) {
        marginsFrom[had++] = before.margin[row]!;
        profitFrom += before.profit[row]!;
      }
      if (to === NO_PRICE) {
        counts.held++;
        spread.add(from, null);
        weights[k] = order === 'moves' ? Number.MAX_SAFE_INTEGER : Number.NEGATIVE_INFINITY;
        continue;
      }
      marginsTo[priced++] = after.margin[row]!;
      profitTo += after.profit[row]!;
      const moved = from === NO_PRICE ? 0 : to - from;
      if (from !== NO_PRICE) spread.add(from, to);
      if (moved > 0) counts.rise++;
      else if (moved < 0) counts.fall++;
      else counts.stay++;
      if (after.profit[row]! < 0 && (from === NO_PRICE || before.profit[row]! >= 0)) counts.losing++;
      weights[k] =
        order === 'moves'
          ? moved && Math.abs(moved) / from
          : order === 'worst'
            ? -after.margin[row]!
            : after.margin[row]!;
    }
  const told = largest(weights.subarray(0, counts.listings), MOST_TOLD);
  const prospects = told.map((k): Prospect => {
    const supplier = suppliers[Math.floor(places[k]! / 2 ** 32)]!;
    const row = places[k]! % 2 ** 32;
    const at = ({ price, profit }: Prices) =>
      price[row] === NO_PRICE ? null : { price: price[row]!, profit: profit[row]! };
    const [from, to] = [at(supplier.before), at(supplier.after)];
    return {
      id: supplier.key(row),
      title: supplier.titleAt(row),
      sku: supplier.skuAt(row),
      from: from?.price ?? to?.price ?? 0,
      to: to?.price ?? null,
      profitFrom: from?.profit ?? to?.profit ?? 0,
      profitTo: to?.profit ?? null,
      shownFrom: 0,
      shownTo: 0,
      says: to ? (from ? '' : 'Had no price') : 'Has no price',
      currency: market.currency,
      market: market.name,
    };
  });
  return {
    ...counts,
    holds: counts.held ? [['no price', counts.held]] : [],
    shown: 0,
    markets: [
      {
        market: market.name,
        currency: market.currency,
        listings: counts.listings,
        rise: counts.rise,
        fall: counts.fall,
        profitFrom,
        profitTo,
      },
    ],
    marginFrom: medianTenths(marginsFrom.subarray(0, had)),
    marginTo: medianTenths(marginsTo.subarray(0, priced)),
    prospects,
    spread: spread.columns(),
  };
}
