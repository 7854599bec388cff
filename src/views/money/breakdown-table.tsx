'use client';
import { useState } from 'react';
import { type Currency, formatMinor, formatShare, signOf } from '../../core/money';
import { formatCount } from '../../core/units';
import { Button } from '../../ui/button';
import type { BrokenDown } from '../../work/order-book/breakdown';

/** Rows at first, and more of them at each wish. */
const ROWS = 100;

type Column =
  | 'name'
  | 'orders'
  | 'units'
  | 'revenue'
  | 'cost'
  | 'fees'
  | 'tax'
  | 'profit'
  | 'margin'
  | 'expected'
  | 'beside';

const VALUE: Readonly<Record<Exclude<Column, 'name' | 'beside'>, (r: BrokenDown) => number>> = {
  orders: (r) => r.orders,
  units: (r) => r.units,
  revenue: (r) => r.best.revenue,
  cost: (r) => r.best.goods + r.best.shipping,
  fees: (r) => r.best.fee + r.best.payment,
  tax: (r) => r.best.tax,
  profit: (r) => r.best.profit,
  margin: (r) => (r.best.revenue > 0 ? r.best.profit / r.best.revenue : Number.NEGATIVE_INFINITY),
  expected: (r) => r.actual.profit - r.expected.profit,
};

/** Sums by one thing, sorted by any column; a name opens the orders behind it. */
export function BreakdownTable({
  title,
  caption,
  rows,
  beside,
  besideName,
  currency,
  chosen,
  nameOf,
  onRow,
}: {
  title: string;
  caption: string;
  rows: readonly BrokenDown[];
  /** Of the range beside, by id; null for none. */
  beside: ReadonlyMap<string, BrokenDown> | null;
  besideName: string;
  currency: Currency;
  chosen: string | null;
  nameOf: (r: BrokenDown) => string;
  onRow: (id: string) => void;
}) {
  const [sort, setSort] = useState<{ by: Column; down: boolean } | null>(null);
  const [shown, setShown] = useState(ROWS);
  const sign = signOf(currency);
  const m = (minor: number, plus = false) => formatMinor(minor, currency, plus);
  const before = (r: BrokenDown) => beside?.get(r.id)?.best.profit ?? 0;
  const columns: readonly (readonly [Column, string])[] = [
    ['name', title],
    ['orders', 'Orders'],
    ['units', 'Units'],
    ['revenue', `Revenue ${sign}`],
    ['cost', `Cost ${sign}`],
    ['fees', `Fees ${sign}`],
    ['tax', `VAT ${sign}`],
    ['profit', `Profit ${sign}`],
    ['margin', 'Margin'],
    ['expected', `To expected ${sign}`],
    ...(beside ? ([['beside', `${besideName} ${sign}`]] as const) : []),
  ];
  const worthOf = (r: BrokenDown, by: Column) =>
    by === 'name' ? 0 : by === 'beside' ? r.best.profit - before(r) : VALUE[by](r);
  const sorted = sort
    ? [...rows].sort((a, b) => {
        const way = sort.down ? -1 : 1;
        return (
          way *
          (sort.by === 'name'
            ? nameOf(a).localeCompare(nameOf(b), 'en')
            : worthOf(a, sort.by) - worthOf(b, sort.by))
        );
      })
    : rows;
  return (
    <div className="min-w-0 self-start overflow-x-auto">
      <table className="w-full border border-rule bg-surface text-right text-[13.5px]">
        <caption className="sr-only">{caption}</caption>
        <thead className="bg-raised text-xs text-muted">
          <tr>
            {columns.map(([id, name], k) => (
              <th
                key={id}
                scope="col"
                aria-sort={sort?.by === id ? (sort.down ? 'descending' : 'ascending') : undefined}
                className={`px-1.5 py-1.5 font-semibold ${k === 0 ? 'text-left' : ''}`}
              >
                <button
                  type="button"
                  className={`hover:text-ink ${k === 0 ? 'text-left' : 'text-right'}`}
                  onClick={() =>
                    setSort(
                      sort?.by === id
                        ? sort.down === (id !== 'name')
                          ? { by: id, down: !sort.down }
                          : null
                        : { by: id, down: id !== 'name' },
                    )
                  }
                >
                  {name}
                  {sort?.by === id && <span aria-hidden> {sort.down ? '↓' : '↑'}</span>}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sorted.slice(0, shown).map((r) => {
            const { best } = r;
            const change = best.profit - before(r);
            return (
              <tr key={r.id} className={`border-t border-rule-soft ${r.id === chosen ? 'bg-chosen' : ''}`}>
                <th scope="row" className="max-w-56 px-2 py-1 text-left font-normal">
                  <button
                    type="button"
                    aria-pressed={r.id === chosen}
                    disabled={!r.orders}
                    title={nameOf(r)}
                    className="block max-w-full truncate text-left text-river enabled:hover:underline disabled:text-muted"
                    onClick={() => onRow(r.id)}
                  >
                    {nameOf(r)}
                  </button>
                </th>
                <td className="px-1.5">{formatCount(r.orders)}</td>
                <td className="px-1.5">{formatCount(r.units)}</td>
                <td className="px-1.5">{m(best.revenue)}</td>
                <td className="px-1.5">{m(best.goods + best.shipping)}</td>
                <td className="px-1.5">{m(best.fee + best.payment)}</td>
                <td className="px-1.5">{m(best.tax)}</td>
                <td className={`px-1.5 font-semibold ${best.profit < 0 ? 'text-loss' : 'text-river'}`}>
                  {m(best.profit, true)}
                </td>
                <td className="px-1.5 whitespace-nowrap">
                  {best.revenue > 0 ? formatShare(best.profit, best.revenue) : '–'}
                </td>
                <td
                  className="px-1.5 text-muted"
                  title={`${formatCount(r.settled)} of ${formatCount(r.orders)} settled: expected ${m(r.expected.profit, true)}, actual ${m(r.actual.profit, true)}`}
                >
                  {r.settled ? m(r.actual.profit - r.expected.profit, true) : '–'}
                </td>
                {beside && (
                  <td
                    className={`px-2 ${change < 0 ? 'text-loss' : 'text-muted'}`}
                    title={`It was ${m(before(r), true)}`}
                  >
                    {m(change, true)}
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      {rows.length > shown && (
        <p className="mt-2 flex items-center gap-3 text-[13px] text-muted">
          {formatCount(shown)} of {formatCount(rows.length)}.
          <Button onClick={() => setShown(shown + ROWS)}>Show more</Button>
        </p>
      )}
    </div>
  );
}
