import { formatMoney } from '../money';
import type { AddressProblem, Check } from './check';

/** What an address lacks, as it is said to the seller. */
export function addressProblemInWords(p: AddressProblem): string {
  switch (p.why) {
    case 'name':
      return 'The name is missing.';
    case 'street':
      return 'The street is missing.';
    case 'town':
      return 'The town is missing.';
    case 'no postcode':
      return 'The postcode is missing.';
    case 'country code':
      return `“${p.value}” is not a country code.`;
    case 'garbled':
      return `“${p.value}” lost letters when it was read: type it as the buyer wrote it.`;
    case 'postcode':
      return `“${p.value}” is not a postcode of this country.`;
    case 'destination':
      return `${p.supplier} does not ship to ${p.value}.`;
  }
}

/** One check in a sentence or two. */
export function checkInWords(c: Check): string {
  switch (c.kind) {
    case 'linked':
      return c.passed
        ? 'Every line is linked to a supplier item.'
        : `Not linked to a supplier item: ${c.unlinked.join(', ')}.`;
    case 'stock':
      if (c.passed) return 'There is enough stock.';
      return c.short.length
        ? c.short.map((s) => `${s.supplier} has ${s.has} of “${s.title}” left, ${s.sold} sold.`).join(' ')
        : 'Stock is unknown without a link.';
    case 'profit': {
      if (c.profit === null) return 'Profit is unknown: cost, shipping or an exchange rate is missing.';
      const money = (minor: number, plus = false) => formatMoney({ minor, currency: c.currency }, plus);
      return `Profit at today’s cost is ${money(c.profit, true)}, at least ${money(c.least)} is required.`;
    }
    case 'address':
      return c.problem ? addressProblemInWords(c.problem) : 'The address is complete.';
    case 'personalised':
      return c.passed
        ? 'Not personalised.'
        : `Personalised: “${c.texts.join('”, “')}”. Read it before it is made.`;
    case 'balance':
      return c.passed
        ? 'It can be paid.'
        : c.short
            .map(
              (s) =>
                `${s.supplier}’s balance of ${formatMoney({ minor: s.balance, currency: s.currency })} does not cover ${formatMoney({ minor: s.spend, currency: s.currency })}.`,
            )
            .join(' ');
  }
}
