'use client';
import { useMemo, useState } from 'react';
import { formatMinor, formatMoney, formatShare, signOf } from '../../core/money';
import { countOf, formatCount } from '../../core/units';
import { BeforeAfter } from '../../ui/before-after';
import { type Column, Two } from '../../ui/column';
import { NeedsYou } from '../../ui/head';
import { DataTable } from '../../ui/table';
import type { Prospect, WhatIf } from '../../work/shop/what-if';
import { Swarm } from './swarm';

/** What a change would do to each listing, before it is saved. */
export function Ahead({ ahead, changed }: { ahead: WhatIf; changed: boolean }) {
  const share = (tenths: number | null) => (tenths === null ? 'none' : formatShare(tenths, 1000));
  const columns = useMemo(
    (): Column<Prospect>[] => [
      {
        id: 'title',
        header: 'Listing',
        size: 220,
        grows: true,
        rank: 0,
        cell: (p) => (
          <Two
            top={p.title}
            under={
              <>
                <span className="font-mono">{p.sku}</span> · {p.market}
              </>
            }
          />
        ),
      },
      {
        id: 'price',
        header: 'Price',
        size: 200,
        rank: 1,
        right: true,
        cell: (p) =>
          p.to === null || p.to === p.from ? (
            formatMoney({ minor: p.from, currency: p.currency })
          ) : (
            <>
              <span className="text-muted">{signOf(p.currency)}</span>{' '}
              <BeforeAfter from={p.from} to={p.to} currency={p.currency} />
            </>
          ),
      },
      {
        id: 'margin',
        header: 'Margin',
        size: 150,
        rank: 2,
        right: true,
        cell: (p) =>
          p.to === null ? (
            formatShare(p.profitFrom, p.from)
          ) : (
            <>
              <span className="text-muted">{formatShare(p.profitFrom, p.from)} →</span>{' '}
              {formatShare(p.profitTo!, p.to)}
            </>
          ),
      },
      {
        id: 'shown',
        header: 'Shown',
        size: 90,
        rank: 2,
        right: true,
        cell: (p) => (p.shownFrom === p.shownTo ? p.shownTo : `${p.shownFrom} → ${p.shownTo}`),
      },
      {
        id: 'says',
        header: '',
        size: 120,
        rank: 5,
        cell: (p) => (
          <span title={p.says} className={p.to === null ? 'text-lamp' : 'text-muted'}>
            {p.says}
          </span>
        ),
      },
    ],
    [],
  );
  const [chosen, setChosen] = useState('');
  return (
    <>
      <p className="px-4 pt-3 text-sm" role="status">
        <b className="font-semibold">{changed ? 'What would happen' : 'As things stand'}</b>{' '}
        <span className="text-muted">
          {formatCount(ahead.stay)} stay,{' '}
          <b className="font-semibold text-river">{formatCount(ahead.rise)} rise</b>,{' '}
          {formatCount(ahead.fall)} fall
          {ahead.losing > 0 && (
            <>
              , <NeedsYou>{formatCount(ahead.losing)} would sell at a loss</NeedsYou>
            </>
          )}
          {ahead.held > 0 && (
            <>
              , <NeedsYou>{formatCount(ahead.held)} held by guards</NeedsYou>
            </>
          )}
          . Median margin {share(ahead.marginFrom)} → {share(ahead.marginTo)}.{' '}
          {ahead.shown > 0 && `${countOf(ahead.shown, 'listing')} would show another quantity.`}
        </span>
      </p>
      {changed ? (
        <div className="px-4 pt-2 pb-1">
          <Swarm {...ahead} />
          {ahead.markets.length > 1 && (
            <ul className="flex flex-wrap gap-x-5 text-[13px] text-muted">
              {ahead.markets.map((m) => (
                <li key={m.market}>
                  {m.market}: {formatCount(m.rise)} rise, {formatCount(m.fall)} fall, profit of one sale of
                  each {formatMinor(m.profitFrom, m.currency)} →{' '}
                  <b className="font-semibold text-ink">
                    {formatMoney({ minor: m.profitTo, currency: m.currency })}
                  </b>
                </li>
              ))}
            </ul>
          )}
        </div>
      ) : (
        <p className="px-4 pt-1 pb-2 text-[13px] text-muted">
          Change an underlined part: what would happen to each listing is drawn here before anything is saved.
        </p>
      )}
      {ahead.listings > ahead.prospects.length && (
        <p className="px-4 pb-1 text-[13px] text-muted">
          The {formatCount(ahead.prospects.length)} that change most stand below.
        </p>
      )}
      <DataTable
        id="what-if"
        label="What would happen"
        columns={columns}
        count={ahead.prospects.length}
        rowAt={(i) => ahead.prospects[i]}
        keyOf={(p) => p.id}
        chosen={chosen}
        onChoose={setChosen}
      />
    </>
  );
}
