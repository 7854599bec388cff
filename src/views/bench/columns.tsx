'use client';
import { decimalOf, formatMinor, formatMoney, formatShare, signOf } from '../../core/money';
import { countOf, whenOf } from '../../core/units';
import { goodsColumn } from '../../ui/goods';
import { PriceStrip } from '../../ui/price-strip';
import { StateMark } from '../../ui/state-mark';
import { type Column, Two } from '../../ui/table/column';
import { fieldColumns } from '../../ui/table/field-columns';
import type { BenchLine, BenchMark, BenchState } from '../../work/memory/bench-lines';
import type { MarketConnection } from '../../work/model';

/** How far a product is on each marketplace, a column for each. @param market the one that is looked at; null for all */
export function columnsFor(
  all: readonly MarketConnection[],
  market: string | null,
  now: number,
  zone: string,
): Column<BenchLine>[] {
  const shown = market === null ? all : all.filter((m) => m.id === market);
  const one = shown.length === 1 ? shown[0]! : null;
  const own: Column<BenchLine>[] = [
    goodsColumn('Product', 260, (r) => (
      <>
        <span className="font-mono">{r.sku}</span>
        {r.variants > 1 ? ` and ${countOf(r.variants - 1, 'more variant')}` : ''}
      </>
    )),
    ...shown.map(
      (m, at): Column<BenchLine> => ({
        id: `on-${m.id}`,
        header: m.name,
        size: 176,
        grows: true,
        // Where there is not enough room the last ones leave first.
        rank: 1 + at,
        value: (r) => r.on[m.id]?.state.is ?? null,
        cell: (r) => {
          const mark = r.on[m.id];
          return mark ? (
            <Two
              top={<Standing state={mark.state} now={now} zone={zone} />}
              under={<Earns mark={mark} variants={r.variants} />}
            />
          ) : (
            <span className="text-muted">
              <span aria-hidden>–</span>
              <span className="sr-only">not listed there</span>
            </span>
          );
        },
      }),
    ),
    ...(one
      ? [
          {
            id: 'price',
            header: `Price ${signOf(one.site.currency)}`,
            size: 92,
            rank: 2,
            right: true,
            sort: true,
            value: (r: BenchLine) => {
              const price = r.on[one.id]?.price;
              return price ? decimalOf(price, one.site.currency) : null;
            },
            cell: (r: BenchLine) => {
              const price = r.on[one.id]?.price;
              return price ? <b className="font-semibold">{formatMinor(price, one.site.currency)}</b> : null;
            },
          },
          {
            id: 'strip',
            header: 'Price strip',
            size: 144,
            rank: 4,
            cell: (r: BenchLine) => {
              const strip = r.on[one.id]?.strip;
              return strip && <PriceStrip {...strip} currency={one.site.currency} />;
            },
          },
        ]
      : []),
  ];
  return [...own, ...fieldColumns('bench', own)];
}

/** Price and what a sale at it earns. */
function Earns({ mark, variants }: { mark: BenchMark; variants: number }) {
  if (mark.price === null) return 'no price';
  const price = formatMoney({ minor: mark.price, currency: mark.currency });
  const { sum } = mark.strip ?? {};
  return (
    <>
      {variants > 1 && 'from '}
      {price}
      {sum && (
        <span className={sum.profit < 0 ? 'font-semibold text-loss' : ''}>
          {' · '}
          {formatMinor(sum.profit, mark.currency, true)}, {formatShare(sum.profit, sum.price)}
        </span>
      )}
    </>
  );
}

function Standing({ state, now, zone }: { state: BenchState; now: number; zone: string }) {
  switch (state.is) {
    case 'publishing':
      return (
        <StateMark tone="waits">
          {state.at !== null && state.at > now
            ? `To be published ${whenOf(state.at, now, zone)}`
            : `Being published${state.left > 1 ? `, ${countOf(state.left, 'listing')}` : ''}`}
        </StateMark>
      );
    case 'refused':
      return <StateMark tone="person">Refused: {state.why}</StateMark>;
    case 'lacking':
      return (
        <StateMark tone="person">
          <span title={[state.what, ...state.more].join('\n')}>
            {state.more.length > 0 && `${state.more.length + 1} faults: `}
            {state.what}
          </span>
        </StateMark>
      );
    case 'approved':
      return <StateMark tone="well">Approved, not published</StateMark>;
    case 'draft':
      return <StateMark tone="waits">Draft, not on sale</StateMark>;
    case 'ready':
      return <StateMark tone="waits">Ready to approve</StateMark>;
    case 'live':
      return <StateMark tone="well">{state.differs ? 'Live, text not yet sent' : 'Live'}</StateMark>;
    case 'ended':
      return <StateMark tone="waits">Ended</StateMark>;
  }
}
