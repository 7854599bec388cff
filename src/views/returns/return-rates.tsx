'use client';
import { formatMinor } from '../../core/money';
import { addDays, dayOf, formatCount, isDay } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { DateRangeField } from '../../ui/date-field';
import { theShop } from '../../work/desk/client';
import { RATED_BY, type RatedBy, type ReturnRate } from '../../work/order-book/returns';
import type { ShopTerms } from '../../work/quoting/worth';

const BY: Readonly<Record<RatedBy, string>> = {
  reason: 'Reason',
  product: 'Product',
  supplier: 'Supplier',
  marketplace: 'Marketplace',
};

const percent = (part: number, whole: number) => (whole > 0 ? `${((part * 100) / whole).toFixed(1)} %` : '–');

/** Of what was sold on some days, how much came back, for what reasons, and what that cost; beside as many days before. */
export function ReturnRates({ shop, now, version }: { shop: ShopTerms; now: number; version: number }) {
  const { get, set } = useAddress();
  const by = RATED_BY.find((one) => one === get('by')) ?? 'reason';
  const today = now ? dayOf(now, shop.settings.zone) : '';
  const to = isDay(get('to')) ? get('to') : today;
  const from = isDay(get('from')) && get('from') <= to ? get('from') : to && addDays(to, -59);
  const rates = useAnswer(
    () => (version && from && to ? theShop().returnRates(by, from, to) : undefined),
    [version, by, from, to],
  );
  const books = shop.settings.currency;
  return (
    <>
      <div className="flex flex-wrap items-center gap-3 pb-2">
        {RATED_BY.map((one) => (
          <Button
            key={one}
            kind="text"
            aria-pressed={one === by}
            className="aria-pressed:underline"
            onClick={() => set({ by: one === 'reason' ? '' : one })}
          >
            {BY[one]}
          </Button>
        ))}
        <DateRangeField
          {...{ from, to }}
          max={today}
          onChange={(first, last) => set({ from: first, to: last })}
        />
      </div>
      {!rates ? (
        <p className="text-[13.5px] text-muted">Counting …</p>
      ) : !rates.length ? (
        <p className="text-[13.5px] text-muted">Nothing that was sold on these days came back.</p>
      ) : (
        <table className="w-full max-w-4xl text-right text-[13.5px]">
          <caption className="sr-only">Rates of return by {BY[by].toLowerCase()}</caption>
          <thead className="text-xs text-muted">
            <tr>
              {[BY[by], 'Sold', 'Returned', 'Rate', 'Rate before', `Cost, ${books}`].map((name, k) => (
                <th key={name} scope="col" className={`py-1 pr-3 font-normal ${k === 0 ? 'text-left' : ''}`}>
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rates.map((r) => (
              <Rate key={r.id} rate={r} books={books} />
            ))}
          </tbody>
        </table>
      )}
      <p className="mt-2 max-w-3xl text-xs text-muted">
        Units of orders that were paid on these days, declined returns left out; before: as many days earlier.
        Young orders may still come back. What stands out by your limit is marked.
      </p>
    </>
  );
}

function Rate({ rate: r, books }: { rate: ReturnRate; books: string }) {
  return (
    <tr className={`border-t border-rule-soft ${r.over ? 'bg-lamp-soft' : ''}`}>
      <th scope="row" className="max-w-96 truncate py-1 pr-3 text-left font-normal" title={r.name}>
        {r.over && (
          <span className="font-semibold text-lamp">
            <span aria-hidden>◆ </span>
            <span className="sr-only">Over your limit: </span>
          </span>
        )}
        {r.name}
      </th>
      <td className="pr-3">{formatCount(r.sold)}</td>
      <td className="pr-3">{formatCount(r.returned)}</td>
      <td className="pr-3 font-semibold">{percent(r.returned, r.sold)}</td>
      <td className="pr-3 text-muted">{percent(r.returnedBefore, r.soldBefore)}</td>
      <td className={`pr-3 ${r.lost < 0 ? 'text-loss' : ''}`}>{formatMinor(r.lost, books, true)}</td>
    </tr>
  );
}
