import { categoryFor } from '../../core/checks';
import { NEAR_PRINT } from '../../core/forwarding';
import { convert, factorOf, formatExchange, formatRate, WHOLE } from '../../core/money';
import { type Buyers, isWithin, type SupplierCosts } from '../../core/pricing';
import { type SiteChoice, sitesFor } from '../../core/sourcing';
import type { StockRule } from '../../core/stock';
import { dayName } from '../../core/units';
import {
  type LeapRule,
  type MarketConnection,
  orderRules,
  type PlanRow,
  STARTING_LEAP_RULE,
  type SupplierConnection,
} from '../../store';
import type { FullListing } from './full-listing';
import { presetCategory } from './preset-choice';
import type { Terms } from './solve';
import { type Connected, marketOf, type Shop, type ShopTerms, supplierOf } from './worth';

/** The site's category of a listing: its own, else by a preset, else by the seller's table, else guessed from the supplier's words. */
export function categoryOf(full: FullListing, market: MarketConnection, shop: Connected): string | null {
  const { category, title } = full.product.taken;
  return (
    full.listing.category ??
    presetCategory(full, market, shop) ??
    categoryFor(market.categories, category, title, market.site.categories)
  );
}

/** What a supplier charges by; without it nothing is shipped. */
export function supplierCosts(shop: ShopTerms, id: string): SupplierCosts {
  const supplier = supplierOf(shop, id);
  return {
    shipping: supplier?.shipping ?? [],
    rules: supplier?.costs ?? null,
    ...(supplier?.sites && { fromSite: siteCosts(supplier, shop) }),
  };
}

/** The sites of a maker that print for a country, by the seller's rule, the one that is meant first. */
export function printedAt(
  { sites = [], currency }: SupplierConnection,
  country: string,
  { rates, settings }: Pick<ShopTerms, 'rates' | 'settings'>,
): SiteChoice[] {
  const { printNear = NEAR_PRINT } = orderRules(settings);
  const factor = factorOf(rates, currency, settings.currency);
  return sitesFor(sites, country, printNear, (minor) => (factor ? convert(minor, factor) : null));
}

const costsAtSites = new WeakMap<
  SupplierConnection,
  Pick<ShopTerms, 'settings' | 'rates'> & { readonly costs: Record<string, number> }
>();

/** By country, what a parcel costs more from the site that is meant. Kept for as long as settings and rates are the same. */
function siteCosts(supplier: SupplierConnection, shop: ShopTerms): Record<string, number> {
  const known = costsAtSites.get(supplier);
  if (known?.settings === shop.settings && known.rates === shop.rates) return known.costs;
  const countries = new Set(supplier.sites?.flatMap((s) => s.reaches.flatMap((r) => r.to)));
  const costs: Record<string, number> = {};
  for (const country of countries) costs[country] = printedAt(supplier, country, shop)[0]?.extra ?? 0;
  costsAtSites.set(supplier, { settings: shop.settings, rates: shop.rates, costs });
  return costs;
}

/** Where the buyers of a marketplace are: as said, else all in the first country that it ships to. */
export const marketBuyers = ({ buyers, site }: MarketConnection): Buyers =>
  buyers?.length ? buyers : [{ country: site.shipsTo[0] ?? '', share: WHOLE }];

/** What prices of a supplier's items on a marketplace depend on. Null where either is not connected. */
export function termsFor(
  shop: ShopTerms,
  supplier: string,
  market: string,
  plan: PlanRow | null,
): Terms | null {
  const on = marketOf(shop, market);
  const from = supplierOf(shop, supplier);
  if (!on || !from) return null;
  const { cushion, costTax } = shop.settings;
  return {
    ...sellingTerms(shop, supplier, on.site.zone, plan),
    site: on.site,
    optedIn: on.optedIn,
    categories: on.categories,
    supplier: { currency: from.currency, ...supplierCosts(shop, supplier) },
    buyers: marketBuyers(on),
    rates: shop.rates,
    cushion,
    costTax,
  };
}

/** What a plan, or where there is none the shop, says of stock and sales. @param zone of the marketplace */
export function sellingTerms(
  shop: ShopTerms & Partial<Shop>,
  supplier: string,
  zone: string,
  plan: PlanRow | null,
) {
  const stock = plan?.stock ?? shop.settings.stock;
  return {
    plan,
    stock,
    old: isOld(shop, supplier, stock),
    off: plan?.sale && isWithin(plan.sale, shop.at, zone) ? plan.sale.off : 0,
  };
}

/** Whether a supplier's stock was read longer ago than a rule allows. */
export function isOld(
  { at, readAt }: ShopTerms & Partial<Shop>,
  supplier: string,
  { aging }: StockRule,
): boolean {
  const read = aging ? readAt?.get(supplier) : undefined;
  return aging !== null && read !== undefined && at - read > aging.hours * 3_600_000;
}

/** When costs of a supplier wait for a person, and what is shown meanwhile. */
export const leapRuleOf = (supplier: SupplierConnection | undefined): LeapRule =>
  supplier?.leap ?? STARTING_LEAP_RULE;

/** ` at 0.79 of 26 Nov, cushion 2 %`: how a supplier's amounts came into a marketplace's currency. */
export function exchangeInWords(shop: ShopTerms, from: string, to: string): string {
  const { rates, settings } = shop;
  const used = [from, to].flatMap((currency) => rates.by.get(currency) ?? []);
  const said = used.map(
    (r) => `1 ${r.currency} = ${formatExchange(r.value)} ${r.books} of ${dayName(r.day)}`,
  );
  return ` by ${said.join(', ')}${settings.cushion ? `, cushion ${formatRate(settings.cushion)}` : ''}`;
}
