import type { Account } from '../../core/ledger';
import { type Currency, formatMinor } from '../../core/money';

const LINES = [
  ['revenue', 'Revenue', 1],
  ['goods', 'Goods', -1],
  ['shipping', 'Shipping', -1],
  ['fee', 'Marketplace fee', -1],
  ['payment', 'Payment fee', -1],
  ['tax', 'VAT in the price', -1],
  ['profit', 'Profit', 1],
] as const;

/** An account line by line, expected beside actual, with the difference where there is one. */
export function AccountTable({
  expected,
  actual,
  currency,
}: {
  expected: Account | null;
  actual: Account | null;
  currency: Currency;
}) {
  return (
    <table className="w-full text-[13.5px]">
      <thead className="text-xs text-muted">
        <tr>
          <td />
          {['Expected', 'Actual', 'Difference'].map((name) => (
            <th key={name} scope="col" className="text-right font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {LINES.map(([key, name, sign]) => {
          const total = key === 'profit';
          const both = actual && expected;
          const difference = both ? (actual[key] - expected[key]) * sign : 0;
          return (
            <tr key={key} className={total ? 'border-t border-rule font-semibold' : ''}>
              <th scope="row" className={`py-0.5 text-left ${total ? 'font-semibold' : 'font-normal'}`}>
                {name}
              </th>
              <td className="text-right">
                {expected ? formatMinor(expected[key] * sign, currency, total) : '–'}
              </td>
              <td className="text-right">
                {actual ? formatMinor(actual[key] * sign, currency, total) : '–'}
              </td>
              <td
                className={`text-right ${difference < 0 ? 'text-loss' : difference > 0 ? 'text-river' : 'text-muted'}`}
              >
                {both ? (difference === 0 ? '0' : formatMinor(difference, currency, true)) : '–'}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
