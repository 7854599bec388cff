import { type Catalogue, type Prices, priceRows, type RowTerms, Searcher } from '../../core/catalogue';
import { categoryFor } from '../../core/checks';
import { digitsOf, factorOf } from '../../core/money';
import { choosePlans, type Deductions, deductionsFor, goesByCost } from '../../core/pricing';
import { type Condition, isEverything } from '../../core/query';
import { calendarNow, choosingFor, planOn } from '../quoting/plan-choice';
import { termsFor } from '../quoting/pricing-terms';
import { type ShopTerms, supplierOf } from '../quoting/worth';

/** What prices of a supplier's whole catalogue depend on. Null where there are none. */
function termsOf(shop: ShopTerms, supplier: string, market: string | null) {
  const terms = market ? termsFor(shop, supplier, market, null) : null;
  if (!terms) return null;
  const { rates, cushion, costTax } = terms;
  const [from, to] = [terms.supplier.currency, terms.site.currency];
  const [cost, guard] = [factorOf(rates, from, to, cushion), factorOf(rates, from, to)];
  return cost && guard && { ...terms, exchange: { cost, guard }, costTax };
}

/**
 * What expected prices depend on besides the rows; null where there are none: nothing connected, or no rate between
 * the currencies.
 */
export function pricesKey(shop: ShopTerms, supplier: string, market: string | null): string | null {
  const terms = termsOf(shop, supplier, market);
  if (!terms) return null;
  const { site, optedIn, categories, exchange, costTax } = terms;
  return JSON.stringify([
    market,
    shop.plans,
    calendarNow(shop),
    terms.supplier,
    terms.buyers,
    site.fees,
    optedIn,
    categories,
    exchange,
    costTax,
  ]);
}

/** Which plan holds for each row: the sets of rows that the plans' filters find, in the seller's order. */
export function plansOf(c: Catalogue, shop: ShopTerms, supplier: string, market: string): Int16Array {
  const { name, currency } = supplierOf(shop, supplier)!;
  let searcher: Searcher | null = null;
  const rowsOf = (filter: Condition) => {
    if (isEverything(filter)) return null;
    searcher ??= new Searcher([
      {
        supplier,
        name,
        scale: 10 ** digitsOf(currency),
        catalogue: c,
        prices: null,
        taken: new Uint8Array(c.length),
      },
    ]);
    return searcher.ids(searcher.find(filter));
  };
  return choosePlans(shop.plans, choosingFor(shop, market), c.length, (plan) => rowsOf(plan.filter)).of;
}

/**
 * Expected prices of all rows of a supplier on one marketplace, each under the plan that holds for it.
 * @param before prices that still hold, but for these rows and those behind their end
 */
export function expectedPrices(
  c: Catalogue,
  shop: ShopTerms,
  supplier: string,
  market: string | null,
  before?: { readonly prices: Prices; readonly rows: Iterable<number> },
): Prices | null {
  const terms = termsOf(shop, supplier, market);
  if (!terms) return null;
  const { site, optedIn, categories } = terms;
  const categoryIn = (name: string, title: string) => categoryFor(categories, name, title, site.categories);
  const prices = {
    price: new Int32Array(c.length),
    profit: new Int32Array(c.length),
    margin: new Int32Array(c.length),
  };
  const compiled = new Map<string, Deductions | null>();
  const deductionsIn = (category: string | null): Deductions | null => {
    if (category === null) return null;
    let own = compiled.get(category);
    if (own === undefined) {
      own = deductionsFor(site.fees, category, optedIn);
      compiled.set(category, own);
    }
    return own;
  };
  const byCategory = c.lists.category.map((name) => deductionsIn(categoryIn(name, '')));
  // The title only decides where the category's own words tell nothing.
  const deductionsOf = (row: number) =>
    byCategory[c.codes.category[row]!] ?? deductionsIn(categoryIn('', c.titleAt(row)));
  const byPlan = shop.plans.map(
    (plan): RowTerms => ({
      plan: planOn(plan, shop, market!),
      supplier: terms.supplier,
      buyers: terms.buyers,
      exchange: terms.exchange,
      costTax: terms.costTax,
      deductionsOf,
      kept: goesByCost(plan) ? new Map<Deductions, Int32Array>() : null,
      digits: digitsOf(site.currency),
    }),
  );
  const plans = plansOf(c, shop, supplier, market!);
  const termsAt = (row: number) => byPlan[plans[row]!] ?? null;
  const rows = before ? [...before.rows].filter((row) => row < before.prices.price.length) : [];
  const held = before && rows.length < c.length / 4 ? before.prices : null;
  if (held) for (const name of ['price', 'profit', 'margin'] as const) prices[name].set(held[name]);
  if (held) for (const row of rows) priceRows(c, row, row + 1, termsAt, prices);
  priceRows(c, held ? held.price.length : 0, c.length, termsAt, prices);
  return prices;
}
