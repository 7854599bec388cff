import { convert, factorOf } from '../../core/money';
import {
  type Address,
  type AddressLimits,
  addressProblem,
  type Buyer,
  type ChosenSource,
  type DeliveryNotice,
  type OpenLine,
  type OrderState,
  openLines,
} from '../../core/orders';
import { goodsFor, handlingFor, shippingTo } from '../../core/pricing';
import {
  type Against,
  type Candidate,
  type Promised,
  rankCandidates,
  type ShippingService,
  type SiteChoice,
  serviceFor,
  shareUnits,
  type Transit,
} from '../../core/sourcing';
import { itemKey, type Order, orderRules, type Source, type SupplierConnection } from '../../store';
import { type FullListing, offersOf } from '../quoting/full-listing';
import { printedAt, supplierCosts } from '../quoting/pricing-terms';
import { listingOf } from '../quoting/promised';
import { boughtUnitOf } from '../quoting/quote';
import type { Priceable } from '../quoting/solve';
import { promisedDays } from '../quoting/transit';
import { type Shop, supplierOf } from '../quoting/worth';
import { fitter } from './buying';

/** Listings that orders' lines were bought of, by id, as they are linked now. */
export type Linked = ReadonlyMap<string, FullListing>;

/** Units of a line as they would be bought now. */
export interface PlannedLine {
  readonly line: OpenLine;
  readonly units: number;
  /** The listing as it is bought of this source. */
  readonly full: Sourced;
}

type Sourced = FullListing & { readonly source: Source };

/** A purchase as it would be made now. Null costs cannot be told. */
export interface Planned {
  readonly supplier: string;
  readonly lines: readonly PlannedLine[];
  readonly goods: number | null;
  /** With what the service costs more. */
  readonly shipping: number | null;
  /** Null for the usual one. */
  readonly service: ShippingService | null;
  /** Where it is printed, the site that is meant first; none where nothing is made. */
  readonly sites: readonly SiteChoice[];
}

/** A source of a line, weighed for its open units, with what it would cost in the supplier's currency. */
export interface WeighedSource extends Candidate {
  readonly units: number;
  readonly full: Sourced;
  readonly goods: number | null;
  readonly shipping: number | null;
  readonly service: ShippingService | null;
  readonly sites: readonly SiteChoice[];
  /** Other goods than those that were sold. */
  readonly substitute: boolean;
  /** Services that it could be sent by, besides the usual one. */
  readonly services: readonly ShippingService[];
  /** Days that it promises, and those that its parcels really took there; null where that is not known. */
  readonly promised: number | null;
  readonly real: Transit | null;
  /** From which country it would come; null where nothing is promised. */
  readonly from: string | null;
}

/** The candidates of a line in the seller's order, their rank, and the units that each would get. */
export interface LineSources {
  readonly line: OpenLine;
  readonly candidates: readonly WeighedSource[];
  readonly rank: readonly number[];
  /** Whether the units are split as a person said. */
  readonly split: boolean;
}

/** Suppliers that refused an order, or cancelled what they had of it. */
const refusers = ({ cases }: OrderState): Set<string> =>
  new Set(cases.flatMap((c) => (c.kind === 'refused' || c.kind === 'called off' ? [c.supplier] : [])));

/** A carrier that takes any address. */
export const ANYTHING: AddressLimits = { boxes: true, longest: null };

/** Whether a supplier's carrier does not take an address as it is written. */
function isTooMuch(
  address: Address | undefined,
  { name, shipsTo, takes = ANYTHING }: SupplierConnection,
): boolean {
  const why = address && addressProblem(address, [{ name, shipsTo, takes }])?.why;
  return why === 'box' || why === 'long';
}

/** What a supplier says of its deliveries to a country for now. */
export const noticesFor = (
  { notices = [] }: Pick<SupplierConnection, 'notices'>,
  country: string,
): DeliveryNotice[] => notices.filter(({ to }) => to.includes(country));

/** The shipping service of a purchase: by a person's word, else by the first rule that fits; null for the usual one. */
function serviceOf(order: Order, supplier: SupplierConnection, shop: Shop): ShippingService | null {
  const { services = [] } = supplier;
  if (!services.length) return null;
  const chosen = order.services?.[supplier.id];
  if (chosen !== undefined)
    return services.find((s) => s.id === chosen && s.to.includes(order.country)) ?? null;
  const { services: rules = [] } = orderRules(shop.settings);
  if (!rules.length) return null;
  // What it earns depends on how it is shipped: a rule goes by whatever else is known of the order.
  const fits = fitter({ order, suppliers: [supplier.id], profit: null, shop });
  const rule = rules.find((r) => r.on && fits(r.when));
  const factor = factorOf(shop.rates, supplier.currency, shop.settings.currency);
  return rule
    ? serviceFor(services, order.country, usualDays(order, supplier, shop).days, rule, (minor) =>
        factor ? convert(minor, factor) : null,
      )
    : null;
}

/** Days of a supplier's usual shipping to an order's buyer: as learned of its parcels, else as promised, and what is delayed. */
function usualDays(
  { country }: Pick<Order, 'country'>,
  supplier: SupplierConnection | undefined,
  shop: Shop,
) {
  const promise = supplier ? promisedDays(supplier, country) : null;
  const real = (supplier && shop.transit?.get(supplier.id)?.[country]) ?? null;
  const known = real?.median ?? promise?.days ?? null;
  const later = supplier ? noticesFor(supplier, country).reduce((n, one) => n + one.days, 0) : 0;
  return { promise, real, days: known === null ? null : known + later };
}

/** Weighs the sources of the units that nothing is bought for yet, line by line, each line on what those before it left. */
export function sourcesOf(
  order: Order,
  buyer: Buyer,
  linked: Linked,
  shop: Shop,
  promised: Promised,
): LineSources[] {
  const { sourcing, stopped, refused } = orderRules(shop.settings);
  const passed = refused === 'next source' ? refusers(order) : new Set<string>();
  const taken = new Map<string, number>();
  return openLines(order).map((line) => {
    const full = linked.get(listingOf(order, line));
    const offers = full ? [...offersOf(full), ...(full.substitutes ?? [])] : [];
    const own = order.chosen?.[line.id];
    const weighed = offers.map(({ source, item }): Omit<WeighedSource, 'units'> => {
      const supplier = supplierOf(shop, source.supplier);
      const key = itemKey(source.supplier, source.item);
      const pieces = item && item.stock - promised.piecesOf(key) - (taken.get(key) ?? 0);
      const as = { ...full!, source, item };
      const { goods, shipping, service, sites } = costOf(
        source.supplier,
        [{ line, units: line.open, full: as }],
        order,
        shop,
      );
      const factor = supplier && factorOf(shop.rates, supplier.currency, shop.settings.currency);
      const landed =
        goods === null || shipping === null || !factor ? null : convert(goods + shipping, factor);
      const { promise, real, days } = usualDays(order, supplier, shop);
      const restricted = supplier && noticesFor(supplier, order.country).some((n) => n.kind === 'restricted');
      const has = Math.max(0, Math.floor((pieces ?? 0) / source.pack));
      const isSame = (one: ChosenSource) => one.supplier === source.supplier && one.item === source.item;
      const chosen = (own && isSame(own)) || (order.shares?.[line.id]?.some(isSame) ?? false);
      const against: Against[] = [];
      if (!supplier) against.push({ why: 'not connected' });
      if (restricted || (supplier && !supplier.shipsTo.includes(order.country)))
        against.push({ why: 'destination' });
      if (supplier && isTooMuch(buyer.addresses[order.address], supplier)) against.push({ why: 'address' });
      if (source.role === 'substitute' && !chosen) against.push({ why: 'substitute' });
      if (stopped.includes(source.supplier)) against.push({ why: 'stopped' });
      if (passed.has(source.supplier) && !chosen) against.push({ why: 'refused' });
      if (has < line.open) against.push({ why: 'stock', has });
      if (landed === null) against.push({ why: 'cost' });
      return {
        ...{ supplier: source.supplier, item: source.item, pack: source.pack, pieces, landed, against },
        ...{ goods, shipping, full: as, service, sites, real },
        substitute: source.role === 'substitute',
        services: supplier?.services?.filter((s) => s.to.includes(order.country)) ?? [],
        promised: promise?.days ?? null,
        days: service?.days ?? sites[0]?.days ?? days,
        from: sites[0]?.site.country ?? promise?.from ?? null,
        near: (sites[0]?.site.country ?? promise?.from) === order.country,
      };
    });
    const chosen = weighed.findIndex((w) => own?.supplier === w.supplier && own.item === w.item);
    const rank = rankCandidates(weighed, sourcing.by, sourcing.upTo, chosen < 0 ? null : chosen);
    // A purchase names its units by our line: of one supplier a line is bought as one item.
    const suppliers = new Set<string>();
    const shared = rank.filter((k) => {
      const { supplier } = weighed[k]!;
      return !suppliers.has(supplier) && suppliers.add(supplier);
    });
    const split = splitOf(order, line, weighed);
    const shares = split ?? shareUnits(line.open, weighed, shared);
    for (const [k, w] of weighed.entries()) {
      const key = itemKey(w.supplier, w.item);
      if (shares[k]) taken.set(key, (taken.get(key) ?? 0) + shares[k]! * w.pack);
    }
    return {
      line,
      rank,
      split: split !== null,
      candidates: weighed.map((w, k) => ({ ...w, units: shares[k]! })),
    };
  });
}

/** The units of each candidate as a person split them; null where nobody did, or other units are open by now. */
function splitOf(order: Order, line: OpenLine, some: readonly Candidate[]): number[] | null {
  const split = order.shares?.[line.id];
  if (!split) return null;
  const units = some.map(
    (c) => split.find((s) => s.supplier === c.supplier && s.item === c.item)?.units ?? 0,
  );
  return units.reduce((a, b) => a + b, 0) === line.open ? units : null;
}

/** What would be bought for the units that nothing is bought for yet, by supplier. */
export function plan(order: Order, buyer: Buyer, linked: Linked, shop: Shop, promised: Promised): Planned[] {
  const groups = new Map<string, PlannedLine[]>();
  for (const { line, candidates } of sourcesOf(order, buyer, linked, shop, promised))
    for (const { units, supplier, full } of candidates)
      if (units) groups.set(supplier, [...(groups.get(supplier) ?? []), { line, units, full }]);
  return [...groups].map(([supplier, lines]) => costOf(supplier, lines, order, shop));
}

function costOf(supplier: string, lines: readonly PlannedLine[], order: Order, shop: Shop): Planned {
  const { country } = order;
  const connection = supplierOf(shop, supplier);
  const service = connection ? serviceOf(order, connection, shop) : null;
  const sites =
    connection && lines.some((l) => l.full.source.made) ? printedAt(connection, country, shop) : [];
  const units = lines.map((l) => ({ quantity: l.units, unit: boughtUnitOf(l.full) }));
  const known = units.every((u) => u.unit !== null);
  const weighed = known && units.every((u) => u.unit!.grams !== null);
  const sum = (of: (unit: Priceable) => number) =>
    units.reduce((all, u) => all + of(u.unit!) * u.quantity, 0);
  const terms = supplierCosts(shop, supplier);
  const items = known ? sum((unit) => unit.pack ?? 1) : 0;
  const sized = known && units.every((u) => u.unit!.cubicMillimetres != null);
  const parcel = {
    items,
    grams: weighed ? sum((unit) => unit.grams!) : null,
    heaviest: weighed ? Math.max(...units.map((u) => Math.ceil(u.unit!.grams! / (u.unit!.pack ?? 1)))) : null,
    cubicMillimetres: sized ? sum((unit) => unit.cubicMillimetres!) : null,
  };
  const carriage = shippingTo(terms, country, parcel);
  const goods = known
    ? units.reduce(
        (all, { unit, quantity }) =>
          all + goodsFor(unit!.cost * quantity, (unit!.pack ?? 1) * quantity, unit!.sku ?? '', terms.rules),
        0,
      )
    : null;
  if (goods === null || carriage === null) return { supplier, lines, goods, shipping: null, service, sites };
  const shipping = carriage + handlingFor(items, terms.rules) + (service?.extra ?? 0);
  return { supplier, lines, goods, shipping, service, sites };
}
