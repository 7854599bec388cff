import { NO_TALLY, type Tally } from '../../core/catalogue';
import { isCancelled, isLate, parcelsOf, standingOf } from '../../core/orders';
import { movesInWords } from '../../core/pricing';
import { addDays, dayOf, instantOf } from '../../core/units';
import type { Change, Order, Published, RowEdit } from '../../store';
import type { Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { OrderBook } from '../order-book/order-book';
import { sumsOf } from '../order-book/sums';
import { spentOn } from '../orders/rules';
import { titleOf } from '../quoting/copy';
import { marketOf, nameIn, type Shop } from '../quoting/worth';
import { readCourse } from './course';
import type { Need } from './need';

/** A price or quantity that moved within a day: as it was at its beginning and at its end. */
export interface DigestMove {
  readonly listing: string;
  readonly title: string;
  readonly sku: string;
  readonly from: Pick<Published, 'price' | 'quantity'>;
  readonly to: Pick<Published, 'price' | 'quantity'>;
  readonly because: string;
}

/** One marketplace's day. */
export interface DigestMarket {
  readonly name: string;
  readonly currency: string;
  /** Listings that were first told on this day. */
  readonly published: number;
  readonly up: number;
  readonly down: number;
  /** Nothing to show at the end, and something again. */
  readonly out: number;
  readonly back: number;
  /** Prices that moved most, the largest share first. */
  readonly moves: readonly DigestMove[];
}

/** The events of a day in a shop, for one page. */
export interface Digest {
  readonly day: string;
  readonly zone: string;
  readonly shop: string;
  /** Of the books; sums are in it. */
  readonly currency: string;
  readonly orders: {
    readonly count: number;
    readonly cancelled: number;
    readonly revenue: number;
    readonly profit: number;
    /** Purchases made on the day, and what they cost as charged, else as expected. */
    readonly bought: number;
    readonly spent: number;
    /** Parcels that left on the day. */
    readonly shipped: number;
    /** As it is now; none for past days. */
    readonly held: number;
    readonly late: number;
  };
  readonly markets: readonly DigestMarket[];
  readonly suppliers: readonly {
    readonly name: string;
    readonly readings: number;
    readonly refused: number;
    readonly tally: Tally;
  }[];
  /** The changes that people made, oldest first. */
  readonly changes: readonly { readonly at: number; readonly name: string }[];
  /** The needs of now, worst first; empty for past days. */
  readonly needs: readonly Need[];
  readonly needing: number;
}

/** Orders that were paid longer before are seldom still bought or sent. */
const LOOK_BACK = 21 * 86_400_000;

const MOST_MOVES = 10;
const MOST_CHANGES = 40;

/** The beginning and the end of a day in a zone. */
const spanOfDay = (day: string, zone: string): [number, number] => [
  instantOf(`${day}T00:00`, zone) ?? Date.parse(day),
  instantOf(`${addDays(day, 1)}T00:00`, zone) ?? Date.parse(addDays(day, 1)),
];

/** Collects the events of a day from the records. Writes nothing. */
export async function digestOf(work: Work, day: string, book = new OrderBook(work)): Promise<Digest> {
  const { db } = work;
  const assortment = await caughtUp(work);
  const { shop } = assortment;
  const { zone, currency, shop: name } = shop.settings;
  const [from, to] = spanOfDay(day, zone);
  const changes = await db.changes.where('at').between(from, to, true, false).sortBy('at');
  const [moves, readings, near] = await Promise.all([
    movesOf(work, changes, nameIn(shop)),
    db.readings.filter((r) => r.at >= from && r.at < to).toArray(),
    db.orders
      .where('paidAt')
      .between(from - LOOK_BACK, to, true, false)
      .toArray(),
  ]);
  const orders = near.filter((o) => o.paidAt >= from);
  await book.catchUp();
  const { sum } = sumsOf(book, day, day);
  const today = day === dayOf(work.clock(), zone) ? await readCourse(work, book) : null;
  const markets = [...shop.connections.values()].flatMap((c): DigestMarket[] => {
    if (c.role !== 'marketplace') return [];
    const own = [...moves].flatMap(([id, move]) => {
      const full = assortment.get(id);
      return full && full.listing.marketplace === c.id ? [{ id, full, ...move }] : [];
    });
    const priced = own.filter((m) => m.from && m.from.price !== m.to.price);
    const share = (m: (typeof own)[number]) => Math.abs(m.to.price - m.from!.price) / m.from!.price;
    return [
      {
        name: c.name,
        currency: marketOf(shop, c.id)!.site.currency,
        published: own.filter((m) => !m.from).length,
        up: priced.filter((m) => m.to.price > m.from!.price).length,
        down: priced.filter((m) => m.to.price < m.from!.price).length,
        out: own.filter((m) => m.from?.quantity && !m.to.quantity).length,
        back: own.filter((m) => m.from && !m.from.quantity && m.to.quantity).length,
        moves: priced
          .sort((a, b) => share(b) - share(a))
          .slice(0, MOST_MOVES)
          .map((m) => ({
            listing: m.id,
            title: titleOf(m.full),
            sku: m.full.listing.sku,
            from: m.from!,
            to: m.to,
            because: m.because,
          })),
      },
    ];
  });
  const suppliers = [...shop.connections.values()].flatMap((c) => {
    const own = readings.filter((r) => r.supplier === c.id);
    if (c.role !== 'supplier' || !own.length) return [];
    return [
      {
        name: c.name,
        readings: own.length,
        refused: own.reduce((n, r) => n + r.refused, 0),
        tally: sumOf(own.map((r) => r.tally)),
      },
    ];
  });
  return {
    ...{ day, zone, shop: name, currency },
    orders: {
      count: orders.length,
      cancelled: orders.filter(isCancelled).length,
      revenue: sum.revenue,
      profit: sum.profit,
      ...movedOn(near, from, to, shop),
      held: today ? [...assortment.openOrders].filter((o) => standingOf(o) === 'held').length : 0,
      late: today ? [...assortment.openOrders].filter((o) => isLate(o, o.shipBy, work.clock())).length : 0,
    },
    markets,
    suppliers,
    changes: changes
      .filter((c) => c.by === 'person' && !c.quiet && !c.undoneBy)
      .slice(0, MOST_CHANGES)
      .map((c) => ({ at: c.at, name: c.name })),
    needs: today?.needs ?? [],
    needing: today?.needing ?? 0,
  };
}

/** What suppliers were bought from, and what they sent, on a day. */
function movedOn(orders: readonly Order[], from: number, to: number, shop: Shop) {
  const within = (at: number) => at >= from && at < to;
  const all = orders.flatMap((o) => o.purchases);
  const bought = all.filter((p) => within(p.at) && p.state !== 'refused' && p.state !== 'withdrawn');
  const parcels = all.flatMap(parcelsOf).filter((one) => within(one.shippedAt));
  return { bought: bought.length, spent: spentOn(bought, shop), shipped: parcels.length };
}

function sumOf(tallies: readonly Tally[]): Tally {
  const sum = { ...NO_TALLY } as { -readonly [K in keyof Tally]: number };
  for (const tally of tallies)
    for (const name of Object.keys(sum) as (keyof Tally)[]) sum[name] += tally[name];
  return sum;
}

interface Move {
  /** Null where it was told for the first time. */
  readonly from: Published | null;
  readonly to: Published;
  readonly because: string;
}

/** The net move of each listing over several changes: its state before the first and after the last. */
async function movesOf(
  { db }: Work,
  changes: readonly Change[],
  nameOf: (connection: string) => string,
): Promise<Map<string, Move>> {
  const order = new Map(changes.map((c, k) => [c.id, k]));
  const edits = await db.edits
    .where('change')
    .anyOf([...order.keys()])
    .filter((e) => e.table === 'listings')
    .toArray();
  edits.sort((a, b) => order.get(a.change)! - order.get(b.change)!);
  const moves = new Map<string, Omit<Move, 'because'>>();
  // Why is noted with what was decided, before the marketplace is told.
  const reasons = new Map<string, string>();
  const take = ({ subject, before, after, moves: told }: Omit<RowEdit, 'says'>) => {
    const id = subject.slice('listing:'.length);
    if (told && 'price' in told) reasons.set(id, movesInWords(told, nameOf));
    const to = after?.published as Published | undefined;
    const from = moves.get(id)?.from;
    if (to)
      moves.set(id, { from: from === undefined ? ((before?.published ?? null) as Move['from']) : from, to });
  };
  for (const edit of edits) {
    if (edit.rows) for (const row of edit.rows) take(row);
    else take(edit);
  }
  return new Map([...moves].map(([id, move]) => [id, { ...move, because: reasons.get(id) ?? '' }]));
}
