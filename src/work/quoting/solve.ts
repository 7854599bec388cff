import type { CategoryTable, Site } from '../../core/checks';
import { convert, digitsOf, type Factor, factorOf, type Ppm, type Rates, WHOLE } from '../../core/money';
import {
  type BrokenGuard,
  type Buyers,
  breakEven,
  type Costs,
  type CostUnit,
  type Deductions,
  deductionsFor,
  landedCosts,
  landedOf,
  type PriceAnswer,
  type Priced,
  type PricePlan,
  type PriceProblem,
  profitAt,
  type Sum,
  type SupplierCosts,
  salePrice,
  solvePrice,
  sumAt,
  type Unpriced,
} from '../../core/pricing';
import { quantityShown, type Stocked, type StockRule, type StockStep, stockSteps } from '../../core/stock';
import type { Listing, PlanRow } from '../../store';

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

export function withSum(solved: Solved, stock: readonly StockStep[]): Quote {
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

export const stockedOf = (item: Priceable, promised: number, old: boolean): Stocked => ({
  stock: item.stock,
  pack: item.pack ?? 1,
  keptBack: item.keptBack ?? 0,
  keptOff: item.keptOff ?? false,
  costWaits: item.costWaits ?? false,
  shownNow: item.shownNow ?? null,
  promised,
  old,
});

/** Inputs of a price that do not depend on the plan. Amounts in the marketplace’s currency. */
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

/** Inputs that the plan and the stock rule set. */
type RuleTerms = Pick<Terms, 'plan' | 'stock' | 'old' | 'off' | 'priceOn'>;

export function basisOf(item: Priceable, category: string | null, terms: BasisTerms): Basis {
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
export function solveOn(
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

/** Limits that an own price is compared with. Minor units of the marketplace. */
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
