import { totalsByDay } from '../../core/ledger';
import { convert, factorOf, formatMinor, formatMoney } from '../../core/money';
import { checkInWords, holdsOf, isCancelled, isLate, marksOf, standingOf } from '../../core/orders';
import { addDays, countOf, dayOf, spanOf } from '../../core/units';
import type {
  CatalogueNote,
  Connection,
  Job,
  ListingState,
  Order,
  OutboxRow,
  SampanDatabase,
} from '../../store';
import { caughtUp } from '../assortment/assortment';
import { benchOf } from '../assortment/bench-list';
import { FLAG, STATES } from '../assortment/columns';
import { waitingCounts } from '../connections/market-files';
import type { Work } from '../context';
import { TASKS } from '../jobs/job';
import { accountsOf, isCounted, ledgersOf } from '../orders/accounts';
import { Committed, toPlace } from '../orders/decide';
import { troubleInWords } from '../outbox/circuit';
import { countWaiting, OF_ORDERS, rowsIn } from '../outbox/waiting';
import { doubtInWords } from '../readings/words';
import { titleOf } from './copy';
import type { FullListing } from './full-listing';
import { marketOf, quoteListing, type Shop, sumAsPublished, supplierOf } from './quote';

/** One thing that needs a person, with the step that resolves it. */
export interface Need {
  readonly id: string;
  /** Milliseconds until it hurts; less is worse. */
  readonly left: number;
  /** Minor units at stake. */
  readonly stake: number;
  readonly currency: string;
  readonly what: string;
  readonly why: string;
  readonly step: string;
  readonly href: string;
}

export interface Course {
  /** Worst first, at most {@link MOST_NEEDS}. */
  readonly needs: readonly Need[];
  /** How many there are in all. */
  readonly needing: number;
  readonly source: number;
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

const HOUR = 3_600_000;

/** Needs told one by one: nobody reads more of them at once, and they come again as the first are dealt with. */
export const MOST_NEEDS = 60;

const needsPerson = (order: Order, now: number) =>
  standingOf(order) === 'held' ||
  order.notice !== null ||
  toPlace(order).length > 0 ||
  order.purchases.some((p) => p.recall?.state === 'asked' && p.lane !== 'service') ||
  isLate(order, order.shipBy, now);

/**
 * Everything that needs a person, worst first, and the counts along the course. Cost: live and waiting
 * listings, open orders, two days of orders.
 */
export async function readCourse(work: Work): Promise<Course> {
  const { db } = work;
  const now = work.clock();
  const assortment = await caughtUp(work);
  const { shop, rows } = assortment;
  const { state, flags } = assortment.columns;
  const open = [...assortment.openOrders];
  const [catalogues, refusedRows, jobs, searches, doubts] = await Promise.all([
    db.notes.where('id').startsWith('catalogue:').toArray(),
    rowsIn(db, 'refused', ['dispatch', 'cancel']),
    db.jobs.toArray(),
    db.searches.toArray(),
    db.doubts.toArray(),
  ]);
  const books = shop.settings.currency;
  const all = [...shop.connections.values()];
  const listed: Need[] = [];
  const counted = Object.fromEntries(STATES.map((name) => [name, 0])) as Record<ListingState, number>;
  let publishing = 0;
  let steps = 0;
  for (let place = 0; place < rows.length; place++) {
    const full = rows[place];
    if (!full) continue;
    const name = STATES[state[place]!]!;
    counted[name]++;
    // What waits for a listing file is not on its way by itself.
    if (name === 'publishing' && shop.connections.get(full.listing.marketplace)?.service) publishing++;
    if (full.listing.held) steps++;
    if (name === 'refused' || flags[place]! & (FLAG.problem | FLAG.loss)) {
      const need = listingNeed(full, shop);
      if (need) listed.push(need);
    }
  }
  const bench = benchOf(assortment).counts();
  const needs: Need[] = [
    ...all.flatMap((c) => connectionNeeds(c, open, now)),
    ...(await Promise.all(all.map((c) => fileNeed(db, c)))).flatMap((need) => need ?? []),
    ...doubts.flatMap((doubt) => {
      const c = shop.connections.get(doubt.supplier);
      if (!c || doubt.confirmed) return [];
      return {
        id: `doubt:${doubt.supplier}`,
        left: 5 * HOUR,
        stake: 0,
        currency: books,
        what: `Are ${countOf(doubt.rows.length, 'item')} of ${c.name} gone?`,
        why: `${doubtInWords(doubt)}. They stay as they were until you say so.`,
        step: 'Look at the list',
        href: '/source/lists',
      };
    }),
    ...(steps
      ? [
          {
            id: 'steps',
            left: 6 * HOUR,
            stake: 0,
            currency: books,
            what: `${countOf(steps, 'price step')} wait${steps === 1 ? 's' : ''} for you`,
            why: 'They are larger than their plans let prices go by themselves.',
            step: 'Look at them',
            href: '/listings?q=is:step',
          },
        ]
      : []),
    ...jobs.flatMap((job) => jobNeed(job, shop) ?? []),
    ...open.filter((o) => needsPerson(o, now)).map((o) => orderNeed(o, shop, now)),
    ...listed,
    ...refusedRows.flatMap((row) => refusalNeed(row, open, books) ?? []),
  ];

  const zone = shop.settings.zone;
  const day = dayOf(now, zone);
  const days = [addDays(day, -1), day];
  const recent = (
    await db.orders
      .where('paidAt')
      .above(now - 50 * HOUR)
      .toArray()
  ).filter(isCounted);
  const ledgers = await ledgersOf({ db }, recent);
  const totals = totalsByDay(
    recent.map((o) => accountsOf(o, ledgers.get(o.id), books)),
    days,
    zone,
  );
  const figures = (i: number) => ({
    orders: totals[i]!.orders,
    revenue: totals[i]!.best.revenue,
    profit: totals[i]!.best.profit,
  });
  const inBooks = ({ stake, currency }: Need) => {
    const factor = factorOf(shop.rates, currency, books);
    return factor ? convert(stake, factor) : stake;
  };
  const toSend = await Promise.all(
    all.filter((c) => c.service).map((c) => countWaiting(db, c.id, [...OF_ORDERS, 'offer'])),
  );
  return {
    needs: needs.sort((a, b) => a.left - b.left || inBooks(b) - inBooks(a)).slice(0, MOST_NEEDS),
    needing: needs.length,
    fresh: searches
      .filter((s) => s.fresh > 0)
      .map((s) => ({ id: s.id, name: s.name, count: s.fresh, taken: s.watch !== 'report' })),
    source: catalogues.reduce((n, note) => n + (note.value as CatalogueNote).items, 0),
    bench: {
      all: bench.total,
      lacking: bench.lacking,
      ready: bench.ready,
      approved: bench.approved,
    },
    plans: shop.plans.length,
    toSend: toSend.reduce((sum, n) => sum + n, 0),
    listings: {
      live: counted.live,
      paused: counted.paused,
      publishing,
      need: listed.filter((n) => n.id.startsWith('listing:')).length,
    },
    orders: {
      open: open.length,
      need: open.filter((o) => needsPerson(o, now)).length,
      ready: open.filter((o) => standingOf(o) === 'ready').length,
    },
    yesterday: figures(0),
    today: figures(1),
    currency: books,
  };
}

function connectionNeeds(c: Connection, open: readonly Order[], now: number): Need[] {
  const needs: Need[] = [];
  const says = troubleInWords(c, now);
  const currency = c.role === 'supplier' ? c.currency : c.site.currency;
  const href = `/connections?row=${c.id}`;
  if (says)
    needs.push({
      id: `connection:${c.id}`,
      left: c.trouble?.kind === 'credentials' ? 0 : HOUR,
      stake: 0,
      currency,
      what: `${c.name} does not work`,
      why: says,
      step: 'Open the connection',
      href,
    });
  if (c.role === 'marketplace' && c.siteNow)
    needs.push({
      id: `site:${c.id}`,
      left: 20 * HOUR,
      stake: 0,
      currency,
      what: `${c.name} changed its fees or rules`,
      why: 'Prices go on with the old ones until you have looked at what the new ones do.',
      step: 'Look at what changes',
      href,
    });
  if (c.role === 'supplier' && c.balance !== null) {
    const due = new Committed(open, () => 0).moneyTo(c.id);
    const usual = typicalSpend(open, c.id) * 3;
    if (c.balance < Math.max(due, usual))
      needs.push({
        id: `balance:${c.id}`,
        left: 4 * HOUR,
        stake: due,
        currency,
        what: `${c.name}’s balance is down to ${formatMinor(c.balance, currency)}`,
        why: 'Orders stop when it does not cover them.',
        step: 'See the balance',
        href,
      });
  }
  return needs;
}

/** What a shop without a service has changes to hand over by files. */
async function fileNeed(db: SampanDatabase, c: Connection): Promise<Need | null> {
  if (c.role !== 'marketplace' || c.lanes.listings === 'service') return null;
  const { listings, orders: parcels } = await waitingCounts({ db }, c.id);
  if (!listings && !parcels) return null;
  const parts = [
    listings && `${countOf(listings, 'change')} for its listing file`,
    parcels && `${parcels} for its dispatch file`,
  ];
  return {
    id: `files:${c.id}`,
    left: (parcels ? 8 : 16) * HOUR,
    stake: 0,
    currency: c.site.currency,
    what: `${c.name} has changes to hand over`,
    why: `${parts.filter(Boolean).join(', ')}. Export the files and upload them.`,
    step: 'Export the files',
    href: `/connections?row=${c.id}`,
  };
}

/** What an open purchase of a supplier costs on average; nothing where there is none. */
function typicalSpend(open: readonly Order[], supplier: string): number {
  const costs = open.flatMap((o) =>
    o.purchases.flatMap((p) => (p.supplier === supplier ? [p.expected.goods + p.expected.shipping] : [])),
  );
  return costs.length ? Math.round(costs.reduce((a, b) => a + b, 0) / costs.length) : 0;
}

function jobNeed(job: Job, shop: Shop): Need | null {
  const c = shop.connections.get(job.subject);
  if (!c || job.lastOk || job.stopped || c.trouble || !job.lastSays) return null;
  return {
    id: `job:${job.id}`,
    left: 6 * HOUR,
    stake: 0,
    currency: shop.settings.currency,
    what: `${c.name}: ${TASKS[job.task].name} failed`,
    why: job.lastSays,
    step: 'Open the connection',
    href: `/connections?row=${c.id}`,
  };
}

function orderNeed(order: Order, shop: Shop, now: number): Need {
  const stake = order.lines
    .filter((l) => l.cancelledAt === null)
    .reduce((sum, l) => sum + l.unitPrice * l.quantity, 0);
  const title = order.lines[0]?.title ?? '';
  const place = toPlace(order);
  const back = order.purchases.find((p) => p.recall?.state === 'asked' && p.lane !== 'service');
  const nameOf = (id: string) => supplierOf(shop, id)?.name ?? id;
  const base = {
    id: `order:${order.id}`,
    left: order.shipBy - now,
    stake,
    currency: order.currency,
    step: 'Open the order',
    href: `/orders?row=${encodeURIComponent(order.id)}`,
  };
  const late =
    order.shipBy > now
      ? `Ship-by in ${spanOf(order.shipBy - now)}.`
      : `Ship-by passed ${spanOf(now - order.shipBy)} ago.`;
  if (isCancelled(order))
    return { ...base, what: `${order.number} was cancelled after it was bought`, why: order.notice ?? '' };
  if (standingOf(order) === 'held' || order.notice !== null) {
    const why = order.notice ?? holdsOf(order.checks, order.released).map(checkInWords).join(' ');
    return { ...base, what: `${order.number} is held: ${title}`, why };
  }
  if (back)
    return {
      ...base,
      what: `${order.number}: ask ${nameOf(back.supplier)} to cancel it`,
      why: 'It was ordered outside the service. Record the outcome.',
    };
  if (place.length) {
    const to = place.map((p) => nameOf(p.supplier)).join(' and ');
    const how =
      place[0]!.lane === 'file' ? 'goes into the next order file for' : 'is to be ordered by hand at';
    return { ...base, what: `${order.number} ${how} ${to}`, why: late };
  }
  const missing = marksOf(order)[2] === null ? 'not with the supplier yet' : 'no parcel yet';
  return { ...base, what: `${order.number} is late: ${missing}`, why: late, step: 'See where it stands' };
}

function listingNeed(full: FullListing, shop: Shop): Need | null {
  const { listing, product } = full;
  const market = marketOf(shop, listing.marketplace);
  const currency = market?.site.currency ?? shop.settings.currency;
  const money = (minor: number) => formatMoney({ minor, currency });
  const on = `on ${market?.name ?? listing.marketplace}`;
  const title = titleOf(full);
  if (listing.state === 'refused')
    return {
      id: `refused:${listing.id}`,
      left: 48 * HOUR,
      stake: 0,
      currency,
      what: `${title} was refused ${on}`,
      why: listing.problem ?? '',
      step: 'Fix it on the Bench',
      href: `/bench?row=${encodeURIComponent(product.id)}&for=${encodeURIComponent(listing.marketplace)}`,
    };
  if (!listing.published || (listing.state !== 'live' && listing.state !== 'paused')) return null;
  const base = {
    id: `listing:${listing.id}`,
    currency,
    step: 'Open the listing',
    href: `/listings?row=${encodeURIComponent(listing.id)}`,
  };
  if (listing.drift)
    return {
      ...base,
      left: 36 * HOUR,
      stake: 0,
      what: `${title} was edited ${on} itself`,
      why: `Another ${Object.keys(listing.drift.theirs).join(', ')} stands there than Sampan told it.`,
      step: 'Keep theirs or put ours back',
    };
  const sum = sumAsPublished(listing, quoteListing(full, shop));
  const { price, quantity } = listing.published;
  // Steps are told together.
  if (listing.held) return null;
  if (listing.problem)
    return {
      ...base,
      left: 12 * HOUR,
      stake: Math.max(0, -(sum?.profit ?? 0)) * quantity,
      what: `${title} is held at ${money(price)} ${on}`,
      why: listing.problem,
    };
  if (sum && sum.profit < 0 && listing.state === 'live')
    return {
      ...base,
      left: 8 * HOUR,
      stake: -sum.profit * quantity,
      what: `${title} sells below cost ${on}`,
      why: `At ${money(price)} each sale loses ${money(-sum.profit)}.`,
    };
  return null;
}

/** What a marketplace refused of an order that is not open any more, where nobody else would see it. */
function refusalNeed(row: OutboxRow, open: readonly Order[], currency: string): Need | null {
  if (row.kind !== 'dispatch' && row.kind !== 'cancel') return null;
  const { order } = row;
  if (open.some((o) => o.id === order)) return null;
  return {
    id: `outbox:${row.id}`,
    left: 10 * HOUR,
    stake: 0,
    currency,
    what: row.kind === 'cancel' ? 'A cancellation was refused' : 'A parcel was not accepted',
    why: row.says ?? '',
    step: 'Open the order',
    href: `/orders?row=${encodeURIComponent(order)}`,
  };
}

const KEPT = 'course';

/** Keeps the course as it was drawn last, so that the next start has something to show while the shop is read. */
export const keepCourse = ({ db }: Pick<Work, 'db'>, course: Course) =>
  db.notes.put({ id: KEPT, value: course });

export const keptCourse = async ({ db }: Pick<Work, 'db'>): Promise<Course | undefined> =>
  (await db.notes.get(KEPT))?.value as Course | undefined;
