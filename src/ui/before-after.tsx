import { type Currency, formatMinor } from '../core/money';

/** One pair of values with the difference and its direction. Amounts in minor units. */
export function BeforeAfter({ from, to, currency }: { from: number; to: number; currency: Currency }) {
  if (from === to) return <span>{formatMinor(to, currency)}</span>;
  return (
    <span className="whitespace-nowrap">
      <span className="text-muted">
        {formatMinor(from, currency)} <span aria-hidden>→</span>
        <span className="sr-only"> to </span>
      </span>{' '}
      <b className="font-semibold">{formatMinor(to, currency)}</b>{' '}
      <span className={to > from ? 'text-river' : 'text-ink'}>{formatMinor(to - from, currency, true)}</span>
    </span>
  );
}
