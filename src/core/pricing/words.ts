import { type Currency, formatMinor, formatRate } from '../money';
import type { Fee } from './fee';
import type { Ending, PricePlan, Target } from './plan';
import type { PriceAnswer, PriceStep } from './solve';

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
