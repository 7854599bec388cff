import { useMemo } from 'react';
import { optionsInWords } from '../../core/catalogue';
import { formatMinor, formatShare, signOf } from '../../core/money';
import { formatCount } from '../../core/units';
import { Goods } from '../../ui/goods';
import { StateMark } from '../../ui/state-mark';
import type { Column } from '../../ui/table/column';
import type { SourceRow } from '../../work/catalogue/source-rows';
import type { MarketConnection, SupplierConnection } from '../../work/model';
import { usePictures } from './pictures';

/** The columns of Source, the same while nothing of what they show changed. @param rows those that are in view */
export function useColumns(
  suppliers: readonly SupplierConnection[],
  market: MarketConnection | undefined,
  rows: readonly SourceRow[] | undefined,
): Column<SourceRow>[] {
  const pictures = usePictures(rows);
  const charged = [...new Set(suppliers.map((s) => s.currency))];
  const currency = market?.site.currency ?? charged[0] ?? 'GBP';
  const one = charged.length === 1 && charged[0] === currency;
  return useMemo(() => {
    const byId = new Map(suppliers.map((s) => [s.id, s]));
    return columnsFor(currency, one, byId, (row) => ({
      supplier: byId.get(row.supplier)?.service ?? '',
      path: pictures.get(row.key) || undefined,
    }));
  }, [currency, one, suppliers, pictures]);
}

/**
 * @param one whether all suppliers charge in the marketplace's currency, so that it need not stand in each
 * row
 */
function columnsFor(
  currency: string,
  one: boolean,
  suppliers: ReadonlyMap<string, SupplierConnection>,
  pictureOf: (row: SourceRow) => { supplier: string; path: string | undefined },
): Column<SourceRow>[] {
  const sign = signOf(currency);
  const m = (minor: number) => formatMinor(minor, currency);
  return [
    {
      id: 'title',
      header: 'Item',
      size: 200,
      grows: true,
      rank: 0,
      sort: true,
      cell: (row) => {
        const { item } = row;
        return (
          <Goods
            picture={pictureOf(row)}
            title={item.title + (Object.keys(item.options).length ? `, ${optionsInWords(item.options)}` : '')}
            under={
              <>
                <span className="font-mono">{item.sku}</span>
                {item.category && ` · ${item.category}`}
              </>
            }
          />
        );
      },
    },
    ...(suppliers.size > 1
      ? [
          {
            id: 'supplier',
            header: 'Supplier',
            size: 128,
            rank: 4,
            sort: true,
            cell: ({ supplier }) => suppliers.get(supplier)?.name ?? '',
          } satisfies Column<SourceRow>,
        ]
      : []),
    { id: 'brand', header: 'Brand', size: 110, rank: 5, sort: true, cell: ({ item }) => item.brand },
    {
      id: 'cost',
      header: one ? `Cost ${sign}` : 'Cost',
      size: one ? 84 : 96,
      rank: 1,
      right: true,
      sort: true,
      cell: (row) =>
        one ? m(row.item.cost) : `${signOf(row.currency)}${formatMinor(row.item.cost, row.currency)}`,
    },
    {
      id: 'stock',
      header: 'Stock',
      size: 74,
      rank: 1,
      right: true,
      sort: true,
      cell: ({ item }) => (item.stock ? formatCount(item.stock) : <span className="text-muted">out</span>),
    },
    {
      id: 'price',
      header: `Price ${sign}`,
      size: 88,
      rank: 1,
      right: true,
      sort: true,
      help: 'Expected price under the plan',
      cell: ({ price, problem }) =>
        price === null ? (
          <span title={problem ?? undefined} className="text-muted">
            none
          </span>
        ) : (
          <b className="font-semibold">{m(price)}</b>
        ),
    },
    {
      id: 'profit',
      header: `Profit ${sign}`,
      size: 88,
      rank: 1,
      right: true,
      sort: true,
      cell: ({ profit }) =>
        profit === null ? (
          ''
        ) : (
          <span className={profit < 0 ? 'font-semibold text-loss' : 'text-river'}>
            {formatMinor(profit, currency, true)}
          </span>
        ),
    },
    {
      id: 'margin',
      header: 'Margin',
      size: 76,
      rank: 1,
      right: true,
      sort: true,
      cell: ({ price, profit }) => (price === null || profit === null ? '' : formatShare(profit, price)),
    },
    {
      id: 'state',
      header: '',
      size: 84,
      rank: 2,
      cell: ({ taken }) => (taken ? <StateMark tone="well">Taken</StateMark> : null),
    },
  ];
}
