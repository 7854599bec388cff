import { guessCategory, type Missing, missingFor, type Site } from '../../core/checks';
import { convert, type Factor, factorOf, formatMinor, type Ppm, type Rates } from '../../core/money';
import {
  breakEven,
  type Costs,
  type Deductions,
  deductionsFor,
  landedOf,
  type PriceAnswer,
  type PricePlan,
  refusalInWords,
  type ShippingBand,
  type Sum,
  shippingFor,
  solvePrice,
  sumAt,
  withTax,
} from '../../core/pricing';
import { quantityShown, type StockRule } from '../../core/stock';
import type {
  Connection,
  Listing,
  MarketConnection,
  Order,
  PlanRow,
  Product,
  Settings,
  SupplierConnection,
} from '../../store';

/** Everything a listing's price and quantity are made of. Derived each time, stored nowhere. */
export interface Quote {
  readonly category: string | null;
  /** In the marketplace's currency; null where shipping or the rate is missing. */
  readonly costs: Costs | null;
  readonly deductions: Deductions | null;
  /** MAP and MSRP in the marketplace's currency. */
  readonly map: number | null;
  readonly msrp: number | null;
  /** How cost came into the marketplace's currency, cushion included; null where both are the same. */
  readonly exchange: Factor | null;
  /** What the plan says; null where category, shipping or the rate is missing. */
  readonly answer: PriceAnswer | null;
  /** Why there is no price to sell at, or why it is held. */
  readonly problem: string | null;
  readonly price: number | null;
  readonly by: 'own' | 'plan';
  readonly sum: Sum | null;
  readonly breakEven: number | null;
  readonly quantity: number;
}

/** What a shop's quotes are made with, read once and used for every listing. */
export interface Shop {
  readonly settings: Settings;
  readonly plans: readonly PlanRow[];
  readonly connections: ReadonlyMap<string, Connection>;
  /** Rates between currencies that hold today. */
  readonly rates: Rates;
  /** Units sold but not yet taken off the supplier's stock as last read, by listing. */
  readonly promised: ReadonlyMap<string, number>;
}

export const marketOf = (shop: Shop, id: string) => shop.connections.get(id) as MarketConnection | undefined;
export const supplierOf = (shop: Shop, id: string) =>
  shop.connections.get(id) as SupplierConnection | undefined;
export const planOf = (shop: Shop, id: string | null) =>
  shop.plans.find((p) => p.id === id) ?? shop.plans[0]!;

export function categoryOf(product: Product, site: Site): string | null {
  return product.category ?? guessCategory(product.taken.category, product.taken.title, site.categories);
}

interface Priceable {
  readonly cost: number;
  readonly stock: number;
  readonly map: number | null;
  readonly msrp: number | null;
  readonly grams: number | null;
}

/** What an item's price depends on besides itself. */
export interface Terms {
  readonly plan: PricePlan;
  readonly stock: StockRule;
  readonly site: Site;
  readonly optedIn: readonly string[];
  readonly supplier: { readonly currency: string; readonly shipping: readonly ShippingBand[] };
  readonly rates: Rates;
  readonly cushion: Ppm;
  /** Tax on cost that is not reclaimed. */
  readonly costTax: Ppm;
}

/** Prices one item for one marketplace. Amounts of the item in the supplier's currency, all others in the marketplace's. */
export function quoteItem(
  item: Priceable,
  category: string | null,
  ownPrice: number | null,
  promised: number,
  terms: Terms,
): Quote {
  const { plan, site, supplier, rates, cushion } = terms;
  const deductions = category === null ? null : deductionsFor(site.fees, category, terms.optedIn);
  const nothing = {
    category,
    costs: null,
    deductions,
    map: null,
    msrp: null,
    exchange: null,
    answer: null,
    price: ownPrice,
    by: ownPrice === null ? 'plan' : 'own',
    sum: null,
    breakEven: null,
    quantity: quantityShown(item.stock, promised, terms.stock),
  } as const;
  const factor = factorOf(rates, supplier.currency, site.currency, cushion);
  const plain = factorOf(rates, supplier.currency, site.currency);
  if (!factor || !plain)
    return {
      ...nothing,
      problem: `There is no exchange rate from ${supplier.currency} to ${site.currency} yet. Enter one under Settings.`,
    };
  if (!deductions) return { ...nothing, problem: 'Choose a category: the fees depend on it.' };
  const shipping = shippingFor(supplier.shipping, item.grams);
  if (shipping === null)
    return {
      ...nothing,
      problem:
        item.grams === null
          ? 'Its weight is not known, so shipping cannot be worked out.'
          : `The supplier ships no parcel of ${item.grams} g.`,
    };
  const costs = withTax(convert(item.cost, factor), convert(shipping, factor), terms.costTax);
  const map = item.map === null ? null : convert(item.map, plain);
  const msrp = item.msrp === null ? null : convert(item.msrp, plain);
  const landed = landedOf(costs);
  const answer = solvePrice(plan, { landed, map, msrp }, deductions);
  const price = ownPrice ?? (answer.ok ? answer.price : null);
  return {
    ...nothing,
    costs,
    map,
    msrp,
    exchange: supplier.currency === site.currency ? null : factor,
    answer,
    price,
    problem:
      ownPrice === null
        ? refusalInWords(answer, site.currency)
        : ownPriceProblem(ownPrice, map, msrp, plan, site.currency),
    sum: price === null ? null : sumAt(price, costs, deductions),
    breakEven: breakEven(landed, deductions),
  };
}

function ownPriceProblem(
  price: number,
  map: number | null,
  msrp: number | null,
  plan: PricePlan,
  currency: string,
): string | null {
  const own = formatMinor(price, currency);
  if (plan.neverUnderMap && map !== null && price < map)
    return `Own price ${own} is under MAP ${formatMinor(map, currency)}.`;
  if (plan.neverOverMsrp && msrp !== null && price > msrp)
    return `Own price ${own} is over MSRP ${formatMinor(msrp, currency)}.`;
  return null;
}

/** What prices of a supplier's items on a marketplace depend on. Null where either is not connected. */
export function termsFor(shop: Shop, supplier: string, market: string, plan: PricePlan): Terms | null {
  const on = marketOf(shop, market);
  const from = supplierOf(shop, supplier);
  if (!on || !from) return null;
  const { stock, cushion, costTax } = shop.settings;
  return {
    plan,
    stock,
    site: on.site,
    optedIn: on.optedIn,
    supplier: from,
    rates: shop.rates,
    cushion,
    costTax,
  };
}

/**
 * The quote of a listing under its plan, or under another one for a look ahead. Null where its marketplace or
 * supplier is not connected.
 */
export function quoteListing(
  listing: Listing,
  product: Product,
  shop: Shop,
  plan: PricePlan = planOf(shop, product.plan),
): Quote | null {
  const terms = termsFor(shop, listing.supplier, listing.marketplace, plan);
  return (
    terms &&
    quoteItem(
      listing.facts,
      categoryOf(product, terms.site),
      listing.ownPrice,
      shop.promised.get(listing.id) ?? 0,
      terms,
    )
  );
}

/** What a listing earns at the price its marketplace shows. Null where its cost cannot be told. */
export const sumAsTold = (listing: Listing, quote: Quote | null): Sum | null =>
  listing.told && quote?.costs && quote.deductions
    ? sumAt(listing.told.price, quote.costs, quote.deductions)
    : null;

/** What the marketplace would refuse about one variant of a product. */
export function missingOf(listing: Listing, product: Product, quote: Quote, site: Site): Missing[] {
  return missingFor(
    {
      title: product.title ?? product.taken.title,
      description: product.description ?? product.taken.description,
      brand: product.taken.brand,
      gtin: listing.gtin,
      category: quote.category,
      pictures: product.taken.pictures,
      priceProblem: quote.category === null ? null : quote.problem,
    },
    site,
  );
}

/** Units that buyers paid for and the supplier's stock, as last read, does not know of yet. */
export function promisedUnits(
  openOrders: readonly Order[],
  readAt: (supplier: string) => number,
): Map<string, number> {
  const units = new Map<string, number>();
  for (const order of openOrders) {
    const { boughtAt, cancelledAt } = order.facts;
    if (cancelledAt !== null || (boughtAt !== null && boughtAt < readAt(order.supplier ?? ''))) continue;
    for (const line of order.lines)
      if (line.listing) units.set(line.listing, (units.get(line.listing) ?? 0) + line.quantity);
  }
  return units;
}
