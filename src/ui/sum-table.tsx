import { type Currency, formatMinor, formatRate, formatShare } from '../core/money';
import { type Deductions, feeInWords, type Sum, type SumLine } from '../core/pricing';

const Key = ({ fill }: { fill: string }) => (
  <span aria-hidden className="mr-2 inline-block size-[9px]" style={{ background: fill }} />
);

const FILL: Readonly<Record<SumLine['kind'], string>> = {
  goods: 'var(--goods)',
  shipping: 'var(--goods)',
  handling: 'var(--goods)',
  duty: 'var(--goods)',
  'import tax': 'var(--goods)',
  paying: 'var(--goods)',
  cashback: 'var(--goods)',
  'tax on cost': 'var(--goods)',
  sale: 'var(--fee)',
  listing: 'var(--fee)',
  advertising: 'var(--fee)',
  payment: 'var(--payment)',
  tax: 'var(--tax)',
};

const NAME: Readonly<Partial<Record<SumLine['kind'], string>>> = {
  goods: 'Goods',
  shipping: 'Supplier’s shipping',
  handling: 'Handling',
  duty: 'Duty',
  'import tax': 'Import tax, not reclaimed',
  paying: 'Paying the supplier',
  cashback: 'Cashback',
  'tax on cost': 'Tax on cost, not reclaimed',
  tax: 'VAT in the price',
};

/** The whole sum of one sale, line by line, adding up to the profit. */
export function SumTable({
  sum,
  deductions,
  breakEven,
  currency,
}: {
  sum: Sum;
  deductions: Deductions;
  breakEven: number | null;
  currency: Currency;
}) {
  const m = (minor: number) => formatMinor(minor, currency);
  const detail = (line: SumLine) => {
    if (line.kind === 'tax') return formatRate(deductions.taxInside);
    const fee = deductions.fees.find((f) => f.kind === line.kind && f.name === line.name);
    return fee ? feeInWords(fee, currency) : '';
  };
  return (
    <table className="w-full text-[13.5px]">
      <tbody>
        <tr>
          <th scope="row" className="py-0.5 text-left font-normal">
            Price
          </th>
          <td className="text-right font-semibold">{m(sum.price)}</td>
        </tr>
        {sum.lines.map((line) => (
          <tr key={`${line.kind} ${line.name}`}>
            <th scope="row" className="py-0.5 text-left font-normal">
              <Key fill={FILL[line.kind]} />
              {line.name || NAME[line.kind]} <span className="text-xs text-muted">{detail(line)}</span>
            </th>
            <td className="text-right align-top">{formatMinor(-line.minor, currency)}</td>
          </tr>
        ))}
        <tr className={`border-t border-rule font-semibold ${sum.profit < 0 ? 'text-loss' : 'text-river'}`}>
          <th scope="row" className="py-0.5 text-left font-semibold">
            {sum.profit < 0 ? 'Loss per sale' : 'Profit per sale'}{' '}
            <span className="text-xs font-normal">{formatShare(sum.profit, sum.price)} of the price</span>
          </th>
          <td className="text-right">{formatMinor(sum.profit, currency, true)}</td>
        </tr>
        <tr>
          <th scope="row" className="py-0.5 text-left font-normal text-muted">
            Break-even
          </th>
          <td className="text-right text-muted">{breakEven === null ? 'none' : m(breakEven)}</td>
        </tr>
      </tbody>
    </table>
  );
}
