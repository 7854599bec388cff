import { parseFormula, planProblems, type Span, STARTING_PLAN, spanProblem } from '../../core/pricing';
import { isEverything, problemInWords, problemsOf } from '../../core/query';
import { type StockRule, stockProblems } from '../../core/stock';
import { EVERYWHERE, type PlanRow } from '../../store';
import { GOODS } from '../quoting/goods';

/** A plan to begin with: a draft for everything. */
export const NEW_PLAN: Omit<PlanRow, 'id' | 'order' | 'name'> = {
  ...STARTING_PLAN,
  ...EVERYWHERE,
  on: false,
};

/** Whether some span holds at every time: one without ends, or several that follow each other. */
function covered(spans: readonly Span[]): boolean {
  let until: string | null = '';
  for (const { from, to } of [...spans].sort((a, b) => ((a.from ?? '') < (b.from ?? '') ? -1 : 1))) {
    if (until === null || (from ?? '') > until) break;
    if (to === null || to > until) until = to;
  }
  return until === null;
}

/** What is wrong with plans or the shop's stock rule. */
export interface RulesProblem {
  /** The plan's id; '' for the shop's rule. */
  readonly plan: string;
  readonly says: string;
  /** Whether it keeps them from being saved; else it is only told. */
  readonly grave: boolean;
}

/** What is wrong with plans and the shop's stock rule, one sentence each. */
export function rulesProblems(plans: readonly PlanRow[], stock: StockRule): RulesProblem[] {
  const problems: RulesProblem[] = stockProblems(stock).map((says) => ({ plan: '', says, grave: true }));
  for (const plan of plans) {
    const say = (says: string) =>
      problems.push({ plan: plan.id, says: `“${plan.name}”: ${says}`, grave: true });
    if (!plan.name.trim()) say('Give the plan a name.');
    for (const problem of problemsOf(plan.filter, GOODS)) say(`Goods: ${problemInWords(problem)}`);
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
  if (!covered(plans.filter((p) => p.on && isEverything(p.filter) && p.marketplaces === null)))
    problems.push({
      plan: '',
      says: 'No plan that is on covers everything: what none covers has no price.',
      grave: false,
    });
  return problems;
}
