import { type Draft, type Missing, missingFor } from '../../core/checks';
import { convert, factorOf } from '../../core/money';
import { problemInWords, type Sum, sumAt, type Unpriced } from '../../core/pricing';
import { stockSteps } from '../../core/stock';
import type { Listing, MarketConnection, PlanRow } from '../../store';
import { brandOf, copyInWords, descriptionOf, picturesOf, tagsOf, titleOf } from './copy';
import type { FullListing } from './full-listing';
import { goodsLine } from './goods';
import { keptOffBy, planFor } from './plan-choice';
import { attributesOf } from './preset-choice';
import { categoryOf, leapRuleOf, sellingTerms, termsFor } from './pricing-terms';
import {
  type Basis,
  basisOf,
  type Priceable,
  type Quote,
  type Solved,
  solveOn,
  stockedOf,
  withSum,
} from './solve';
import { marketOf, nameIn, type Shop, type ShopTerms, supplierOf } from './worth';

/** One of our units as its source has it: packs counted in, our own weight before the supplier's. */
export function unitOf({ item, source, variant, listing }: FullListing): Priceable | null {
  if (!item || !source) return null;
  const { pack } = source;
  return {
    cost: item.cost * pack + (source.made?.extra ?? 0),
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

/** The stock of a listing’s other sources, in pieces of the current one: an order is split over all of them. */
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
  return unit && leap
    ? { ...unit, cost: leap.cost * full.source!.pack + (full.source!.made?.extra ?? 0) }
    : unit;
}

/** A listing with all that its price is solved from under any plan. */
export interface Prepared {
  readonly listing: FullListing;
  readonly unit: Priceable;
  readonly promised: number;
  readonly basis: Basis;
}

/** The inputs of a listing’s price. Null where its marketplace or supplier is not connected, or its item is unknown. */
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
