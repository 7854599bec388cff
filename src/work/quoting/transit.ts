import { isAccepted } from '../../core/orders';
import { type Transit, transitOf } from '../../core/sourcing';
import type { Delivery, SupplierConnection } from '../../store';
import type { Work } from '../context/work';
import { noteHealth } from '../outbox/circuit';

/**
 * Learns how long a supplier's parcels really take to each country: of all that came by the usual service in the orders of
 * the last weeks, which are not laid away yet. Cost: each of these orders is read.
 */
export async function learnTransit(work: Pick<Work, 'db'>): Promise<void> {
  const times = new Map<string, Map<string, number[]>>();
  await work.db.orders.each(({ country, purchases }) => {
    for (const p of purchases) {
      if (!isAccepted(p) || p.service) continue;
      for (const { deliveredAt } of p.parcels) {
        if (deliveredAt === null || deliveredAt < p.acceptedAt) continue;
        const own = times.get(p.supplier) ?? new Map<string, number[]>();
        times.set(p.supplier, own);
        own.set(country, [...(own.get(country) ?? []), deliveredAt - p.acceptedAt]);
      }
    }
  });
  for (const [supplier, own] of times) {
    const transit: Record<string, Transit> = {};
    for (const [country, some] of own) {
      const learned = transitOf(some);
      if (learned) transit[country] = learned;
    }
    await noteHealth(work, supplier, { transit });
  }
}

/** What a supplier promises for a country: the soonest of its places; null for nothing. */
export function promisedDays(
  { delivery }: Pick<SupplierConnection, 'delivery'>,
  country: string,
): Delivery | null {
  const some = delivery?.filter(({ to }) => to.includes(country)) ?? [];
  return some.length ? some.reduce((a, b) => (b.days < a.days ? b : a)) : null;
}
