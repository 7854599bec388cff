import {
  type FieldName,
  fieldsOf,
  KINDS,
  type Readers,
  type ValueOf,
  valuesInWords,
} from '../../core/fields';
import { type GroupOf, Membership } from '../../core/groups';
import type { Currency } from '../../core/money';
import type { Fields } from '../../core/query';
import { soldWithin } from '../../core/stock';
import type { Instant } from '../../core/units';
import type { FullListing } from '../quoting/full-listing';
import { costCurrency, goodsReaders } from '../quoting/goods';
import { marketOf, marketsOf, problemOf } from '../quoting/worth';
import type { Assortment } from './assortment';
import { FLAG, NONE, STATES } from './columns';
import { needOf } from './need';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** Days whose sales are counted. */
const LATELY = 30;

/** How listings are read, by their places. */
export function listingReaders(
  assortment: Assortment,
  now: Instant,
  members: Membership<number> | null = null,
): Readers<'listing', number> {
  const { rows, columns, shop } = assortment;
  const { numbers, flags, state, last } = columns;
  const at = (place: number): FullListing => rows[place]!;
  const number = (column: Int32Array) => (place: number) => {
    const n = column[place]!;
    return n === NONE ? null : n;
  };
  const has = (place: number, bit: number) => (flags[place]! & bit) !== 0;
  const goods = goodsReaders(shop, null);
  return {
    is: (place, flag) => {
      switch (flag) {
        case 'needing':
          return needOf(at(place), state[place]!, flags[place]!) !== null;
        case 'held':
          return has(place, FLAG.problem);
        case 'loss':
          return has(place, FLAG.loss);
        case 'own':
          return has(place, FLAG.own);
        case 'unlinked':
          return !has(place, FLAG.linked);
        case 'edited':
          return (at(place).listing.drift ?? null) !== null;
        case 'step':
          return Boolean(at(place).listing.held);
        case 'leap':
          return Boolean(at(place).item?.leap);
        case 'changed':
          return assortment.differsAt(place);
        case 'approved':
          return has(place, FLAG.approved);
        case 'lacking':
          return (columns.missing[place]?.length ?? 0) > 0;
        case 'ready':
          return columns.missing[place]?.length === 0 && !has(place, FLAG.approved);
        default:
          return STATES[state[place]!] === flag;
      }
    },
    has: (place, flag) => goods.has(at(place), flag),
    group: (place, name) => members?.has(place, name) ?? false,
    sales: (place) => soldWithin(at(place).listing.soldOn ?? [], LATELY, now),
    cost: (place) => goods.cost(at(place)),
    stock: number(numbers.stock),
    price: number(numbers.price),
    profit: number(numbers.profit),
    margin: number(numbers.margin),
    weight: (place) => goods.weight(at(place)),
    // What was never sold counts from the day on which it was let on sale.
    sold: (place) => {
      const { soldAt, approvedAt } = at(place).listing;
      const since = soldAt ?? approvedAt;
      return since == null ? null : Math.max(0, now - since) / DAY;
    },
    moved: (place) => (last[place] ? (now - last[place]!) / HOUR : null),
    on: (place) => marketOf(shop, at(place).listing.marketplace)?.name ?? '',
    brand: (place) => goods.brand(at(place)),
    category: (place) => goods.category(at(place)),
    supplier: (place) => goods.supplier(at(place)),
    sku: (place) => goods.sku(at(place)),
    template: (place) => shop.templates.get(at(place).listing.copy ?? '')?.name ?? '',
    fault: (place) =>
      [
        ...(columns.missing[place] ?? []).flatMap((m) => [m.field, m.reason]),
        problemOf(at(place), shop),
      ].join(' '),
  };
}

/** What a listing is sold for or bought for. */
export const currencyAt =
  ({ rows, shop }: Assortment) =>
  (place: number, field: FieldName): Currency =>
    field === 'cost'
      ? costCurrency(rows[place]!)
      : (marketOf(shop, rows[place]!.listing.marketplace)?.site.currency ?? shop.settings.currency);

/** Who is in which group, over the places of listings. */
export const listingMembers = (
  assortment: Assortment,
  now: Instant,
  groups: readonly GroupOf[] = assortment.shop.groups ?? [],
): Membership<number> =>
  new Membership<number>(
    groups,
    KINDS.listing,
    (members) => fieldsWith(assortment, now, members),
    (place) => assortment.columns.wordsOf(place, assortment.rows[place]!),
    (place) => assortment.rows[place]!.product.id,
  );

const fieldsWith = (assortment: Assortment, now: Instant, members: Membership<number>): Fields<number> =>
  fieldsOf('listing', listingReaders(assortment, now, members), currencyAt(assortment), members.named);

/** What a search line over listings may ask for. @param groups the groups there are, or would be */
export const listingFields = (
  assortment: Assortment,
  now: Instant,
  groups?: readonly GroupOf[],
): Fields<number> => fieldsWith(assortment, now, listingMembers(assortment, now, groups));

/** The values of a listing's fields, in words. */
export function valuesAt(
  assortment: Assortment,
  place: number,
  now: Instant,
): Readonly<Record<ValueOf<'listing'>, string>> {
  const apart = marketsOf(assortment.shop).length > 1;
  return valuesInWords(
    'listing',
    listingReaders(assortment, now),
    place,
    currencyAt(assortment),
    (field) => apart || field === 'cost',
  );
}
