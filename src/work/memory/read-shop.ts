import { ratesOn } from '../../core/money';
import { openLines } from '../../core/orders';
import { dayOf, type Instant } from '../../core/units';
import { allConnections, type Order, type SampanDatabase, settingsOf, type Variant } from '../../store';
import { listingOf, promisedPieces } from '../quoting/promised';
import type { Shop, ShopTerms } from '../quoting/worth';

/** What quotes are made with besides promised units and the age of stock. Cost: a handful of small rows. */
export async function readTerms(db: SampanDatabase, now: Instant): Promise<ShopTerms> {
  const tables = [db.settings, db.plans, db.connections, db.stated, db.rates, db.templates, db.groups];
  const [settings, plans, connections, rates, templates, groups] = await db.transaction('r', tables, () =>
    Promise.all([
      settingsOf(db),
      db.plans.toArray(),
      allConnections(db),
      db.rates.toArray(),
      db.templates.toArray(),
      db.groups.toArray(),
    ]),
  );
  return {
    at: now,
    settings,
    plans: plans.sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1)),
    connections: new Map(connections.map((c) => [c.id, c])),
    templates: new Map(templates.map((t) => [t.id, t])),
    groups: groups.sort((a, b) => (a.name < b.name ? -1 : 1)),
    rates: ratesOn(rates, settings.currency, dayOf(now, settings.zone)),
  };
}

/** What quotes are made with besides promised units: {@link readTerms}, and when each supplier's stock was read last. */
export async function readAgedTerms(db: SampanDatabase, now: Instant): Promise<AgedTerms> {
  const tables = [
    ...[db.settings, db.plans, db.connections, db.stated, db.rates, db.templates, db.groups],
    ...[db.jobs, db.health],
  ];
  const [terms, jobs, health] = await db.transaction('r', tables, () =>
    Promise.all([readTerms(db, now), db.jobs.toArray(), db.health.toArray()]),
  );
  const readAt = new Map<string, Instant>();
  for (const { subject, task, ...job } of jobs) {
    if (task !== 'catalogue' && task !== 'list') continue;
    // A service's catalogue was read by whichever run ended well, a list by the run that read one.
    const read = job.readAt ?? (task === 'catalogue' ? job.lastAt : null) ?? 0;
    readAt.set(subject, Math.max(read, readAt.get(subject) ?? 0));
  }
  const transit = new Map(health.flatMap((h) => (h.transit ? [[h.id, h.transit] as const] : [])));
  return { ...terms, readAt, transit };
}

export type AgedTerms = ShopTerms & Required<Pick<Shop, 'readAt' | 'transit'>>;

/** All that quotes are made with. Cost: the open orders besides {@link readAgedTerms}. */
export async function readShop(db: SampanDatabase, now: Instant): Promise<Shop> {
  const [{ readAt, transit, ...terms }, open] = await Promise.all([
    readAgedTerms(db, now),
    db.orders.where('open').equals(1).toArray(),
  ]);
  const variants = await variantsFor(db, open);
  const promised = promisedPieces(
    open,
    (l) => variants.get(l)?.sources[0],
    (s) => readAt.get(s) ?? 0,
  );
  return { ...terms, transit, promised };
}

/** Variants by the listings that open lines of orders were bought of. */
async function variantsFor(db: SampanDatabase, orders: readonly Order[]): Promise<Map<string, Variant>> {
  const ids = [...new Set(orders.flatMap((o) => openLines(o).map((l) => listingOf(o, l))))];
  if (!ids.length) return new Map();
  const listings = (await db.listings.bulkGet(ids)).filter((l) => l !== undefined);
  const variants = await db.variants.bulkGet(listings.map((l) => l.variant));
  return new Map(listings.flatMap((l, k) => (variants[k] ? [[l.id, variants[k]] as const] : [])));
}
