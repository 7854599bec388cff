import { addDays, dayOf, type Instant } from '../../core/units';
import {
  allHealth,
  type CatalogueNote,
  type ItemRow,
  type ListingState,
  type SavedSearch,
} from '../../store';
import type { Work } from '../context/work';
import { type Assortment, caughtUp } from '../memory/assortment';
import { benchOf } from '../memory/bench-list';
import { STATES } from '../memory/columns';
import { needOf } from '../memory/need';
import { OrderBook } from '../order-book/order-book';
import { sumsOf } from '../order-book/sums';
import { unreadRows } from '../orders/unread';
import { countByWord, countWaiting, OF_ORDERS, rowsIn } from '../outbox/waiting';
import type { Shop } from '../quoting/worth';
import { stuckRows } from '../sending/stuck';
import { connectionNeeds, doubtNeed, fileNeed, jobNeed } from './connection-needs';
import { leapsNeed, listingNeed, overdueNeed, parcelsNeed, refusalNeed, stepsNeed } from './listing-needs';
import { byCause, type Caused, type Need } from './need';
import { orderNeed, ordersNow, stuckNeed, unreadNeed } from './order-needs';

export interface Course {
  /** By cause, worst first, at most {@link MOST_NEEDS}. */
  readonly needs: readonly Need[];
  /** How many there are in all. */
  readonly needing: number;
  readonly source: number;
  /** Designs in the print room; missing in what an earlier version kept. */
  readonly designs?: number;
  /** Watched searches with new matches. */
  readonly fresh: readonly {
    readonly id: string;
    readonly name: string;
    readonly count: number;
    readonly taken: boolean;
  }[];
  readonly bench: {
    readonly all: number;
    readonly lacking: number;
    readonly ready: number;
    readonly approved: number;
  };
  readonly plans: number;
  /** Messages besides new listings that wait to be sent to services; of a kind, no more than some hundreds are counted. */
  readonly toSend: number;
  readonly listings: {
    readonly live: number;
    readonly paused: number;
    readonly need: number;
    readonly publishing: number;
  };
  readonly orders: { readonly open: number; readonly need: number; readonly ready: number };
  /** Yesterday and today in figures. */
  readonly today: { readonly orders: number; readonly revenue: number; readonly profit: number };
  readonly yesterday: { readonly orders: number; readonly revenue: number; readonly profit: number };
  readonly currency: string;
}

/** Needs told one by one: nobody reads more of them at once, and they come again as the first are dealt with. */
export const MOST_NEEDS = 60;

/**
 * Everything that needs a person, worst first, and the counts along the course. Cost: live and waiting
 * listings, open orders, and one pass over the columns of all orders; of orders nothing is read from storage again.
 */
export async function readCourse(work: Work, book = new OrderBook(work)): Promise<Course> {
  const { db } = work;
  const now = work.clock();
  await book.catchUp();
  const assortment = await caughtUp(work);
  const { shop } = assortment;
  const all = [...shop.connections.values()];
  const services = all.filter((c) => c.service);
  const open = [...assortment.openOrders];
  const listings = listingsNow(assortment);
  const { needing, ready: forwardable } = ordersNow(open, now);
  const [health, catalogues, refused, stuck, unread, jobs, searches, doubts, files, toSend, designs, byWord] =
    await Promise.all([
      allHealth(db),
      db.notes.where('id').startsWith('catalogue:').toArray(),
      rowsIn(db, 'refused', ['dispatch', 'cancel', 'decline', 'message']),
      stuckRows(work),
      unreadRows(work),
      db.jobs.toArray(),
      db.searches.toArray(),
      db.doubts.toArray(),
      Promise.all(all.map((c) => fileNeed(db, c))),
      Promise.all(services.map((c) => countWaiting(db, c.id, [...OF_ORDERS, 'offer']))),
      db.designs.count(),
      Promise.all(services.map((c) => countByWord(db, c.id))),
    ]);
  const needs = [
    ...all.flatMap((c) => connectionNeeds(c, health.get(c.id), open, now)),
    ...files,
    ...doubts.map((doubt) => doubtNeed(doubt, shop)),
    stepsNeed(listings.steps, shop),
    leapsNeed(listings.leapt, shop),
    ...jobs.map((job) => jobNeed(job, health.get(job.subject), shop)),
    ...needing.map((o) => orderNeed(o, shop, now)),
    ...listings.needs,
    ...refused.map((row) => refusalNeed(row, open, shop.settings.currency)),
    ...stuck.map((row) => stuckNeed(row, shop)),
    ...unread.map((row) => unreadNeed(row, shop, now)),
    overdueNeed(book.overdue(now), shop),
    parcelsNeed(
      byWord.reduce((a, b) => a + b, 0),
      shop,
    ),
  ].filter((need) => need !== null);
  const { total, lacking, ready, approved } = benchOf(assortment).counts();
  return {
    needs: byCause(needs, shop).slice(0, MOST_NEEDS),
    needing: needs.length,
    fresh: freshOf(searches),
    designs,
    source: catalogues.reduce((n, note) => n + (note.value as CatalogueNote).items, 0),
    bench: { all: total, lacking, ready, approved },
    plans: shop.plans.length,
    toSend: toSend.reduce((sum, n) => sum + n, 0),
    listings: {
      live: listings.counts.live,
      paused: listings.counts.paused,
      publishing: listings.publishing,
      need: listings.needing,
    },
    orders: { open: open.length, need: needing.length, ready: forwardable },
    ...twoDays(book, shop, now),
    currency: shop.settings.currency,
  };
}

/** How listings stand, and what of them needs a person. */
function listingsNow({ rows, columns: { state, flags }, shop }: Assortment) {
  const counts = Object.fromEntries(STATES.map((name) => [name, 0])) as Record<ListingState, number>;
  const needs: Caused[] = [];
  const leapt = new Map<string, ItemRow>();
  let [needing, publishing, steps] = [0, 0, 0];
  for (const [place, full] of rows.entries()) {
    if (!full) continue;
    const name = STATES[state[place]!]!;
    counts[name]++;
    // What waits for a listing file is not on its way by itself.
    if (name === 'publishing' && shop.connections.get(full.listing.marketplace)?.service) publishing++;
    if (full.listing.held) steps++;
    if (full.item?.leap && name !== 'ended') leapt.set(full.item.id, full.item);
    const need = needOf(full, state[place]!, flags[place]!);
    if (!need) continue;
    if (need !== 'refused') needing++;
    // Steps are told together, and costs that leapt.
    if (need !== 'step' && need !== 'leap') needs.push(listingNeed(need, full, shop));
  }
  return { counts, needs, needing, publishing, steps, leapt: [...leapt.values()] };
}

/** Watched searches with new matches. */
const freshOf = (searches: readonly SavedSearch[]): Course['fresh'] =>
  searches
    .filter((s) => s.fresh > 0)
    .map((s) => ({ id: s.id, name: s.name, count: s.fresh, taken: s.watch !== 'report' }));

/** Yesterday and today in figures, in the zone of the shop. */
function twoDays(
  book: OrderBook,
  { settings: { zone } }: Shop,
  now: Instant,
): Pick<Course, 'yesterday' | 'today'> {
  const today = dayOf(now, zone);
  const [before, current] = sumsOf(book, addDays(today, -1), today).totals.map(({ orders, best }) => ({
    orders,
    revenue: best.revenue,
    profit: best.profit,
  }));
  return { yesterday: before!, today: current! };
}

const KEPT = 'course';

/** Keeps the course as it was drawn last, so that the next start has something to show while the shop is read. */
export const keepCourse = ({ db }: Pick<Work, 'db'>, course: Course) =>
  db.notes.put({ id: KEPT, value: course });

export const keptCourse = async ({ db }: Pick<Work, 'db'>): Promise<Course | undefined> =>
  (await db.notes.get(KEPT))?.value as Course | undefined;
