import { ratesOn } from '../../core/money';
import { dayOf, type Instant } from '../../core/units';
import { type SampanDatabase, settingsOf } from '../../store';
import { promisedUnits, type Shop } from './quote';

/**
 * Reads what quotes are made with: settings, plans, connections and promised units. Cost: the open orders and
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
  const read = new Map(jobs.filter((j) => j.task === 'catalogue').map((j) => [j.connection, j.lastAt ?? 0]));
  return {
    settings,
    plans,
    connections: new Map(connections.map((c) => [c.id, c])),
    rates: ratesOn(rates, settings.currency, dayOf(now, settings.zone)),
    promised: promisedUnits(open, (s) => read.get(s) ?? 0),
  };
}
