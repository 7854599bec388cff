import type { PlanRow } from '../../store';

/** What was added to the name of a plan that begins later. */
const BEGINS = /, from \d{4}-\d\d-\d\d$/;

/** What stands in a plan besides its place and its name. */
const rulesOf = ({ order: _, name: __, ...plan }: PlanRow) => JSON.stringify(plan);

const holdsBefore = ({ from }: PlanRow, at: string) => from === null || from < at;
const later = (from: string | null, at: string) => (from === null || from < at ? at : from);
const sooner = (to: string | null, at: string) => (to === null || to > at ? at : to);

/**
 * Plans by which changed ones begin at a time: until then those that were saved hold, each behind the one that follows it.
 * Drafts stay drafts.
 * @param at local time of each marketplace, such as `2026-12-01T08:00`
 */
export function beginPlansAt(
  saved: readonly PlanRow[],
  changed: readonly PlanRow[],
  at: string,
  newId: () => string,
): readonly PlanRow[] {
  const known = new Map(saved.map((p) => [p.id, p]));
  const plans = changed.flatMap((plan) => {
    const before = known.get(plan.id);
    if (before && rulesOf(before) === rulesOf(plan)) return [plan];
    const begins = plan.on ? [{ ...plan, from: later(plan.from, at) }] : [];
    // One that would not have begun by then is simply another.
    if (!before?.on || !holdsBefore(before, at)) return plan.on ? begins : [plan];
    const ends = { ...before, to: sooner(before.to, at) };
    const [day] = at.split('T');
    const name = plan.name === before.name ? `${plan.name.replace(BEGINS, '')}, from ${day}` : plan.name;
    return [...begins.map((p) => ({ ...p, id: newId(), name })), ends];
  });
  // What was removed ends then, where it stood.
  for (const [place, before] of saved.entries()) {
    if (!before.on || !holdsBefore(before, at) || changed.some((p) => p.id === before.id)) continue;
    const above = plans.findIndex((p) => p.id === saved[place - 1]?.id);
    plans.splice(above + 1, 0, { ...before, to: sooner(before.to, at) });
  }
  return plans;
}

/** Why a draft cannot begin at a time, or null: only plans have a beginning. */
export function laterProblem(
  saved: readonly PlanRow[],
  changed: readonly PlanRow[],
  sameStock: boolean,
): string | null {
  const order = (plans: readonly PlanRow[], among: readonly PlanRow[]) =>
    plans.flatMap((p) => (among.some((other) => other.id === p.id) ? [p.id] : [])).join();
  if (order(saved, changed) !== order(changed, saved))
    return 'The order of plans holds at once: save it by itself first.';
  return sameStock ? null : 'The shop’s stock rule holds at once: save it by itself, or put it into a plan.';
}
