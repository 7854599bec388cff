import { type SampanDatabase, settingsOf } from '../store';
import { promisedUnits, type Shop } from './quote';

/**
 * Reads what quotes are made with: settings, plans, connections and promised units. Cost: the open orders and
 * a handful of small rows.
 */
export async function readShop(db: SampanDatabase): Promise<Shop> {
  const [settings, plans, connections, jobs, open] = await Promise.all([
    settingsOf(db),
    db.plans.toArray(),
    db.connections.toArray(),
    db.jobs.toArray(),
    db.orders.where('open').equals(1).toArray(),
  ]);
  const read = new Map(jobs.filter((j) => j.task === 'catalogue').map((j) => [j.connection, j.lastAt ?? 0]));
  return {
    settings,
    plans,
    connections: new Map(connections.map((c) => [c.id, c])),
    promised: promisedUnits(open, (s) => read.get(s) ?? 0),
  };
}
