import { type Fees, type PricePlan, profitAt, type ShippingBand, shippingFor, solvePrice } from '../pricing';
import type { Catalogue } from './catalogue';

/** Stands where an item has no price: no category, no parcel for its weight, guards that contradict. */
export const NO_PRICE = -2_147_483_648;

/**
 * Expected price and profit of each row on one marketplace in minor units, margin in millionths of the price.
 */
export interface Prices {
  readonly price: Int32Array;
  readonly profit: Int32Array;
  readonly margin: Int32Array;
}

/** Prices of the smallest landed costs, kept for each class of fees: most items share theirs with others. */
const KEPT = 65_536;

/**
 * Prices rows `from` to `to` into `into`: plain integers with all that repeats taken out of the loop. Agrees
 * with `quoteItem`, item by item. Cost: about 0.3 µs a row where landed costs repeat, 3 µs where each is new.
 * @param feesOf the fees of a row's category, null where it has none here
 */
export function priceRows(
  c: Catalogue,
  from: number,
  to: number,
  plan: PricePlan,
  shipping: readonly ShippingBand[],
  feesOf: (row: number) => Fees | null,
  kept: Map<Fees, Int32Array>,
  into: Prices,
): void {
  const { cost, grams, map, msrp } = c.numbers;
  for (let i = from; i < to; i++) {
    into.price[i] = NO_PRICE;
    into.profit[i] = NO_PRICE;
    into.margin[i] = NO_PRICE;
    const fees = feesOf(i);
    const carriage = shippingFor(shipping, grams[i]!);
    if (!fees || carriage === null) continue;
    const landed = cost[i]! + carriage;
    const free = map[i]! < 0 && msrp[i]! < 0 && landed < KEPT;
    let known = free ? kept.get(fees) : undefined;
    if (free && !known) {
      known = new Int32Array(KEPT);
      kept.set(fees, known);
    }
    let price = known?.[landed] ?? 0;
    if (price === 0) {
      const answer = solvePrice(
        plan,
        { landed, map: map[i]! < 0 ? null : map[i]!, msrp: msrp[i]! < 0 ? null : msrp[i]! },
        fees,
      );
      price = answer.ok ? answer.price : NO_PRICE;
      if (known) known[landed] = price;
    }
    if (price === NO_PRICE) continue;
    const profit = profitAt(price, landed, fees);
    into.price[i] = price;
    into.profit[i] = profit;
    into.margin[i] = Math.trunc((profit * 1_000_000) / price);
  }
}
