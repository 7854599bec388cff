import { ratesOn } from '../../core/money';
import { openLines } from '../../core/orders';
import { dayOf, type Instant } from '../../core/units';
import { type Order, type SampanDatabase, settingsOf, type Variant } from '../../store';
import { listingOf, promisedUnits, type Shop } from './quote';

/**
 * Reads what quotes are made with: settings, plans, connections, rates and promised units. Cost: the open orders and
 * a handful of small rows.
 */
export async function readShop(db: SampanDatabase, now: Instant): Promise<Shop> {
  const [settings, plans, connections, jobs, rates, open] = await Promise.all([
    settingsOf(db),
    db.plans.toArray(),
    db.connections.toArray(),
    db.jobs.toArray(),
    db.rates.toArray(),
    db.orders.where('open').equals(1).toArray(),
  ]);
  const readAt = new Map(jobs.filter((j) => j.task === 'catalogue').map((j) => [j.subject, j.lastAt ?? 0]));
  const variants = await variantsFor(db, open);
  return {
    settings,
    plans: plans.sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1)),
    connections: new Map(connections.map((c) => [c.id, c])),
    rates: ratesOn(rates, settings.currency, dayOf(now, settings.zone)),
    promised: promisedUnits(
      open,
      (l) => variants.get(l),
      (s) => readAt.get(s) ?? 0,
    ),
  };
}

/** Variants by the listings that open lines of orders were bought of. */
async function variantsFor(db: SampanDatabase, orders: readonly Order[]): Promise<Map<string, Variant>> {
  const ids = [...new Set(orders.flatMap((o) => openLines(o).map((l) => listingOf(o, l))))];
  if (!ids.length) return new Map();
  const listings = (await db.listings.bulkGet(ids)).filter((l) => l !== undefined);
  const variants = await db.variants.bulkGet(listings.map((l) => l.variant));
  return new Map(listings.flatMap((l, k) => (variants[k] ? [[l.id, variants[k]] as const] : [])));
}
