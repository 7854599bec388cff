import { costIn, inBooks, rateFor } from '../../core/ledger';
import { isCurrency } from '../../core/money';
import { isDay } from '../../core/units';
import { applyChange, type CostRow, type RowChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { shopNow } from '../memory/assortment';
import type { Said } from '../orders/actions';

const no = (reason: string): Said => ({ ok: false, reason });

/** Costs of the shop, and what of them falls on some days. */
export interface CostsFound {
  readonly rows: readonly (CostRow & {
    /** In the books, of these days; null without a rate. */
    readonly inRange: number | null;
  })[];
  readonly sum: number;
  /** Costs of these days that have no rate into the books. */
  readonly unrated: number;
}

/** All costs of the shop, and what of them falls on some days, both ends included. */
export async function costsOf(work: Work, from: string, to: string): Promise<CostsFound> {
  const { settings } = await shopNow(work);
  const all = await work.db.costs.toArray();
  const rows = all
    .sort((a, b) => (a.day === b.day ? (a.name < b.name ? -1 : 1) : a.day < b.day ? 1 : -1))
    .map((c) => ({ ...c, inRange: inBooks({ ...c, amount: costIn(c, from, to) }, settings.currency) }));
  return {
    rows,
    sum: rows.reduce((n, r) => n + (r.inRange ?? 0), 0),
    unrated: rows.filter((r) => r.inRange === null && costIn(r, from, to) !== 0).length,
  };
}

/** A cost as a person types it. */
export type TypedCost = Omit<CostRow, 'id' | 'rate' | 'stated'>;

/** Keeps a cost, new or changed, as one change. @param id of the one that is changed; null for a new one */
export async function keepCost(work: Work, id: string | null, typed: TypedCost): Promise<Said> {
  const name = typed.name.trim().slice(0, 120);
  if (!name) return no('Say what it is for.');
  if (!isDay(typed.day)) return no('Say from which day on.');
  if (!Number.isSafeInteger(typed.minor) || typed.minor === 0) return no('A cost has an amount.');
  if (!isCurrency(typed.currency)) return no('Choose its currency.');
  if (typed.until !== null && (!isDay(typed.until) || typed.until < typed.day))
    return no('Its last day comes before its first.');
  const { db } = work;
  const { rates } = await shopNow(work);
  const until = typed.monthly ? typed.until : null;
  const set = {
    ...{ name, day: typed.day, minor: typed.minor, currency: typed.currency, monthly: typed.monthly, until },
    rate: rateFor(rates, typed.currency),
  };
  const add: CostRow = { id: work.newId(), ...set, stated: null };
  const row: RowChange = id === null ? { table: 'costs', add } : { table: 'costs', id, set };
  await db.transaction('rw', db.shopTables, () =>
    applyChange(db, { by: 'person', name: `Cost “${name}”`, undoable: true }, [row], nowOf(work)),
  );
  return { ok: true };
}

/** Takes a cost away; what it stood on in a statement is asked about again. */
export async function removeCost(work: Work, id: string): Promise<Said> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<Said> => {
    const cost = await db.costs.get(id);
    if (!cost) return no('This cost is not there any more.');
    const { stated } = cost;
    const statement = stated && (await db.statements.get(stated.statement));
    const loose = statement?.loose.map((l) => (l.line === stated!.line ? { ...l, done: null } : l));
    await applyChange(
      db,
      { by: 'person', name: `Remove the cost “${cost.name}”`, undoable: true },
      [
        { table: 'costs', remove: id },
        ...(statement && loose
          ? [{ table: 'statements', id: statement.id, set: { loose } } satisfies RowChange]
          : []),
      ],
      nowOf(work),
    );
    return { ok: true };
  });
}
