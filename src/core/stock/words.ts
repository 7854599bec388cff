import { formatRate } from '../money';
import { countOf } from '../units';
import type { StockRule, StockStep } from './quantity';

/** How a quantity came to be, one sentence for each thing that changed it. */
export function stockInWords(steps: readonly StockStep[], rule: StockRule): string[] {
  return steps.map((step, i) => wordsOf(step, steps[i - 1]?.units ?? step.units, rule));
}

function wordsOf({ rule: name, units }: StockStep, before: number, rule: StockRule): string {
  const arrow = `${before} → ${units}`;
  switch (name) {
    case 'supplier':
      return `The supplier has ${units}`;
    case 'kept off':
      return `Not sold on this marketplace: ${arrow}`;
    case 'cost waits':
      return `Its cost leapt and waits for you: ${arrow}`;
    case 'old':
      return `Read more than ${countOf(rule.aging?.hours ?? 0, 'hour')} ago, counts ${formatRate(rule.aging?.share ?? 0)}: ${arrow}`;
    case 'out':
      return `${rule.outAt} or fewer are none: ${arrow}`;
    case 'share':
      return `${formatRate(rule.show.is === 'share' ? rule.show.share : 0)} of it: ${arrow}`;
    case 'safety':
      return `${rule.safety} for safety: ${arrow}`;
    case 'kept back':
      return `${before - units} kept back: ${arrow}`;
    case 'promised':
      return `${before - units} promised to buyers: ${arrow}`;
    case 'pack':
      return `Whole packs: ${arrow}`;
    case 'number':
      return `${rule.show.is === 'number' ? rule.show.units : 0} are shown: ${arrow}`;
    case 'at most':
      return `At most ${rule.atMost}: ${arrow}`;
    case 'at least':
      return `Fewer than ${rule.atLeast} are shown as none: ${arrow}`;
    case 'top-up':
      return `Sold down to ${rule.topUp?.downTo ?? 0} before it is filled up: ${arrow}`;
  }
}
