import { convert, type Factor, halfUp, type Ppm, WHOLE } from '../money';
import { type ShippingBand, shippingFor } from './shipping';
import { type CostPart, type Costs, withTax } from './sum';

/** Shipping to some countries, by a service of the supplier's. */
export interface ShippingZone {
  /** ISO 3166 codes. */
  readonly countries: readonly string[];
  /** '' for its usual one. */
  readonly service: string;
  readonly bands: readonly ShippingBand[];
}

/** What a parcel into some countries costs at their border. */
export interface ImportRule {
  readonly countries: readonly string[];
  /** Of goods and shipping (CIF). */
  readonly duty: Ppm;
  /** Of goods, shipping and duty. */
  readonly tax: Ppm;
  /** The tax is given back to the seller. */
  readonly reclaimed: boolean;
  /** Goods of up to this value enter free, minor units of the supplier. */
  readonly freeUpTo: number;
}

/** From so many units of an item on, all of them cost so much less. */
export interface QuantityDiscount {
  readonly from: number;
  readonly off: Ppm;
}

/** From so many units of one item on, each costs so much, in minor units of the supplier. */
export interface QuantityPrice {
  readonly from: number;
  readonly price: number;
}

/** What buying from a supplier costs besides prices and the usual shipping, amounts in its currency. */
export interface CostRules {
  /** Where the usual shipping does not hold; of several that reach a country the cheapest counts. */
  readonly zones: readonly ShippingZone[];
  /** What each item after the first adds to a parcel, in place of the weight of all; null where they are weighed together. */
  readonly extraItem: number | null;
  /** Cubic centimetres that count as a kilogram; null where size does not matter. */
  readonly volumetric: number | null;
  readonly handling: { readonly order: number; readonly item: number };
  /** By growing quantity. */
  readonly discounts: readonly QuantityDiscount[];
  /** Items that have prices by quantity of their own, in place of the discounts: by SKU, each by growing quantity. */
  readonly itemPrices: Readonly<Record<string, readonly QuantityPrice[]>>;
  readonly cashback: { readonly rate: Ppm; readonly counted: boolean };
  /** What the bank or the payment service takes for paying the supplier. */
  readonly paying: { readonly rate: Ppm; readonly fixed: number };
  readonly imports: readonly ImportRule[];
}

export const NO_COST_RULES: CostRules = {
  zones: [],
  extraItem: null,
  volumetric: null,
  handling: { order: 0, item: 0 },
  discounts: [],
  itemPrices: {},
  cashback: { rate: 0, counted: false },
  paying: { rate: 0, fixed: 0 },
  imports: [],
};

/** What a supplier charges by: its usual shipping, and what was said besides; null for nothing. */
export interface SupplierCosts {
  readonly shipping: readonly ShippingBand[];
  readonly rules: CostRules | null;
  /** By country, what a parcel costs more from the place where it is made; missing where nothing is. */
  readonly fromSite?: Readonly<Record<string, number>>;
}

/** Where the buyers of a marketplace are, each country with its share of them. */
export type Buyers = readonly { readonly country: string; readonly share: Ppm }[];

/** What is sent together. */
export interface Parcel {
  /** Units of the supplier's. */
  readonly items: number;
  /** Of all together; null where it is not known. */
  readonly grams: number | null;
  /** Of the heaviest item. */
  readonly heaviest: number | null;
  /** Of all together; null where it is not known. */
  readonly cubicMillimetres: number | null;
}

/**
 * What some units of an item cost by the price or the discount for so many.
 * @param all what they cost by the price of a single one
 * @param sku the supplier's
 */
export function goodsFor(all: number, quantity: number, sku: string, rules: CostRules | null): number {
  if (rules && Object.hasOwn(rules.itemPrices, sku)) {
    const step = rules.itemPrices[sku]!.findLast(({ from }) => quantity >= from);
    return step ? step.price * quantity : all;
  }
  let off = 0;
  for (const step of rules?.discounts ?? []) if (quantity >= step.from) off = step.off;
  return off ? halfUp(all * (WHOLE - off), WHOLE) : all;
}

/** Grams that a parcel is charged as: its weight, or that of its volume where that is more. */
export function chargedGrams(
  grams: number | null,
  cubicMillimetres: number | null,
  volumetric: number | null,
): number | null {
  if (grams === null || volumetric === null || cubicMillimetres === null) return grams;
  return Math.max(grams, Math.ceil(cubicMillimetres / volumetric));
}

/** Shipping of a parcel into a country; null where nothing goes there, or its weight is not known. */
export function shippingTo(costs: SupplierCosts, country: string, parcel: Parcel): number | null {
  const carriage = carriageTo(costs, country, parcel);
  return carriage === null ? null : carriage + (costs.fromSite?.[country] ?? 0);
}

function carriageTo({ shipping, rules }: SupplierCosts, country: string, parcel: Parcel): number | null {
  if (!rules) return shippingFor(shipping, parcel.grams);
  const { extraItem, volumetric, zones } = rules;
  const apart = extraItem !== null && parcel.items > 1;
  const cubic =
    parcel.cubicMillimetres === null
      ? null
      : apart
        ? Math.ceil(parcel.cubicMillimetres / parcel.items)
        : parcel.cubicMillimetres;
  const grams = chargedGrams(apart ? parcel.heaviest : parcel.grams, cubic, volumetric);
  const reaching = zones.filter((zone) => zone.countries.includes(country));
  const offers = reaching.length ? reaching.map((zone) => zone.bands) : [shipping];
  let cheapest: number | null = null;
  for (const bands of offers) {
    const charge = shippingFor(bands, grams);
    if (charge !== null && (cheapest === null || charge < cheapest)) cheapest = charge;
  }
  return cheapest === null || !apart ? cheapest : cheapest + extraItem * (parcel.items - 1);
}

/** What a purchase costs besides goods, shipping and handling; amounts in the supplier's currency, above nothing. */
export interface FurtherCosts {
  readonly duty: number;
  readonly importTax: number;
  readonly paying: number;
  /** What comes back and counts in the price. */
  readonly cashback: number;
}

const NOTHING: FurtherCosts = { duty: 0, importTax: 0, paying: 0, cashback: 0 };

/** What the supplier asks for packing so many of its units into one parcel. */
export const handlingFor = (items: number, rules: CostRules | null): number =>
  rules ? rules.handling.order + rules.handling.item * items : 0;

/** Each part by itself, halves rounded up. @param shipping with the handling */
export function furtherCosts(
  goods: number,
  shipping: number,
  country: string,
  rules: CostRules | null,
): FurtherCosts {
  if (!rules) return NOTHING;
  const share = (amount: number, rate: Ppm) => (rate ? halfUp(amount * rate, WHOLE) : 0);
  const border = rules.imports.find((rule) => rule.countries.includes(country));
  const dutiable = border && goods > border.freeUpTo ? goods + shipping : 0;
  const duty = border ? share(dutiable, border.duty) : 0;
  const { rate, fixed } = rules.paying;
  const paid = goods + shipping;
  return {
    duty,
    importTax: border && !border.reclaimed && dutiable ? share(dutiable + duty, border.tax) : 0,
    paying: share(paid, rate) + (paid ? fixed : 0),
    cashback: rules.cashback.counted ? share(goods, rules.cashback.rate) : 0,
  };
}

/** One of our units as it is bought. */
export interface CostUnit {
  /** Of all the supplier's units in it, without discount; in the supplier's currency. */
  readonly cost: number;
  /** How many of the supplier's units make one of ours. */
  readonly pack: number;
  /** The supplier's; '' where it has no price of its own by quantity. */
  readonly sku: string;
  readonly grams: number | null;
  readonly cubicMillimetres: number | null;
}

/** Whether something of a supplier's costs goes by where the buyer is. */
const goesByCountry = ({ rules }: SupplierCosts) =>
  rules !== null && (rules.zones.length > 0 || rules.imports.length > 0);

const ANYWHERE: Buyers = [{ country: '', share: WHOLE }];

/** What one unit costs into one country, besides goods and handling. */
export interface CountryCosts {
  readonly country: string;
  /** Of the buyers. */
  readonly share: Ppm;
  /** Null where nothing goes there: such countries are left out of the mean. */
  readonly shipping: number | null;
  readonly duty: number;
  readonly importTax: number;
}

const parcelOf = ({ pack, grams, cubicMillimetres }: CostUnit) => ({
  items: pack,
  grams,
  heaviest: grams === null ? null : Math.ceil(grams / pack),
  cubicMillimetres,
});

/**
 * What {@link landedCosts} takes the mean of, in the marketplace's currency.
 * @returns null where nothing of the supplier's costs goes by country
 */
export function costsByCountry(
  unit: CostUnit,
  supplier: SupplierCosts,
  buyers: Buyers,
  factor: Factor,
): CountryCosts[] | null {
  const { rules } = supplier;
  if (!rules || !goesByCountry(supplier)) return null;
  const goods = goodsFor(unit.cost, unit.pack, unit.sku, rules);
  return buyers
    .filter(({ share }) => share > 0)
    .map(({ country, share }) => {
      const shipping = shippingTo(supplier, country, parcelOf(unit));
      if (shipping === null) return { country, share, shipping, duty: 0, importTax: 0 };
      const further = furtherCosts(goods, shipping + handlingFor(unit.pack, rules), country, rules);
      return {
        country,
        share,
        shipping: convert(shipping, factor),
        duty: convert(further.duty, factor),
        importTax: convert(further.importTax, factor),
      };
    });
}

/**
 * What one unit costs until it is at the buyer: goods, shipping and the rest, each the mean over where the buyers are, rounded
 * half up in the supplier's currency and then brought into the marketplace's.
 * @param tax on goods, shipping and handling, that is not reclaimed
 * @returns null where no shipping is known into any of the countries; countries that nothing goes to are left out of the mean
 */
export function landedCosts(
  unit: CostUnit,
  supplier: SupplierCosts,
  buyers: Buyers,
  factor: Factor,
  tax: Ppm,
): Costs | null {
  const { rules } = supplier;
  if (!rules) {
    const shipping = shippingFor(supplier.shipping, unit.grams);
    return shipping === null ? null : withTax(convert(unit.cost, factor), convert(shipping, factor), tax);
  }
  const { pack, sku } = unit;
  const goods = goodsFor(unit.cost, pack, sku, rules);
  const parcel = parcelOf(unit);
  let shares = 0;
  const handling = handlingFor(pack, rules);
  const sums = { shipping: 0, duty: 0, importTax: 0, paying: 0, cashback: 0 };
  for (const { country, share } of goesByCountry(supplier) ? buyers : ANYWHERE) {
    const shipping = shippingTo(supplier, country, parcel);
    if (shipping === null || share <= 0) continue;
    const further = furtherCosts(goods, shipping + handling, country, rules);
    shares += share;
    sums.shipping += shipping * share;
    sums.duty += further.duty * share;
    sums.importTax += further.importTax * share;
    sums.paying += further.paying * share;
    sums.cashback += further.cashback * share;
  }
  if (!shares) return null;
  const mean = (sum: number) => convert(halfUp(sum, shares), factor);
  const more: CostPart[] = [];
  const add = (kind: CostPart['kind'], minor: number) => minor && more.push({ kind, minor });
  add('handling', convert(handling, factor));
  add('duty', mean(sums.duty));
  add('import tax', mean(sums.importTax));
  add('paying', mean(sums.paying));
  add('cashback', -mean(sums.cashback));
  return withTax(convert(goods, factor), mean(sums.shipping), tax, more);
}
