import { type Currency, digitsOf, formatMinor, formatRate, type Ppm, WHOLE } from '../money';
import { endingText } from './ending';
import type { Fee } from './fee';
import { type FeeRule, feeIn } from './fees';
import type { Ending, PriceBand, PricePlan, Target } from './plan';
import type { PriceStep } from './solve';
import type { Tax } from './tax';

/** An amount more or less behind a factor: ` less 0.05`, `` for nothing. */
const offset = (minor: number, currency: Currency) =>
  minor ? ` ${minor < 0 ? 'less' : 'plus'} ${formatMinor(Math.abs(minor), currency)}` : '';

const factor = (rate: number) => (rate === WHOLE ? '' : `${formatRate(rate)} of `);

/** @param nameOf what a marketplace is called */
export function targetInWords(
  target: Target,
  currency: Currency,
  nameOf: (marketplace: string) => string = (id) => id,
): string {
  switch (target.kind) {
    case 'margin':
      return `margin ${formatRate(target.rate)} of the selling price`;
    case 'markup':
      return `markup ${formatRate(target.rate, true)} on landed cost`;
    case 'profit':
      return `profit of ${formatMinor(target.minor, currency)} a sale`;
    case 'market':
      return `${factor(target.rate)}the market price${offset(target.minor, currency)}`;
    case 'site':
      return `${factor(target.rate)}the price on ${nameOf(target.marketplace)}${offset(target.minor, currency)}`;
    case 'fixed':
      return `a price of ${formatMinor(target.minor, currency)}`;
    case 'formula':
      return `the formula ${target.text}`;
  }
}

/** `.99 up`, `whole, nearest`. */
export const endingInWords = (ending: Ending | null, currency: Currency): string =>
  ending ? `${endingText(ending, digitsOf(currency))} ${ending.direction}` : 'no ending';

type NameOf = (marketplace: string) => string;

const bandInWords = ({ target, flat }: PriceBand, currency: Currency, nameOf?: NameOf) =>
  `${targetInWords(target, currency, nameOf)}${flat ? ` plus ${formatMinor(flat, currency)}` : ''}`;

/** @param nameOf what a marketplace is called */
export function planInWords(plan: PricePlan, currency: Currency, nameOf?: NameOf): string {
  const bands = plan.bands.map((band) =>
    plan.bands.length === 1
      ? bandInWords(band, currency, nameOf)
      : band.upTo === null
        ? `above ${bandInWords(band, currency, nameOf)}`
        : `up to ${formatMinor(band.upTo, currency)} ${bandInWords(band, currency, nameOf)}`,
  );
  const endings = plan.endings.map((e) => endingInWords(e.ending, currency));
  return `${bands.join('; ')}, ${endings.join(' or ')}${plan.room ? `, room for a sale of ${formatRate(plan.room)}` : ''}`;
}

/** @param nameOf what a marketplace is called */
export function stepInWords(step: PriceStep, currency: Currency, nameOf?: NameOf): string {
  const to = formatMinor(step.price, currency);
  if (step.rule === 'target') {
    const { target, flat } = step.band;
    const room = step.room ? `, also after a discount of ${formatRate(step.room)}` : '';
    const solved = target.kind === 'margin' || target.kind === 'markup' || target.kind === 'profit';
    const more = flat ? ` and ${formatMinor(flat, currency)} more` : '';
    if (!solved) return `By ${targetInWords(target, currency, nameOf)}${more}: ${to}`;
    return `The smallest price with ${targetInWords(target, currency, nameOf)}${more}${room}: ${to}`;
  }
  const from = formatMinor(step.from, currency);
  switch (step.rule) {
    case 'demand':
      return `${Math.abs(step.steps)} ${Math.abs(step.steps) === 1 ? 'step' : 'steps'} ${step.steps > 0 ? 'up, as it sells' : 'down, as it does not sell'}: ${from} → ${to}`;
    case 'map':
      return `Never under MAP: ${from} → ${to}`;
    case 'msrp':
      return `Never over ${step.most === WHOLE ? '' : `${formatRate(step.most)} of `}MSRP: ${from} → ${to}`;
    case 'smallest-profit':
      return `Profit at least ${leastInWords(step.least, step.leastMargin, currency)}: ${from} → ${to}`;
    case 'floor':
      return `Never under ${to}: ${from} → ${to}`;
    case 'ceiling':
      return `Never over ${to}: ${from} → ${to}`;
    case 'ending':
      return `Ending ${endingInWords(step.ending, currency)}: ${from} → ${to}`;
  }
}

const leastInWords = (least: number, leastMargin: Ppm, currency: Currency) =>
  formatMinor(least, currency) + (leastMargin ? ` and ${formatRate(leastMargin)} of the price` : '');

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
