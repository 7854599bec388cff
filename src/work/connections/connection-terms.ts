import type { SupplierAccount } from '../../connect/supplier';
import type { Site } from '../../core/checks';
import { WHOLE } from '../../core/money';
import type { Buyers, CostRules, FeeRule } from '../../core/pricing';
import { type Condition, problemInWords } from '../../core/query';
import {
  accountPart,
  connectionById,
  type FeesOf,
  type LeapRule,
  type MarketConnection,
  type MarketRow,
  marketById,
  noteEarlier,
  stateSite,
} from '../../store';
import type { Work } from '../context/work';
import { saveMarketRules, saveRules } from '../listings/rules';
import { readTerms } from '../memory/read-shop';
import { noteHealth } from '../outbox/circuit';
import { goodsProblems } from '../quoting/goods';

/**
 * Says what buying from a supplier costs besides its prices, and when a cost that moved waits for a person, as one change
 * that prices follow.
 * @returns how many listings are told a new price or quantity
 */
export async function saveSupplierCosts(
  work: Work,
  id: string,
  costs: CostRules,
  leap?: LeapRule,
): Promise<number> {
  const c = await connectionById(work.db, id);
  if (c?.role !== 'supplier') return 0;
  return saveRules(
    work,
    [{ table: 'connections', id, set: { costs, ...(leap && { leap }) } }],
    `Costs of ${c.name}`,
  );
}

/** Says where the buyers of a marketplace are; nobody for the first country that it ships to. As {@link saveSupplierCosts}. */
export async function saveBuyers(work: Work, id: string, buyers: Buyers): Promise<number> {
  const c = await connectionById(work.db, id);
  if (c?.role !== 'marketplace') return 0;
  const set = { buyers: buyers.length ? buyers : null };
  return saveRules(work, [{ table: 'connections', id, set }], `Where the buyers of ${c.name} are`);
}

/** Says which goods are not sold on a marketplace, as one change: what is on sale there shows none. */
export async function saveKeptOff(work: Work, id: string, goods: readonly Condition[]): Promise<number> {
  const c = await connectionById(work.db, id);
  if (c?.role !== 'marketplace') return 0;
  const shop = await readTerms(work.db, work.clock());
  for (const one of goods)
    for (const problem of goodsProblems(one, shop)) throw new RangeError(problemInWords(problem));
  const keptOff = goods.length ? goods : null;
  return saveRules(work, [{ table: 'connections', id, set: { keptOff } }], `What is not sold on ${c.name}`);
}

/** Where the buyers of the orders on record are, those with most first; at most so many countries. */
export async function buyersOfOrders({ db }: Pick<Work, 'db'>, market: string, most = 8): Promise<Buyers> {
  const counts = new Map<string, number>();
  await db.orders
    .filter((o) => o.marketplace === market)
    .each(({ country }) => counts.set(country, (counts.get(country) ?? 0) + 1));
  const first = [...counts].sort((a, b) => b[1] - a[1]).slice(0, most);
  const total = first.reduce((sum, [, n]) => sum + n, 0);
  return first.map(([country, n]) => ({ country, share: Math.max(1, Math.round((n * WHOLE) / total)) }));
}

/**
 * Puts fees of one's own in place of those that a marketplace says, or goes back to those for null; as one change that prices
 * follow. What the marketplace says is kept meanwhile. @returns how many listings are told a new price or quantity
 */
export async function saveFees(work: Work, id: string, rules: readonly FeeRule[] | null): Promise<number> {
  const c = await marketById(work.db, id);
  if (!c) return 0;
  const set: Partial<MarketRow> = c.service
    ? { fees: rules ? ownFees(c, rules) : { of: 'marketplace', version: c.newest } }
    : { site: { ...c.site, fees: { ...c.site.fees, ...(rules && { rules }) } } };
  return (await saveMarketRules(work, id, set, [], `Fees of ${c.name}`)).prices;
}

const ownFees = ({ site }: MarketConnection, rules: readonly FeeRule[]): FeesOf => ({
  of: 'seller',
  table: { ...site.fees, rules },
});

/**
 * Takes in what a marketplace says now that it asks and takes. How much it may be asked at once holds as it is said; what
 * else changed waits until the seller has looked at it.
 * @returns whether something waits to be looked at
 */
export async function noteSite(
  { db, clock }: Pick<Work, 'db' | 'clock'>,
  id: string,
  said: Site,
): Promise<boolean> {
  return db.transaction('rw', [db.connections, db.stated], async () => {
    const c = await marketById(db, id);
    if (!c) return false;
    const agreed = [c.agreed, c.fees?.of === 'marketplace' ? c.fees.version : undefined];
    await db.stated.put(stateSite(await db.stated.get(id), id, said, clock(), agreed));
    return (await marketById(db, id))!.siteNow !== null;
  });
}

/** Takes in what a supplier says of itself now; what its shipping cost before is kept for looking back. */
export async function noteAccount(
  work: Pick<Work, 'db' | 'clock'>,
  id: string,
  said: SupplierAccount,
): Promise<void> {
  const { db } = work;
  const { balance, shipping } = said;
  const at = work.clock();
  await db.transaction('rw', [db.connections, db.stated, db.health, db.earlier], async () => {
    const known = await db.stated.get(id);
    if (known)
      await noteEarlier(db, 'stated', [{ id, set: { shipping } }], new Map([[id, { ...known }]]), at);
    await db.stated.put({ id, role: 'supplier', at, ...accountPart(said) });
    await noteHealth(work, id, { balance });
  });
}
