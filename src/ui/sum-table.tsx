import { type Currency, formatMinor, formatRate, formatShare } from '../core/money';
import type { Fees, Sum } from '../core/pricing';

const Key = ({ fill }: { fill: string }) => (
  <span aria-hidden className="mr-2 inline-block size-[9px]" style={{ background: fill }} />
);

function feeInWords(fees: Fees, currency: Currency): string {
  const bands = fees.bands
    .map((b, i) =>
      b.upTo === null
        ? `${formatRate(b.rate)}${i ? ' above' : ''}`
        : `${formatRate(b.rate)} to ${formatMinor(b.upTo, currency)}`,
    )
    .join(', ');
  return `${bands} + ${formatMinor(fees.fixed, currency)}`;
}

/** The whole sum of one sale, line by line, adding up to the profit. */
export function SumTable({
  sum,
  fees,
  breakEven,
  currency,
}: {
  sum: Sum;
  fees: Fees;
  breakEven: number | null;
  currency: Currency;
}) {
  const m = (minor: number) => formatMinor(minor, currency);
  const rows = [
    ['var(--goods)', 'Landed cost', `${m(sum.goods)} goods + ${m(sum.shipping)} shipping`, sum.landed],
    ['var(--fee)', 'Marketplace fee', feeInWords(fees, currency), sum.fee],
    [
      'var(--payment)',
      'Payment fee',
      `${formatRate(fees.paymentRate)} + ${m(fees.paymentFixed)}`,
      sum.payment,
    ],
    ['var(--tax)', 'VAT in the price', formatRate(fees.taxInside), sum.tax],
  ] as const;
  return (
    <table className="w-full text-[13.5px]">
      <tbody>
        <tr>
          <th scope="row" className="py-0.5 text-left font-normal">
            Price
          </th>
          <td className="text-right font-semibold">{m(sum.price)}</td>
        </tr>
        {rows.map(([fill, name, detail, minor]) => (
          <tr key={name}>
            <th scope="row" className="py-0.5 text-left font-normal">
              <Key fill={fill} />
              {name} <span className="text-xs text-muted">{detail}</span>
            </th>
            <td className="text-right align-top">{formatMinor(-minor, currency)}</td>
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
