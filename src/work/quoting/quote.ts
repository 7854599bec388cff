import {
  type CategoryTable,
  categoryFor,
  type Draft,
  type Missing,
  missingFor,
  type Site,
} from '../../core/checks';
import {
  convert,
  digitsOf,
  type Factor,
  factorOf,
  formatExchange,
  formatRate,
  type Ppm,
  type Rates,
  WHOLE,
} from '../../core/money';
import { type OpenLine, type OrderLine, openLines } from '../../core/orders';
import {
  type BrokenGuard,
  type Buyers,
  breakEven,
  type Costs,
  type CostUnit,
  type Deductions,
  deductionsFor,
  isWithin,
  landedCosts,
  landedOf,
  type PriceAnswer,
  type Priced,
  type PricePlan,
  type PriceProblem,
  problemInWords,
  profitAt,
  type Sum,
  type SupplierCosts,
  salePrice,
  solvePrice,
  sumAt,
  type Unpriced,
} from '../../core/pricing';
import { Promised } from '../../core/sourcing';
import { quantityShown, type Stocked, type StockRule, type StockStep, stockSteps } from '../../core/stock';
import { dayName } from '../../core/units';
import {
  type LeapRule,
  type Listing,
  type MarketConnection,
  type Order,
  type PlanRow,
  type Source,
  STARTING_LEAP_RULE,
  type SupplierConnection,
} from '../../store';
import { brandOf, copyInWords, descriptionOf, picturesOf, tagsOf, titleOf } from './copy';
import type { FullListing } from './full-listing';
import { goodsLine } from './goods';
import { keptOffBy, planFor } from './plan-choice';
import { attributesOf, presetCategory } from './preset-choice';
import { type Connected, marketOf, nameIn, type Shop, type ShopTerms, supplierOf } from './worth';

export { marketOf, type Shop, type ShopTerms, supplierOf } from './worth';

/**
 * A listing's price and quantity with what they were solved from, amounts in the marketplace's currency: what loops over
 * many listings ask for.
 */
export interface Solved {
  readonly category: string | null;
  /** Null where shipping or the rate is missing. */
  readonly costs: Costs | null;
  readonly deductions: Deductions | null;
  readonly map: number | null;
  readonly msrp: number | null;
  /** How cost came into the marketplace's currency, cushion included; null where both are the same. */
  readonly exchange: Factor | null;
  /** What the plan was solved with, but for prices elsewhere; null where it was not. */
  readonly priced: Priced | null;
  /** What the plan says; null where category, shipping or the rate is missing. */
  readonly answer: PriceAnswer | null;
  /** Why there is no price to sell at, or why it is held. */
  readonly problem: PriceProblem | null;
  readonly price: number | null;
  /** During a sale the price without it; null without one. */
  readonly full: number | null;
  readonly by: 'own' | 'plan';
  readonly quantity: number;
}

/** Everything a listing's price and quantity are made of. Derived each time, stored nowhere. */
export interface Quote extends Solved {
  readonly sum: Sum | null;
  readonly breakEven: number | null;
  /** How the quantity came to be. */
  readonly stock: readonly StockStep[];
}

/** The site's category of a listing: its own, else by a preset, else by the seller's table, else guessed from the supplier's words. */
export function categoryOf(full: FullListing, market: MarketConnection, shop: Connected): string | null {
  const { category, title } = full.product.taken;
  return (
    full.listing.category ??
    presetCategory(full, market, shop) ??
    categoryFor(market.categories, category, title, market.site.categories)
  );
}

/** One of our units as it is priced, amounts in the supplier's currency. */
export interface Priceable {
  readonly cost: number;
  /** Of the supplier's units, of which `pack` make one of ours. */
  readonly stock: number;
  readonly pack?: number;
  /** The supplier's. */
  readonly sku?: string;
  readonly map: number | null;
  readonly msrp: number | null;
  readonly grams: number | null;
  /** Of one of ours; missing where its size is not known. */
  readonly cubicMillimetres?: number | null;
  /** Units of the supplier's that are kept back. */
  readonly keptBack?: number;
  /** It is not sold on the marketplace. */
  readonly keptOff?: boolean;
  /** Its cost leapt, and none is shown until a person has looked at it. */
  readonly costWaits?: boolean;
  /** Under what an own price that breaks guards was agreed to. */
  readonly ownAgreed?: Listing['ownAgreed'];
  /** What others ask for it there, in the marketplace's currency. */
  readonly market?: number | null;
  /** How far demand moved its price, and under which plan. */
  readonly demand?: Listing['demand'];
  /** What the marketplace shows now. */
  readonly shownNow?: number | null;
}

/** What an item's price depends on besides itself. */
export interface Terms {
  /** Null where none covers it. */
  readonly plan: PlanRow | null;
  readonly stock: StockRule;
  /** Whether its supplier's stock was read longer ago than the rule allows. */
  readonly old: boolean;
  /** The share that a sale under way takes off; 0 for none. */
  readonly off: Ppm;
  /** Its price on another marketplace, in this one's currency; the reason where there is none. */
  readonly priceOn?: (marketplace: string) => number | Unpriced;
  readonly site: Site;
  readonly optedIn: readonly string[];
  readonly categories?: CategoryTable | undefined;
  readonly supplier: SupplierCosts & { readonly currency: string };
  /** Where its buyers are. */
  readonly buyers: Buyers;
  readonly rates: Rates;
  readonly cushion: Ppm;
  /** Tax on cost that is not reclaimed. */
  readonly costTax: Ppm;
}

/** An item as its cost is worked out. */
export const costUnitOf = (item: Priceable): CostUnit => ({
  cost: item.cost,
  pack: item.pack ?? 1,
  sku: item.sku ?? '',
  grams: item.grams,
  cubicMillimetres: item.cubicMillimetres ?? null,
});

/** Prices one item for one marketplace. Amounts of the item in the supplier's currency, all others in the marketplace's. */
export function quoteItem(
  item: Priceable,
  category: string | null,
  ownPrice: number | null,
  promised: number,
  terms: Terms,
): Quote {
  const solved = solveItem(item, category, ownPrice, promised, terms);
  return withSum(solved, stockSteps(stockedOf(item, promised, terms.old), terms.stock));
}

function withSum(solved: Solved, stock: readonly StockStep[]): Quote {
  const { price, costs, deductions } = solved;
  return {
    ...solved,
    sum: price !== null && costs && deductions ? sumAt(price, costs, deductions) : null,
    breakEven: costs && deductions ? breakEven(landedOf(costs), deductions) : null,
    stock,
  };
}

/** {@link quoteItem} without the lines of its sum and the steps of its stock. */
const solveItem = (
  item: Priceable,
  category: string | null,
  ownPrice: number | null,
  promised: number,
  terms: Terms,
): Solved => solveOn(basisOf(item, category, terms), item, ownPrice, promised, terms);

const stockedOf = (item: Priceable, promised: number, old: boolean): Stocked => ({
  stock: item.stock,
  pack: item.pack ?? 1,
  keptBack: item.keptBack ?? 0,
  keptOff: item.keptOff ?? false,
  costWaits: item.costWaits ?? false,
  shownNow: item.shownNow ?? null,
  promised,
  old,
});

/** What a price is solved from that no plan has a say in. Amounts in the marketplace's currency. */
export interface Basis {
  readonly category: string | null;
  readonly deductions: Deductions | null;
  /** Null where there is a problem. */
  readonly costs: Costs | null;
  readonly exchange: Factor | null;
  /** What a plan is solved with, but for demand and prices elsewhere; null where there is a problem. */
  readonly priced: Priced | null;
  readonly problem: PriceProblem | null;
}

type BasisTerms = Omit<Terms, keyof RuleTerms>;

/** What a plan and the stock rule decide of an item's price and quantity. */
type RuleTerms = Pick<Terms, 'plan' | 'stock' | 'old' | 'off' | 'priceOn'>;

function basisOf(item: Priceable, category: string | null, terms: BasisTerms): Basis {
  const { site, supplier, rates, cushion } = terms;
  const deductions = category === null ? null : deductionsFor(site.fees, category, terms.optedIn);
  const without = (problem: PriceProblem): Basis => ({
    category,
    deductions,
    costs: null,
    exchange: null,
    priced: null,
    problem,
  });
  const factor = factorOf(rates, supplier.currency, site.currency, cushion);
  const plain = factorOf(rates, supplier.currency, site.currency);
  if (!factor || !plain) return without({ why: 'no rate', from: supplier.currency, to: site.currency });
  if (!deductions) return without({ why: 'no category' });
  const costs = landedCosts(costUnitOf(item), supplier, terms.buyers, factor, terms.costTax);
  if (!costs)
    return without(
      item.grams === null
        ? { why: 'no weight' }
        : { why: 'no parcel', grams: item.grams, byZone: Boolean(supplier.rules?.zones.length) },
    );
  const { market = null, grams, stock } = item;
  return {
    category,
    deductions,
    costs,
    exchange: supplier.currency === site.currency ? null : factor,
    priced: {
      landed: landedOf(costs),
      map: item.map === null ? null : convert(item.map, plain),
      msrp: item.msrp === null ? null : convert(item.msrp, plain),
      market,
      grams,
      stock,
      goods: costs.goods,
      shipping: costs.shipping,
      digits: digitsOf(site.currency),
    },
    problem: null,
  };
}

/** Price and quantity on what they are solved from: the part that is done again for each plan that is tried. */
function solveOn(
  basis: Basis,
  item: Priceable,
  ownPrice: number | null,
  promised: number,
  { plan, stock, old, off, priceOn }: RuleTerms,
): Solved {
  const { category, deductions, costs, exchange, priced: known } = basis;
  const quantity = quantityShown(stockedOf(item, promised, old), stock);
  const by = ownPrice === null ? 'plan' : 'own';
  if (!deductions || !costs || !known || !plan)
    return {
      category,
      costs: null,
      deductions,
      map: null,
      msrp: null,
      priced: null,
      full: null,
      exchange: null,
      answer: null,
      price: ownPrice,
      by,
      quantity,
      problem: basis.problem ?? { why: 'no plan' },
    };
  const { map, msrp } = known;
  const demand = item.demand?.plan === plan.id ? item.demand.steps : 0;
  // Field by field: spreading objects takes several times as long as solving the price.
  const priced: Priced = {
    landed: known.landed,
    map,
    msrp,
    market: known.market ?? null,
    grams: known.grams ?? null,
    stock: item.stock,
    goods: costs.goods,
    shipping: costs.shipping,
    digits: known.digits ?? 2,
    demand,
  };
  const goesBySites = priceOn && plan.bands.some(({ target }) => target.kind === 'site');
  const answer = solvePrice(plan, goesBySites ? { ...priced, priceOn } : priced, deductions);
  const full = answer.ok ? answer.price : null;
  const sale = full !== null && off ? salePrice(plan, priced, deductions, full, off) : null;
  return {
    category,
    costs,
    deductions,
    map,
    msrp,
    priced,
    exchange,
    answer,
    by,
    quantity,
    price: ownPrice ?? sale ?? full,
    full: ownPrice === null && sale !== null && sale !== full ? full : null,
    problem:
      ownPrice === null
        ? refusalOf(answer)
        : isAgreed(item.ownAgreed, known)
          ? null
          : ownPriceProblem(ownPrice, known, deductions, plan),
  };
}

/** What an own price is held against. Minor units of the marketplace. */
export interface OwnPriceTerms {
  readonly landed: number;
  readonly map: number | null;
  readonly msrp: number | null;
}

/** Whether nothing is worse than when an own price was agreed to that breaks guards. */
const isAgreed = (agreed: Listing['ownAgreed'], { landed, map, msrp }: OwnPriceTerms): boolean =>
  Boolean(agreed) &&
  landed <= agreed!.landed &&
  (map ?? 0) <= (agreed!.map ?? 0) &&
  (msrp ?? Number.POSITIVE_INFINITY) >= (agreed!.msrp ?? Number.POSITIVE_INFINITY);

const refusalOf = (answer: PriceAnswer): PriceProblem | null => {
  if (answer.ok) return null;
  const { ok: _, ...refusal } = answer;
  return refusal;
};

/** Which guard of its plan an own price breaks; null for none. */
export function ownPriceProblem(
  price: number,
  { landed, map, msrp }: OwnPriceTerms,
  deductions: Deductions,
  plan: PricePlan,
): PriceProblem | null {
  const breaks = brokenBy(price, profitAt(price, landed, deductions), map, msrp, plan);
  return breaks && { why: 'own price', price, breaks };
}

function brokenBy(
  price: number,
  earns: number,
  map: number | null,
  msrp: number | null,
  { smallestProfit, smallestMargin, neverUnderMap, mostOfMsrp }: PricePlan,
): BrokenGuard | null {
  if (earns < 0) return { guard: 'cost', loses: -earns };
  if (earns < smallestProfit) return { guard: 'smallest profit', earns, least: smallestProfit };
  if (smallestMargin && earns * WHOLE < smallestMargin * price)
    return {
      guard: 'smallest margin',
      margin: Math.round((earns * 1000) / price) * 1000,
      least: smallestMargin,
    };
  if (neverUnderMap && map !== null && price < map) return { guard: 'map', least: map };
  if (mostOfMsrp !== null && msrp !== null && price > Math.floor((msrp * mostOfMsrp) / WHOLE))
    return { guard: 'msrp', rate: mostOfMsrp, msrp };
  return null;
}

/** What a supplier charges by; without it nothing is shipped. */
export function supplierCosts(shop: ShopTerms, id: string): SupplierCosts {
  const supplier = supplierOf(shop, id);
  return { shipping: supplier?.shipping ?? [], rules: supplier?.costs ?? null };
}

/** Where the buyers of a marketplace are: as said, else all in the first country that it ships to. */
export const buyersOf = ({ buyers, site }: MarketConnection): Buyers =>
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
    buyers: buyersOf(on),
    rates: shop.rates,
    cushion,
    costTax,
  };
}

/** What a plan, or where there is none the shop, says of stock and sales. @param zone of the marketplace */
function sellingTerms(shop: ShopTerms & Partial<Shop>, supplier: string, zone: string, plan: PlanRow | null) {
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

/** One of our units as its source has it: packs counted in, our own weight before the supplier's. */
export function unitOf({ item, source, variant, listing }: FullListing): Priceable | null {
  if (!item || !source) return null;
  const { pack } = source;
  return {
    cost: item.cost * pack,
    stock: item.gone ? 0 : item.stock,
    pack,
    sku: source.item,
    map: item.map === null ? null : item.map * pack,
    msrp: item.msrp === null ? null : item.msrp * pack,
    grams: variant.grams ?? (item.grams === null ? null : item.grams * pack),
    cubicMillimetres: variant.size ? variant.size[0] * variant.size[1] * variant.size[2] : null,
    keptBack: variant.keptBack ?? 0,
    ownAgreed: listing.ownAgreed ?? null,
    market: listing.market?.minor ?? null,
    demand: listing.demand ?? null,
    shownNow: listing.published?.quantity ?? null,
  };
}

/** What a listing's other sources have of it, in pieces of the one that is bought of: an order is shared out over all. */
function piecesElsewhere({ offers, source }: FullListing, { promised }: Shop): number {
  if (!offers || !source) return 0;
  return offers.reduce((pieces, offer) => {
    if (offer.source === source || !offer.item || offer.item.gone) return pieces;
    const left = Math.max(0, offer.item.stock - (promised.get(offer.item.id) ?? 0));
    return pieces + Math.floor(left / offer.source.pack) * source.pack;
  }, 0);
}

/** One of our units as it is bought: at what it costs by now, asked about or not. */
export function boughtUnitOf(full: FullListing): Priceable | null {
  const unit = unitOf(full);
  const leap = full.item?.leap;
  return unit && leap ? { ...unit, cost: leap.cost * full.source!.pack } : unit;
}

/** A listing with all that its price is solved from under any plan. */
export interface Prepared {
  readonly listing: FullListing;
  readonly unit: Priceable;
  readonly promised: number;
  readonly basis: Basis;
}

/** What a listing is solved from. Null where its marketplace or supplier is not connected, or nothing is known of its item. */
export function prepareListing(full: FullListing, shop: Shop): Prepared | null {
  const known = unitOf(full);
  const supplier = known && full.source!.supplier;
  const terms = supplier && termsFor(shop, supplier, full.listing.marketplace, null);
  if (!known || !terms) return null;
  const market = marketOf(shop, full.listing.marketplace)!;
  const unit: Priceable = {
    ...known,
    stock: known.stock + piecesElsewhere(full, shop),
    keptOff: keptOffBy(full, market, shop) !== null,
    costWaits: Boolean(full.item!.leap) && leapRuleOf(supplierOf(shop, supplier)).meanwhile === 'show none',
  };
  const promised = shop.promised.get(full.item!.id) ?? 0;
  return { listing: full, unit, promised, basis: basisOf(unit, categoryOf(full, market, shop), terms) };
}

/** The price of a prepared listing under a plan, stock rule, sales and the age of stock as the shop has them. */
export function solvePrepared(
  prepared: Prepared,
  shop: Shop,
  plan: PlanRow | null,
  /** Listings whose prices wait for this one's. */
  asking: readonly FullListing[] = [],
): Solved {
  const { listing: full, unit, promised, basis } = prepared;
  const { zone, currency } = marketOf(shop, full.listing.marketplace)!.site;
  const { stock, old, off } = sellingTerms(shop, full.source!.supplier, zone, plan);
  const priceOn = (marketplace: string) => priceElsewhere(full, shop, currency, marketplace, asking);
  return solveOn(basis, unit, full.listing.ownPrice, promised, {
    plan,
    stock,
    old,
    off,
    priceOn,
  });
}

/**
 * The quote of a listing under its plan, or under another one for a look ahead. Null where its marketplace or
 * supplier is not connected, or nothing is known of its item.
 */
export function quoteListing(
  full: FullListing,
  shop: Shop,
  plan: PlanRow | null = planFor(shop, full),
): Quote | null {
  const prepared = prepareListing(full, shop);
  if (!prepared) return null;
  const { unit, promised } = prepared;
  const { stock, old } = sellingTerms(shop, full.source!.supplier, 'UTC', plan);
  return withSum(solvePrepared(prepared, shop, plan), stockSteps(stockedOf(unit, promised, old), stock));
}

/** {@link quoteListing} for loops over many. */
export function solveListing(
  full: FullListing,
  shop: Shop,
  plan: PlanRow | null = planFor(shop, full),
): Solved | null {
  const prepared = prepareListing(full, shop);
  return prepared && solvePrepared(prepared, shop, plan);
}

/** When costs of a supplier wait for a person, and what is shown meanwhile. */
export const leapRuleOf = (supplier: SupplierConnection | undefined): LeapRule =>
  supplier?.leap ?? STARTING_LEAP_RULE;

/** The price of the same variant on another marketplace, in this one's currency; the reason where there is none. */
function priceElsewhere(
  full: FullListing,
  shop: Shop,
  currency: string,
  marketplace: string,
  asking: readonly FullListing[],
): number | Unpriced {
  const there = marketOf(shop, marketplace);
  const other =
    there && marketplace !== full.listing.marketplace ? shop.listedOn?.(full.variant.id, marketplace) : null;
  if (!there || !other) return { is: 'not listed', marketplace };
  const begun = asking.findIndex((one) => one.listing.id === other.listing.id);
  if (begun >= 0) {
    const round = [...asking.slice(begun), full, other];
    return { is: 'circle', marketplaces: round.map(({ listing }) => listing.marketplace) };
  }
  const prepared = prepareListing(other, shop);
  const quote = prepared && solvePrepared(prepared, shop, planFor(shop, other), [...asking, full]);
  const price = quote?.full ?? quote?.price ?? null;
  if (price === null) {
    const { answer } = quote ?? {};
    return answer?.ok === false && answer.why === 'unknown'
      ? answer.what
      : { is: 'no price there', marketplace };
  }
  const factor = factorOf(shop.rates, there.site.currency, currency);
  return factor ? convert(price, factor) : { is: 'rate', from: there.site.currency, to: currency };
}

/** What a listing earns at the price its marketplace shows. Null where its cost cannot be told. */
export const sumAsPublished = (listing: Listing, quote: Quote | null): Sum | null =>
  listing.published && quote?.costs && quote.deductions
    ? sumAt(listing.published.price, quote.costs, quote.deductions)
    : null;

/** A listing as it is checked before it is sent. */
export function draftOf(full: FullListing, quote: Quote, market: MarketConnection, shop: ShopTerms): Draft {
  const { product, variant } = full;
  const { site } = market;
  return {
    title: titleOf(full),
    description: descriptionOf(full),
    brand: brandOf(full),
    gtin: variant.gtin,
    category: quote.category,
    pictures: picturesOf(product),
    tags: tagsOf(full, site),
    copy: copyInWords(full, site),
    attributes: attributesOf(full, market, quote.category, shop),
    priceProblem:
      quote.category === null || !quote.problem
        ? null
        : problemInWords(quote.problem, site.currency, nameIn(shop)),
  };
}

/** What the marketplace would refuse about one listing. */
export function missingOf(
  full: FullListing,
  quote: Quote,
  market: MarketConnection,
  shop: ShopTerms,
): Missing[] {
  const missing = missingFor(draftOf(full, quote, market, shop), market.site);
  const by = keptOffBy(full, market, shop);
  return by === null
    ? missing
    : [...missing, { field: 'site', reason: `“${goodsLine(by)}” is not sold on ${market.name}.` }];
}

/** By order, which stays the same object in memory: lines of which units are not bought yet. */
const unboughtOf = new WeakMap<Order, readonly OpenLine[]>();

function unbought(order: Order): readonly OpenLine[] {
  let lines = unboughtOf.get(order);
  if (!lines) {
    lines = openLines(order);
    unboughtOf.set(order, lines);
  }
  return lines;
}

/** Pieces of each item that buyers paid for and the supplier's stock, as last read, does not know of yet. */
export function promisedPieces(
  openOrders: readonly Order[],
  sourceOf: (listing: string) => Source | null | undefined,
  readAt: (supplier: string) => number,
): Map<string, number> {
  const promised = new Promised(openOrders, readAt);
  for (const order of openOrders)
    for (const line of unbought(order)) {
      const source = sourceOf(listingOf(order, line));
      if (source) promised.addPieces(source.supplier, source.item, line.open * source.pack);
    }
  return promised.pieces;
}

/** The listing that an order's line was bought of. */
export const listingOf = (order: Pick<Order, 'marketplace'>, line: Pick<OrderLine, 'sku'>): string =>
  `${order.marketplace}:${line.sku}`;

/** ` at 0.79 of 26 Nov, cushion 2 %`: how a supplier's amounts came into a marketplace's currency. */
export function exchangeInWords(shop: ShopTerms, from: string, to: string): string {
  const { rates, settings } = shop;
  const used = [from, to].flatMap((currency) => rates.by.get(currency) ?? []);
  const said = used.map(
    (r) => `1 ${r.currency} = ${formatExchange(r.value)} ${r.books} of ${dayName(r.day)}`,
  );
  return ` by ${said.join(', ')}${settings.cushion ? `, cushion ${formatRate(settings.cushion)}` : ''}`;
}
