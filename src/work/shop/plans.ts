import { parseFormula, planProblems, spanProblem } from '../../core/pricing';
import { type StockRule, stockProblems } from '../../core/stock';
import { type PlanRow, type RowChange, settingsOf } from '../../store';
import { caughtUp } from '../assortment/assortment';
import type { Work } from '../context';
import { jobId, SHOP } from '../jobs/job';
import { bringForward } from '../jobs/schedule';
import { saveRules } from '../listings/bench';
import { nextChange } from './plan-choice';

/** What is wrong with plans and the shop's stock rule, one sentence each, by the plan's id ('' for the shop's rule). */
export function rulesProblems(
  plans: readonly PlanRow[],
  stock: StockRule,
): { readonly plan: string; readonly says: string }[] {
  const problems = stockProblems(stock).map((says) => ({ plan: '', says }));
  for (const plan of plans) {
    const say = (says: string) => problems.push({ plan: plan.id, says: `“${plan.name}”: ${says}` });
    if (!plan.name.trim()) say('Give the plan a name.');
    for (const says of planProblems(plan)) say(says);
    for (const span of [plan, plan.sale]) {
      const wrong = span && spanProblem(span);
      if (wrong) say(span === plan ? wrong : `The sale: ${wrong}`);
    }
    if (plan.sale && !(plan.sale.from && plan.sale.to)) say('A sale begins and ends.');
    for (const { target } of plan.bands) {
      if (target.kind !== 'formula') continue;
      const read = parseFormula(target.text);
      if (!read.ok) say(`The formula is wrong at ${read.problem.at + 1}: ${read.problem.reason}`);
    }
    if (plan.stock) for (const says of stockProblems(plan.stock)) say(says);
  }
  if (!plans.some((p) => p.on && !p.filter && p.marketplaces === null && p.from === null && p.to === null))
    problems.push({
      plan: '',
      says: 'No plan that is on covers everything: what none covers has no price.',
    });
  return problems;
}

/** Problems that keep plans from being saved: all but what is only told. */
const isGrave = ({ says }: { readonly says: string }) => !says.startsWith('No plan that is on');

export type SavedPlans =
  | { readonly ok: true; readonly told: number }
  | { readonly ok: false; readonly reason: string };

/** Keeps all plans in their order, and the shop's stock rule, as one change; prices and quantities follow. */
export async function savePlans(
  work: Work,
  plans: readonly PlanRow[],
  stock: StockRule,
): Promise<SavedPlans> {
  const wrong = rulesProblems(plans, stock).find(isGrave);
  if (wrong) return { ok: false, reason: wrong.says };
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
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
