'use client';
import { useEffect, useMemo, useState } from 'react';
import type { PlanRow } from '../../work/model';
import type { RulesDraft } from '../../work/pricing/draft';
import { rulesProblems } from '../../work/pricing/plan-problems';
import type { ShopTerms } from '../../work/quoting/worth';

type NewPlan = Omit<PlanRow, 'id' | 'order' | 'name'>;

/** Stands for the shop's stock rule among the plans. */
export const STOCK = 'stock';

/** Where a draft is kept for this tab: it outlives leaving the view, and a reload. */
const KEPT = 'pricing-draft';

interface Kept {
  /** What was saved when the draft was begun. */
  readonly base: RulesDraft;
  readonly draft: RulesDraft;
  /** The plans before the draft was saved; a newer state than this one replaces the draft. */
  readonly until?: RulesDraft;
}

/** Whether two drafts say the same; which comes first is told by the list, whatever number was kept of it. */
const same = (a: RulesDraft, b: RulesDraft) => inText(a) === inText(b);
const inText = ({ plans, stock }: RulesDraft) =>
  JSON.stringify([plans.map(({ order: _, ...plan }) => plan), stock]);

function keptDraft(): Kept | null {
  try {
    const kept = JSON.parse(sessionStorage.getItem(KEPT) ?? 'null') as Kept | null;
    return kept?.draft?.plans?.length && kept.base?.plans ? kept : null;
  } catch {
    return null;
  }
}

/** All plans and the shop's stock rule as they are edited: nothing holds before it is saved. */
export function useDraft({ plans, settings: { stock } }: Pick<ShopTerms, 'plans' | 'settings'>) {
  const saved = useMemo((): RulesDraft => ({ plans, stock }), [plans, stock]);
  const [{ base, draft, until }, setState] = useState(
    (): Kept => keptDraft() ?? { base: saved, draft: saved },
  );
  const [chosen, setChosen] = useState(plans[0]!.id);
  const changed = !same(draft, saved);
  // What was saved meanwhile is taken where nothing was typed over it.
  if (saved !== until && !same(base, saved) && (same(draft, base) || !changed))
    setState({ base: saved, draft: saved });
  useEffect(() => {
    if (same(base, draft)) sessionStorage.removeItem(KEPT);
    else sessionStorage.setItem(KEPT, JSON.stringify({ base, draft } satisfies Kept));
  }, [base, draft]);
  const setDraft = (to: (before: RulesDraft) => RulesDraft) =>
    setState((before) => ({ ...before, draft: to(before.draft) }));
  const plan = draft.plans.find((p) => p.id === chosen) ?? draft.plans[0]!;
  const setPlans = (to: readonly PlanRow[]) => setDraft((before) => ({ ...before, plans: to }));
  return {
    saved,
    draft,
    changed,
    /** Plans were changed elsewhere while these were typed. */
    overtaken: changed && !same(base, saved),
    /** Keeps what was typed, over what was saved elsewhere. */
    keepMine: () => setState({ base: saved, draft }),
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
    /** Puts a plan of its own for each of some marketplaces in place of the one that is edited: the same until it is changed. */
    split: (markets: readonly { readonly id: string; readonly name: string }[]) => {
      const own = markets.map((m) => ({
        ...plan,
        id: crypto.randomUUID(),
        name: `${plan.name}, ${m.name}`.slice(0, 80),
        marketplaces: [m.id],
      }));
      // What it covered elsewhere, later marketplaces too, it covers on.
      setPlans(draft.plans.flatMap((p) => (p.id === plan.id ? [...own, plan] : [p])));
      setChosen(own[0]?.id ?? plan.id);
    },
    /** A draft was saved: what the shop holds from now on is taken, as it was written; what was typed meanwhile stays. */
    settle: (draft: RulesDraft) => setState((before) => ({ ...before, base: draft, until: saved })),
    discard: () => setState({ base: saved, draft: saved }),
  };
}

export type Draft = ReturnType<typeof useDraft>;
