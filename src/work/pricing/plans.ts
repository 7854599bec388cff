import { problemInWords } from '../../core/query';
import type { StockRule } from '../../core/stock';
import { type PlanRow, type RowChange, settingsOf } from '../../store';
import type { Work } from '../context/work';
import { saveRules } from '../listings/rules';
import { caughtUp } from '../memory/assortment';
import { goodsProblems } from '../quoting/goods';
import { nextChange } from '../quoting/plan-choice';
import { jobId, SHOP } from '../schedule/job';
import { bringForward } from '../schedule/schedule';
import { rulesProblems } from './plan-problems';

export type SavedPlans =
  | { readonly ok: true; readonly told: number }
  | { readonly ok: false; readonly reason: string };

/** Keeps all plans in their order, and the shop's stock rule, as one change; prices and quantities follow. */
export async function savePlans(
  work: Work,
  plans: readonly PlanRow[],
  stock: StockRule,
): Promise<SavedPlans> {
  const wrong = rulesProblems(plans, stock).find((p) => p.grave);
  if (wrong) return { ok: false, reason: wrong.says };
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const { shop } = await caughtUp(work);
    for (const { name, filter } of plans)
      for (const problem of goodsProblems(filter, shop))
        return { ok: false, reason: `“${name}”: Goods: ${problemInWords(problem)}` };
    const before = new Map((await db.plans.toArray()).map((p) => [p.id, p]));
    const rows: RowChange[] = [];
    const named = new Set<string>();
    for (const [order, one] of plans.entries()) {
      const plan = { ...one, order, name: one.name.trim().slice(0, 80) };
      const known = before.get(plan.id);
      before.delete(plan.id);
      if (!known) rows.push({ table: 'plans', add: plan, says: 'Plan made.' });
      else if (JSON.stringify(known) !== JSON.stringify(plan)) {
        const { id: _, ...set } = plan;
        rows.push({ table: 'plans', id: plan.id, set });
        // One that only made room for another is not named.
        if (JSON.stringify({ ...known, order }) === JSON.stringify(plan)) continue;
      } else continue;
      named.add(plan.name);
    }
    for (const [id, { name }] of before) {
      rows.push({ table: 'plans', remove: id, says: 'Plan removed.' });
      named.add(name);
    }
    if (JSON.stringify((await settingsOf(db)).stock) !== JSON.stringify(stock))
      rows.push({ table: 'settings', id: 'shop', set: { stock } });
    if (!rows.length) return { ok: true, told: 0 };
    const [one] = named;
    const name =
      named.size === 0
        ? rows.some((r) => r.table === 'plans')
          ? 'Plans put in order'
          : 'Stock rule changed'
        : named.size === 1
          ? `Plan “${one}” changed`
          : 'Plans changed';
    const told = await saveRules(work, rows, name);
    const next = nextChange((await caughtUp(work)).shop);
    if (next !== null) await bringForward(work, jobId(SHOP, 'prices'), next);
    return { ok: true, told };
  });
}
