import { guessCategory, type Missing, missingFor, type Site } from '../core/checks';
import { formatMinor } from '../core/money';
import {
  breakEven,
  type Fees,
  feesFor,
  type PriceAnswer,
  type PricePlan,
  refusalInWords,
  type ShippingBand,
  type Sum,
  shippingFor,
  solvePrice,
  sumAt,
} from '../core/pricing';
import { quantityShown, type StockRule } from '../core/stock';
import type {
  Connection,
  Listing,
  MarketConnection,
  Order,
  PlanRow,
  Product,
  Settings,
  SupplierConnection,
} from '../store';

/** Everything a listing's price and quantity are made of. Derived each time, stored nowhere. */
export interface Quote {
  readonly category: string | null;
  readonly shipping: number | null;
  readonly fees: Fees | null;
  /** What the plan says; null where category or shipping are missing. */
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
  readonly grams: number;
}

/**
 * Prices one item for one marketplace. Amounts in minor units; supplier and marketplace must share the
 * currency, else there is no price.
 */
export function quoteItem(
  item: Priceable,
  category: string | null,
  ownPrice: number | null,
  promised: number,
  plan: PricePlan,
  stock: StockRule,
  site: Site,
  supplier: { readonly currency: string; readonly shipping: readonly ShippingBand[] },
): Quote {
  const quantity = quantityShown(item.stock, promised, stock);
  const shipping = shippingFor(supplier.shipping, item.grams);
  const fees =
    category !== null && Object.hasOwn(site.fees.categories, category) ? feesFor(site.fees, category) : null;
  const nothing = {
    category,
    shipping,
    fees,
    answer: null,
    price: ownPrice,
    by: ownPrice === null ? 'plan' : 'own',
    sum: null,
    breakEven: null,
    quantity,
  } as const;
  if (supplier.currency !== site.currency)
    return {
      ...nothing,
      problem: `The supplier charges ${supplier.currency}, ${site.name} sells in ${site.currency}: there is no rate between them yet.`,
    };
  if (!fees) return { ...nothing, problem: 'Choose a category: the fees depend on it.' };
  if (shipping === null) return { ...nothing, problem: `The supplier ships no parcel of ${item.grams} g.` };
  const landed = item.cost + shipping;
  const answer = solvePrice(plan, { landed, map: item.map, msrp: item.msrp }, fees);
  const price = ownPrice ?? (answer.ok ? answer.price : null);
  return {
    ...nothing,
    answer,
    price,
    problem:
      ownPrice === null
        ? refusalInWords(answer, site.currency)
        : ownPriceProblem(ownPrice, item, plan, site.currency),
    sum: price === null ? null : sumAt(price, item.cost, shipping, fees),
    breakEven: breakEven(landed, fees),
  };
}

function ownPriceProblem(price: number, item: Priceable, plan: PricePlan, currency: string): string | null {
  const own = formatMinor(price, currency);
  if (plan.neverUnderMap && item.map !== null && price < item.map)
    return `Own price ${own} is under MAP ${formatMinor(item.map, currency)}.`;
  if (plan.neverOverMsrp && item.msrp !== null && price > item.msrp)
    return `Own price ${own} is over MSRP ${formatMinor(item.msrp, currency)}.`;
  return null;
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
  const site = marketOf(shop, listing.marketplace)?.site;
  const supplier = supplierOf(shop, listing.supplier);
  if (!site || !supplier) return null;
  return quoteItem(
    listing.facts,
    categoryOf(product, site),
    listing.ownPrice,
    shop.promised.get(listing.id) ?? 0,
    plan,
    shop.settings.stock,
    site,
    supplier,
  );
}

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
