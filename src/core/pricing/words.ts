import { type Currency, formatMinor, formatRate } from '../money';
import type { Fee } from './fee';
import { type FeeRule, feeIn } from './fees';
import type { Ending, PricePlan, Target } from './plan';
import type { PriceAnswer, PriceStep } from './solve';
import type { Tax } from './tax';

export function targetInWords(target: Target, currency: Currency): string {
  switch (target.kind) {
    case 'margin':
      return `margin ${formatRate(target.rate)} of the selling price`;
    case 'markup':
      return `markup ${formatRate(target.rate, true)} on landed cost`;
    case 'profit':
      return `profit of ${formatMinor(target.minor, currency)} a sale`;
  }
}

/** `.99 up`, `whole, nearest`. */
export function endingInWords(ending: Ending | null): string {
  if (!ending) return 'no ending';
  const last =
    ending.minor === 0 ? 'whole' : `.${String(ending.minor).padStart(String(ending.per - 1).length, '0')}`;
  return `${last} ${ending.direction}`;
}

export function planInWords(plan: PricePlan, currency: Currency): string {
  return `${targetInWords(plan.target, currency)}${plan.flat ? ` plus ${formatMinor(plan.flat, currency)}` : ''}, ${endingInWords(plan.ending)}`;
}

export function stepInWords(step: PriceStep, plan: PricePlan, currency: Currency): string {
  const to = formatMinor(step.price, currency);
  if (step.rule === 'target') {
    const flat = plan.flat ? ` and ${formatMinor(plan.flat, currency)} more` : '';
    return `The smallest price with ${targetInWords(plan.target, currency)}${flat}: ${to}`;
  }
  const from = formatMinor(step.from, currency);
  switch (step.rule) {
    case 'map':
      return `Never under MAP: ${from} → ${to}`;
    case 'msrp':
      return `Never over MSRP: ${from} → ${to}`;
    case 'smallest-profit':
      return `Profit at least ${formatMinor(plan.smallestProfit, currency)}: ${from} → ${to}`;
    case 'ending':
      return `Ending ${endingInWords(plan.ending)}: ${from} → ${to}`;
  }
}

/** Why there is no price, or null where there is one. */
export function refusalInWords(answer: PriceAnswer, currency: Currency): string | null {
  if (answer.ok) return null;
  if (answer.why === 'unreachable')
    return 'No price reaches this target: fees, tax and margin together take the whole of it. Lower the target.';
  const floor = answer.floorBy === 'map' ? 'MAP' : 'the smallest profit';
  return `Guards contradict: ${floor} asks for at least ${formatMinor(answer.floor, currency)}, MSRP allows at most ${formatMinor(answer.ceiling, currency)}.`;
}

/** `12 % to 50.00, 9 % above, at least 0.40, + 0.20, on the price with tax`. */
export function feeInWords(fee: Fee, currency: Currency): string {
  const money = (minor: number) => formatMinor(minor, currency);
  const bands = fee.bands.map((b, i) =>
    b.upTo === null
      ? `${formatRate(b.rate)}${i ? ' above' : ''}`
      : `${formatRate(b.rate)} to ${money(b.upTo)}`,
  );
  const parts = [
    ...bands,
    fee.least > 0 ? `at least ${money(fee.least)}` : '',
    fee.most < Number.MAX_SAFE_INTEGER ? `at most ${money(fee.most)}` : '',
  ].filter(Boolean);
  const fixed = fee.fixed ? (parts.length ? ` + ${money(fee.fixed)}` : money(fee.fixed)) : '';
  const base = fee.plusTax ? ' of the price with tax' : fee.lessTax ? ' of the price without tax' : '';
  return parts.join(', ') + (parts.length ? base : '') + fixed;
}

/** A rule of a marketplace with its name: `Sale fee: 12 % in Optics, 9 % elsewhere`. */
export function ruleInWords(
  rule: FeeRule,
  tax: Tax,
  currency: Currency,
  categoryName: (id: string) => string,
): string {
  const categories = Object.keys(rule.bands);
  const one = (category: string) => feeInWords(feeIn(rule, tax, category)!, currency);
  if (categories.length < 2) return `${rule.name}: ${one(categories[0] ?? '*')}`;
  const by = new Map<string, string[]>();
  for (const c of categories.filter((c) => c !== '*'))
    by.set(one(c), [...(by.get(one(c)) ?? []), categoryName(c)]);
  const said = [...by].map(([fee, names]) => `${fee} in ${names.join(', ')}`);
  return `${rule.name}: ${[...said, ...(categories.includes('*') ? [`${one('*')} elsewhere`] : [])].join('; ')}`;
}

/** `20 % VAT inside the price`, `7 % sales tax added at checkout`, `no tax`. */
export function taxInWords({ model, rate }: Tax): string {
  if (model === 'none') return 'no tax on sales';
  return model === 'inside'
    ? `${formatRate(rate)} VAT inside the price`
    : `about ${formatRate(rate)} sales tax added at checkout`;
}
