'use client';
import { decimalOf, formatMinor, formatMoney, formatShare, parsePrice, signOf } from '../../core/money';
import { formatCount, whenOf } from '../../core/units';
import { goodsColumn } from '../../ui/goods';
import { offerAt } from '../../ui/own-price';
import { PriceStrip } from '../../ui/price-strip';
import { StateMark } from '../../ui/state-mark';
import { type Column, Two } from '../../ui/table/column';
import { fieldColumns } from '../../ui/table/field-columns';
import type { ListingLine } from '../../work/memory/listing-list';

/** @param currencies of the marketplaces, by commas: where there is one alone it need not stand in each row */
export function columnsFor(currencies: string, now: number, zone: string): Column<ListingLine>[] {
  const one = !currencies.includes(',');
  const sign = one ? ` ${signOf(currencies)}` : '';
  const m = (r: ListingLine, minor: number) =>
    one ? formatMinor(minor, r.currency) : formatMoney({ minor, currency: r.currency });
  const own: Column<ListingLine>[] = [
    goodsColumn('Listing', 300, (r) => (
      <>
        {!one && `${r.market} · `}
        <span className="font-mono">{r.sku}</span> ← <span className="font-mono">{r.item ?? 'nothing'}</span>
      </>
    )),
    {
      id: 'landed',
      header: `Landed${sign}`,
      size: 84,
      rank: 5,
      right: true,
      sort: true,
      value: (r) => r.strip && decimalOf(r.strip.sum.landed, r.currency),
      cell: (r) => r.strip && m(r, r.strip.sum.landed),
    },
    {
      id: 'price',
      header: `Price${sign}`,
      size: 92,
      rank: 1,
      right: true,
      sort: true,
      help: 'As buyers see it. Edit it to set an own price',
      value: (r) => r.price && decimalOf(r.price, r.currency),
      cell: (r) => r.price !== null && <b className="font-semibold">{m(r, r.price)}</b>,
      edit: {
        write: (r) => (r.price === null ? '' : formatMinor(r.price, r.currency)),
        save: async (r, text) => {
          const price = parsePrice(text, r.currency);
          if (!price.ok) return price.reason;
          await offerAt(r, r.currency, price.value);
          return null;
        },
      },
    },
    {
      id: 'strip',
      header: 'Price strip',
      size: 144,
      rank: 4,
      cell: (r) => r.strip && <PriceStrip {...r.strip} currency={r.currency} />,
    },
    {
      id: 'profit',
      header: `Profit${sign}`,
      size: 84,
      rank: 2,
      right: true,
      sort: true,
      value: (r) => r.strip && decimalOf(r.strip.sum.profit, r.currency),
      cell: (r) =>
        r.strip && (
          <Two
            top={
              <span className={r.strip.sum.profit < 0 ? 'font-semibold text-loss' : 'text-river'}>
                {formatMinor(r.strip.sum.profit, r.currency, true)}
              </span>
            }
            under={formatShare(r.strip.sum.profit, r.strip.sum.price)}
          />
        ),
    },
    {
      id: 'stock',
      header: 'Shown of stock',
      size: 116,
      rank: 4,
      right: true,
      sort: true,
      value: (r) => r.shown,
      cell: (r) => (r.stock === null ? `${r.shown}` : `${r.shown} of ${formatCount(r.stock)}`),
    },
    {
      id: 'last',
      header: 'State and last move',
      size: 190,
      rank: 3,
      sort: true,
      value: (r) => r.state,
      cell: (r) => (
        <Two
          top={<ListingState row={r} />}
          under={
            r.last && now ? (
              <span title={r.last.says}>
                {whenOf(r.last.at, now, zone)} · {r.last.says}
              </span>
            ) : (
              ''
            )
          }
        />
      ),
    },
  ];
  return [...own, ...fieldColumns('listing', own)];
}

function ListingState({ row: { state, item, held, own, strip } }: { row: ListingLine }) {
  if (state === 'ended') return <StateMark tone="waits">Ended</StateMark>;
  if (item === null) return <StateMark tone="person">Not linked</StateMark>;
  if (held)
    return (
      <StateMark tone="person">
        {state === 'paused' ? 'Held back, none shown' : 'Held at this price'}
      </StateMark>
    );
  if (state === 'paused') return <StateMark tone="waits">Paused, out of stock</StateMark>;
  if (strip && strip.sum.profit < 0) return <StateMark tone="loss">Live, below cost</StateMark>;
  return <StateMark tone="well">{own ? 'Live, own price' : 'Live'}</StateMark>;
}
