import { formatMoney } from '../../core/money';
import { Promised } from '../../core/sourcing';
import { countOf } from '../../core/units';
import type { Connection, DoubtRow, HealthRow, Job, Order, SampanDatabase } from '../../store';
import { waitingCounts } from '../connections/market-files';
import { troubleInWords } from '../outbox/circuit';
import type { Shop } from '../quoting/worth';
import { doubtInWords } from '../readings/words';
import { TASKS } from '../schedule/job';
import { HOUR, type Need } from './need';

export function connectionNeeds(
  c: Connection,
  health: HealthRow | undefined,
  open: readonly Order[],
  now: number,
): Need[] {
  const needs: Need[] = [];
  const says = troubleInWords(c.role, health, now);
  const currency = c.role === 'supplier' ? c.currency : c.site.currency;
  const href = `/connections?row=${c.id}`;
  if (says)
    needs.push({
      id: `connection:${c.id}`,
      left: health?.trouble?.kind === 'credentials' ? 0 : HOUR,
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
  const balance = health?.balance ?? null;
  if (c.role === 'supplier' && balance !== null) {
    const due = new Promised(open, () => 0).moneyTo(c.id);
    const usual = typicalSpend(open, c.id) * 3;
    if (balance < Math.max(due, usual))
      needs.push({
        id: `balance:${c.id}`,
        left: 4 * HOUR,
        stake: due,
        currency,
        what: `${c.name}’s balance is down to ${formatMoney({ minor: balance, currency: c.currency })}`,
        why: 'Orders stop when it does not cover them.',
        step: 'See the balance',
        href,
      });
  }
  return needs;
}

/** The need of a shop without a service whose changes wait for a file. */
export async function fileNeed(db: SampanDatabase, c: Connection): Promise<Need | null> {
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

/** The average cost of an open purchase of a supplier; nothing where there is none. */
function typicalSpend(open: readonly Order[], supplier: string): number {
  const costs = open.flatMap((o) =>
    o.purchases.flatMap((p) => (p.supplier === supplier ? [p.expected.goods + p.expected.shipping] : [])),
  );
  return costs.length ? Math.round(costs.reduce((a, b) => a + b, 0) / costs.length) : 0;
}

export function jobNeed(job: Job, health: HealthRow | undefined, shop: Shop): Need | null {
  const c = shop.connections.get(job.subject);
  if (!c || job.lastOk || job.stopped || health?.trouble || !job.lastSays) return null;
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

/** Items that a reading did not find any more, in a number that asks for a person. */
export function doubtNeed(doubt: DoubtRow, shop: Shop): Need | null {
  const c = shop.connections.get(doubt.supplier);
  if (!c || doubt.confirmed) return null;
  return {
    id: `doubt:${doubt.supplier}`,
    left: 5 * HOUR,
    stake: 0,
    currency: shop.settings.currency,
    what: `Are ${countOf(doubt.rows.length, 'item')} of ${c.name} gone?`,
    why: `${doubtInWords(doubt)}. They stay as they were until you say so.`,
    step: 'Look at the list',
    href: '/source/lists',
  };
}
