'use client';
import { formatMoney, formatShare, signOf } from '../../core/money';
import { BeforeAfter } from '../../ui/before-after';
import { type Column, Two } from '../../ui/table/column';
import type { AheadOrder, Prospect } from '../../work/pricing/prospects';

/**
 * Columns of what would happen.
 * @param offered whether it is about all that is offered, of which nothing is shown yet
 */
export const columnsFor = (offered: boolean, order: AheadOrder): Column<Prospect>[] => [
  {
    id: 'title',
    header: offered ? 'Item' : 'Listing',
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
          <span className="text-muted">{signOf(p.currency)}</span>
          <BeforeAfter from={p.from} to={p.to} currency={p.currency} />
        </>
      ),
  },
  {
    id: 'margin',
    header: 'Margin',
    size: 150,
    rank: order === 'moves' ? 2 : 1,
    right: true,
    cell: (p) =>
      p.to === null || (p.to === p.from && p.profitTo === p.profitFrom) ? (
        formatShare(p.profitFrom, p.from)
      ) : (
        <>
          <span className="text-muted">{formatShare(p.profitFrom, p.from)} →</span>{' '}
          {formatShare(p.profitTo!, p.to)}
        </>
      ),
  },
  ...(offered
    ? []
    : [
        {
          id: 'shown',
          header: 'Shown',
          size: 90,
          rank: 2,
          right: true,
          cell: (p: Prospect) => (p.shownFrom === p.shownTo ? p.shownTo : `${p.shownFrom} → ${p.shownTo}`),
        },
      ]),
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
];
