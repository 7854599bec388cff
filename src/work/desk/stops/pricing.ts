import type { Condition } from '../../../core/query';
import type { PlanRow } from '../../../store';
import { work } from '../../browser/browser';
import { saveRules } from '../../listings/rules';
import type { RulesDraft, TermsDraft } from '../../pricing/draft';
import { correctDrift, driftsIn } from '../../pricing/drifts';
import { caughtBy, goodsCaught } from '../../pricing/goods-caught';
import { savePlans } from '../../pricing/plans';
import { Rehearsal } from '../../pricing/rehearsal';
import type { RehearsalQuestion } from '../../pricing/rehearsed';
import { glimpse, whatIf, whatIfTerms } from '../../pricing/what-if';
import { bound } from '../bound';
import { assortment, book, built, builtBook, rest } from '../memory';

let rehearsal: Rehearsal | null = null;
let rehearsing = 0;

/** Questions and acts of Pricing: plans, looks ahead, rehearsals. */
export const pricingDesk = {
  whatIf: (...args: Parameters<typeof whatIf> extends [unknown, ...infer Rest] ? Rest : never) =>
    whatIf(work, ...args),
  glimpse: (draft: RulesDraft) => glimpse(work, draft),
  /** The listings that each plan covers. */
  caughtBy: async (plans: readonly PlanRow[]) => {
    await built();
    return caughtBy(assortment, plans);
  },
  /** The listings whose goods match a condition. */
  goodsCaught: async (filter: Condition, marketplaces: readonly string[] | null) => {
    await built();
    return goodsCaught(assortment, filter, marketplaces);
  },
  /** Tries plans on recorded days; null where it was stopped, or another one was asked for meanwhile. */
  rehearse: async (question: RehearsalQuestion, tell: (done: number, total: number) => void) => {
    await built();
    const own = ++rehearsing;
    const made = await Rehearsal.run(work, question, async (done, total) => {
      tell(done, total);
      await rest();
      return own !== rehearsing;
    });
    if (made) rehearsal = made;
    return made?.answer ?? null;
  },
  stopRehearsal: () => {
    rehearsing++;
  },
  /** The sales of a day as they were rehearsed last. */
  rehearsedDay: (day: string) => rehearsal?.day(day) ?? [],
  /** Estimates beside what came of them. */
  drifts: async () => {
    await builtBook();
    return driftsIn(book);
  },
  correctDrift: async (key: string, says: string) => {
    await builtBook();
    return correctDrift(book, work, key, says);
  },
  whatIfTerms: (draft: TermsDraft) => whatIfTerms(work, draft),
  savePlans: bound(savePlans),
  saveRules: bound(saveRules),
};
