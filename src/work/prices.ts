import { type Catalogue, type Prices, priceRows } from '../core/catalogue';
import { guessCategory } from '../core/checks';
import { type Fees, feesFor } from '../core/pricing';
import { marketOf, planOf, type Shop, supplierOf } from './quote';

/**
 * What expected prices depend on besides the rows; null where there are none: nothing connected, or no rate
 * between the currencies.
 */
export function pricesKey(shop: Shop, supplier: string, market: string | null): string | null {
  const site = market ? marketOf(shop, market)?.site : undefined;
  const source = supplierOf(shop, supplier);
  const plan = planOf(shop, null);
  return site && source && plan && source.currency === site.currency
    ? JSON.stringify([market, plan, source.shipping, site.fees])
    : null;
}

/**
 * Expected prices of all rows of a supplier on one marketplace, under the first plan.
 * @param before prices that still hold, but for these rows and those behind their end
 */
export function expectedPrices(
  c: Catalogue,
  shop: Shop,
  supplier: string,
  market: string | null,
  before?: { readonly prices: Prices; readonly rows: Iterable<number> },
): Prices | null {
  if (pricesKey(shop, supplier, market) === null) return null;
  const { site } = marketOf(shop, market!)!;
  const prices = {
    price: new Int32Array(c.length),
    profit: new Int32Array(c.length),
    margin: new Int32Array(c.length),
  };
  const fees = new Map<string, Fees>();
  const feesIn = (category: string | null): Fees | null => {
    if (category === null || !Object.hasOwn(site.fees.categories, category)) return null;
    let own = fees.get(category);
    if (!own) {
      own = feesFor(site.fees, category);
      fees.set(category, own);
    }
    return own;
  };
  const byCategory = c.lists.category.map((name) => feesIn(guessCategory(name, '', site.categories)));
  // The title only decides where the category's own words tell nothing.
  const feesOf = (row: number) =>
    byCategory[c.codes.category[row]!] ?? feesIn(guessCategory('', c.titleAt(row), site.categories));
  const kept = new Map<Fees, Int32Array>();
  const plan = planOf(shop, null);
  const { shipping } = supplierOf(shop, supplier)!;
  const rows = before ? [...before.rows].filter((row) => row < before.prices.price.length) : [];
  const held = before && rows.length < c.length / 4 ? before.prices : null;
  if (held) for (const name of ['price', 'profit', 'margin'] as const) prices[name].set(held[name]);
  if (held) for (const row of rows) priceRows(c, row, row + 1, plan, shipping, feesOf, kept, prices);
  priceRows(c, held ? held.price.length : 0, c.length, plan, shipping, feesOf, kept, prices);
  return prices;
}
