import { totalsByDay } from '../../core/ledger';
import { formatMinor } from '../../core/money';
import { isLate } from '../../core/orders';
import { addDays, countOf, dayOf, spanOf } from '../../core/units';
import type { CatalogueNote, Order, SampanDatabase } from '../../store';
import { benchStanding } from '../listings/bench';
import { accountsOf, isCounted, standingFor } from '../orders/decide';
import { troubleInWords } from '../outbox/circuit';
import { doubtInWords } from '../readings/words';
import { quoteListing, sumAsTold } from './quote';
import { readShop } from './read-shop';

/** One thing that needs a person, with the step that resolves it. */
export interface Need {
  readonly id: string;
  /** Milliseconds until it hurts; less is worse. */
  readonly left: number;
  /** Minor units at stake. */
  readonly stake: number;
  readonly what: string;
  readonly why: string;
  readonly step: string;
  readonly href: string;
}

export interface Course {
  readonly needs: readonly Need[];
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

const needsPerson = (order: Order, now: number) =>
  standingFor(order) === 'held' || order.refusal !== null || isLate(order.facts, order.shipBy, now);

/**
 * Everything that needs a person, worst first, and the counts along the course. Cost: live and waiting
 * listings, open orders, two days of orders.
 */
export async function readCourse(db: SampanDatabase, now: number): Promise<Course> {
  const [shop, listings, products, open, catalogues, refusedRows, jobs, searches, doubts] = await Promise.all(
    [
      readShop(db, now),
      db.listings.toArray(),
      db.products.toArray(),
      db.orders.where('open').equals(1).toArray(),
      db.notes.where('id').startsWith('catalogue:').toArray(),
      db.outbox
        .where('[state+nextAt]')
        .between(['refused', 0], ['refused', Number.MAX_SAFE_INTEGER])
        .toArray(),
      db.jobs.toArray(),
      db.searches.toArray(),
      db.doubts.toArray(),
    ],
  );
  const byId = new Map(products.map((p) => [p.id, p]));
  const market = [...shop.connections.values()].find((c) => c.role === 'marketplace');
  const currency = market?.site.currency ?? 'GBP';
  const money = (minor: number) => formatMinor(minor, currency);
  const needs: Need[] = [];

  for (const c of shop.connections.values()) {
    const says = troubleInWords(c, now);
    if (says)
      needs.push({
        id: `connection:${c.id}`,
        left: c.trouble?.kind === 'credentials' ? 0 : HOUR,
        stake: 0,
        what: `${c.name} does not work`,
        why: says,
        step: 'Open the connection',
        href: `/connections?row=${c.id}`,
      });
    if (c.role === 'supplier' && c.balance !== null) {
      const due = open
        .filter((o) => o.supplier === c.id && o.facts.boughtAt === null)
        .reduce((sum, o) => sum + (o.expected ? o.expected.goods + o.expected.shipping : 0), 0);
      if (c.balance < Math.max(due, 5_000))
        needs.push({
          id: `balance:${c.id}`,
          left: 4 * HOUR,
          stake: due,
          what: `${c.name}’s balance is down to ${money(c.balance)}`,
          why: 'Orders stop when it does not cover them.',
          step: 'See the balance',
          href: `/connections?row=${c.id}`,
        });
    }
  }
  for (const doubt of doubts) {
    const c = shop.connections.get(doubt.supplier);
    if (c && !doubt.confirmed)
      needs.push({
        id: `doubt:${doubt.supplier}`,
        left: 5 * HOUR,
        stake: 0,
        what: `Are ${countOf(doubt.rows.length, 'item')} of ${c.name} gone?`,
        why: `${doubtInWords(doubt)}. They stay as they were until you say so.`,
        step: 'Look at the list',
        href: '/source/lists',
      });
  }
  for (const job of jobs) {
    const c = shop.connections.get(job.connection);
    if (c && !job.lastOk && !c.trouble && job.lastSays && !job.lastSays.startsWith('Stopped'))
      needs.push({
        id: `job:${job.id}`,
        left: 6 * HOUR,
        stake: 0,
        what: `${c.name}: ${job.task} did not end well`,
        why: job.lastSays,
        step: 'Open the connection',
        href: `/connections?row=${c.id}`,
      });
  }
  for (const order of open) {
    if (!needsPerson(order, now)) continue;
    const paid = order.lines.reduce((sum, l) => sum + l.unitPrice * l.quantity, 0);
    const cancelled = order.facts.cancelledAt !== null;
    const held = standingFor(order) === 'held' || order.refusal !== null;
    const failed = order.checks.filter((c) => !c.passed && !order.released.includes(c.kind));
    needs.push({
      id: `order:${order.id}`,
      left: order.shipBy - now,
      stake: paid,
      what: cancelled
        ? `${order.number} was cancelled after it was bought`
        : held
          ? `${order.number} is held: ${order.lines[0]?.title ?? ''}`
          : `${order.number} is late: no parcel yet`,
      why: held
        ? (order.refusal ?? failed.map((c) => c.says).join(' '))
        : order.shipBy > now
          ? `Ship-by in ${spanOf(order.shipBy - now)}.`
          : `Ship-by passed ${spanOf(now - order.shipBy)} ago.`,
      step: held ? 'Open the order' : 'See where it stands',
      href: `/orders?row=${encodeURIComponent(order.id)}`,
    });
  }
  let listingNeeds = 0;
  const bench = new Map<string, typeof listings>();
  for (const listing of listings) {
    const product = byId.get(listing.product);
    if (!product) continue;
    if (listing.state === 'bench' || listing.state === 'refused')
      bench.set(product.id, [...(bench.get(product.id) ?? []), listing]);
    if (listing.state === 'publishing' || !product) continue;
    const title = product.title ?? product.taken.title;
    const href = `/listings?row=${encodeURIComponent(listing.id)}`;
    if (listing.state === 'refused') {
      needs.push({
        id: `listing:${listing.id}`,
        left: 48 * HOUR,
        stake: 0,
        what: `${title} was refused`,
        why: listing.problem ?? '',
        step: 'Mend it on the Bench',
        href: `/bench?row=${encodeURIComponent(product.id)}`,
      });
    } else if (listing.told && listing.state !== 'bench') {
      const quote = quoteListing(listing, product, shop);
      const sum = sumAsTold(listing, quote);
      if (listing.problem) {
        listingNeeds++;
        needs.push({
          id: `listing:${listing.id}`,
          left: 12 * HOUR,
          stake: Math.max(0, -(sum?.profit ?? 0)) * listing.told.quantity,
          what: `${title} is held at ${money(listing.told.price)}`,
          why: listing.problem,
          step: 'Open the listing',
          href,
        });
      } else if (sum && sum.profit < 0 && listing.state === 'live') {
        listingNeeds++;
        needs.push({
          id: `listing:${listing.id}`,
          left: 8 * HOUR,
          stake: -sum.profit * listing.told.quantity,
          what: `${title} sells below cost`,
          why: `At ${money(listing.told.price)} each sale loses ${money(-sum.profit)}.`,
          step: 'Open the listing',
          href,
        });
      }
    }
  }
  for (const row of refusedRows) {
    if (row.kind === 'buy' || row.kind === 'take back' || row.kind === 'publish' || row.kind === 'offer')
      continue;
    const order = row.subject.slice('order:'.length);
    if (open.some((o) => o.id === order)) continue;
    needs.push({
      id: `outbox:${row.id}`,
      left: 10 * HOUR,
      stake: 0,
      what: row.kind === 'cancel' ? 'A cancellation was refused' : 'A parcel was not accepted',
      why: row.says ?? '',
      step: 'Open the order',
      href: `/orders?row=${encodeURIComponent(order)}`,
    });
  }
  const standings = [...bench].map(([id, own]) => ({
    product: byId.get(id)!,
    ...benchStanding(byId.get(id)!, own, shop),
  }));
  const ready = standings.filter((s) => s.ready && s.product.approvedAt === null).length;
  const lacking = standings.filter((s) => !s.ready).length;

  const zone = shop.settings.zone;
  const day = dayOf(now, zone);
  const days = [addDays(day, -1), day];
  const recent = await db.orders
    .where('facts.paidAt')
    .above(now - 50 * HOUR)
    .toArray();
  const totals = totalsByDay(recent.filter(isCounted).map(accountsOf), days, zone);
  const figures = (i: number) => ({
    orders: totals[i]!.orders,
    revenue: totals[i]!.best.revenue,
    profit: totals[i]!.best.profit,
  });
  return {
    needs: needs.sort((a, b) => a.left - b.left || b.stake - a.stake),
    fresh: searches
      .filter((s) => s.fresh > 0)
      .map((s) => ({ id: s.id, name: s.name, count: s.fresh, taken: s.watch === 'take' })),
    source: catalogues.reduce((n, note) => n + (note.value as CatalogueNote).items, 0),
    bench: {
      all: standings.length,
      lacking,
      ready,
      approved: standings.filter((s) => s.product.approvedAt !== null).length,
    },
    plans: shop.plans.length,
    listings: {
      live: listings.filter((l) => l.state === 'live').length,
      paused: listings.filter((l) => l.state === 'paused').length,
      publishing: listings.filter((l) => l.state === 'publishing').length,
      need: listingNeeds,
    },
    orders: {
      open: open.length,
      need: open.filter((o) => needsPerson(o, now)).length,
      ready: open.filter((o) => standingFor(o) === 'ready').length,
    },
    yesterday: figures(0),
    today: figures(1),
    currency,
  };
}
