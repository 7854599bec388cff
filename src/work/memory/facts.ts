import type { Catalogue, Item } from '../../core/catalogue';
import type { ItemMoves } from '../../core/pricing';
import type { Instant } from '../../core/units';
import {
  type FactTimes,
  type ItemRow,
  itemKey,
  type LeapRule,
  STARTING_LEAP_RULE,
  type SupplierConnection,
} from '../../store';

type Facts = Pick<Item, 'sku' | 'cost' | 'stock' | 'map' | 'msrp' | 'grams'>;
type Supplier = Pick<SupplierConnection, 'id' | 'currency'>;

/** What is known of an item, as it came now. The one maker of such rows. */
export function itemRow(supplier: Supplier, facts: Facts, at: Instant, gone = false): ItemRow {
  return {
    id: itemKey(supplier.id, facts.sku),
    supplier: supplier.id,
    item: facts.sku,
    currency: supplier.currency,
    cost: facts.cost,
    stock: gone ? 0 : facts.stock,
    map: facts.map,
    msrp: facts.msrp,
    grams: facts.grams,
    gone,
    times: { cost: at, stock: at, guards: at, weight: at },
  };
}

/** What a catalogue says of an item now; one that it does not offer any more keeps all but its stock. */
export function itemFrom(
  c: Catalogue,
  supplier: Supplier,
  sku: string,
  at: Instant,
  before?: ItemRow,
): ItemRow | null {
  const row = c.rowOf(sku);
  if (row >= 0 && !c.gone[row]) {
    const { cost, stock, map, msrp, grams } = c.numbers;
    const maybe = (n: number) => (n < 0 ? null : n);
    const facts = {
      sku,
      cost: cost[row]!,
      stock: stock[row]!,
      map: maybe(map[row]!),
      msrp: maybe(msrp[row]!),
      grams: maybe(grams[row]!),
    };
    return itemRow(supplier, facts, at);
  }
  return before ? { ...before, stock: 0, gone: true } : null;
}

/** Facts by the time that says when they changed. */
const BY_TIME: Readonly<
  Record<keyof FactTimes, readonly ('cost' | 'stock' | 'map' | 'msrp' | 'grams' | 'gone')[]>
> = {
  cost: ['cost'],
  stock: ['stock', 'gone'],
  guards: ['map', 'msrp'],
  weight: ['grams'],
};

/** Whether a cost moved so far that a person is asked. One that comes to nothing always is. */
export const leaps = (from: number, to: number, { times }: LeapRule): boolean =>
  from > 0 && (to === 0 || to > from * times || to * times < from);

/** The row after a reading with the old cost where the new one leaps: that waits beside it. */
export function withLeapAsked(
  before: ItemRow,
  now: ItemRow,
  rule: LeapRule = STARTING_LEAP_RULE,
  at: Instant,
): ItemRow {
  if (before.currency !== now.currency || !leaps(before.cost, now.cost, rule)) return now;
  const waits = before.leap?.cost === now.cost ? before.leap : { cost: now.cost, at };
  return { ...now, cost: before.cost, leap: waits };
}

/** The row after a reading, with the times of what changed set; null where nothing did. Compared field by field. */
export function changedItem(before: ItemRow, now: ItemRow, at: Instant): ItemRow | null {
  const moved = (Object.keys(BY_TIME) as (keyof FactTimes)[]).filter((time) =>
    BY_TIME[time].some((f) => before[f] !== now[f]),
  );
  const sameLeap = (before.leap?.cost ?? null) === (now.leap?.cost ?? null);
  if (!moved.length && sameLeap && before.currency === now.currency) return null;
  return {
    ...now,
    leap: now.leap ?? null,
    times: { ...before.times, ...Object.fromEntries(moved.map((time) => [time, at])) },
  };
}

/** How an item moved, for the history. */
export function itemMoves(from: ItemRow, to: ItemRow): ItemMoves {
  const moved = <F extends 'cost' | 'stock' | 'map' | 'msrp' | 'grams'>(field: F) =>
    from[field] !== to[field] && { [field]: [from[field], to[field]] };
  return {
    currency: to.currency,
    ...(from.gone !== to.gone && { gone: to.gone }),
    ...moved('cost'),
    ...(to.leap && to.leap.cost !== from.leap?.cost && { leap: [to.cost, to.leap.cost] }),
    ...(!to.gone && moved('stock')),
    ...moved('map'),
    ...moved('msrp'),
    ...moved('grams'),
  };
}
