'use client';
import { useMemo, useState } from 'react';
import type { PlanRow } from '../../work/model';
import { rulesProblems } from '../../work/shop/plan-problems';
import type { ShopTerms } from '../../work/shop/quote';
import type { RulesDraft } from '../../work/shop/what-if';

type NewPlan = Omit<PlanRow, 'id' | 'order' | 'name'>;

/** Stands for the shop's stock rule among the plans. */
export const STOCK = 'stock';

/** All plans and the shop's stock rule as they are edited: nothing holds before it is saved. */
export function useDraft({ plans, settings: { stock } }: Pick<ShopTerms, 'plans' | 'settings'>) {
  const saved = useMemo((): RulesDraft => ({ plans, stock }), [plans, stock]);
  const [draft, setDraft] = useState(saved);
  const [chosen, setChosen] = useState(plans[0]!.id);
  const plan = draft.plans.find((p) => p.id === chosen) ?? draft.plans[0]!;
  const setPlans = (to: readonly PlanRow[]) => setDraft((before) => ({ ...before, plans: to }));
  return {
    saved,
    draft,
    changed: JSON.stringify(draft) !== JSON.stringify(saved),
    problems: rulesProblems(draft.plans, draft.stock),
    /** The plan that is edited, or was before the stock rule. */
    plan,
    chosen: chosen === STOCK ? STOCK : plan.id,
    choose: setChosen,
    setPlans,
    setStock: (to: RulesDraft['stock']) => setDraft((before) => ({ ...before, stock: to })),
    /** Changes the plan that is edited. */
    change: (part: Partial<PlanRow>) =>
      setDraft((before) => ({
        ...before,
        plans: before.plans.map((p) => (p.id === plan.id ? { ...p, ...part } : p)),
      })),
    remove: () => setPlans(draft.plans.filter((p) => p.id !== plan.id)),
    add: (from: NewPlan, name: string) => {
      const made: PlanRow = { ...from, id: crypto.randomUUID(), order: 0, name };
      setPlans([made, ...draft.plans]);
      setChosen(made.id);
    },
    discard: () => setDraft(saved),
  };
}

export type Draft = ReturnType<typeof useDraft>;
