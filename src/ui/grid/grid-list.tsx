'use client';
import { useCallback, useMemo } from 'react';
import { theShop } from '../../work/desk/client';
import { LISTING_SORTS, type ListingQuestion } from '../../work/memory/listing-list';
import { cellFieldsOf } from '../../work/quoting/listing-cells';
import { useList } from '../list';
import { Searched } from '../searched';
import { useShop } from '../shop';
import { useListingsVersion } from '../versions';
import { ListingGrid } from './grid';

/** What has no room in a cell. */
const TOO_LONG: ReadonlySet<string> = new Set(['description', 'pictures']);

const TEXTS = ['title', 'sku'] as const;

const search = (q: ListingQuestion) => theShop().listings(q, Date.now());

/** Listings as a spreadsheet, those of a search alone. */
export function GridList({
  of,
  market = null,
  fields,
}: {
  of: 'sold' | 'bench';
  /** The marketplace that is looked at; null for all. */
  market?: string | null;
  fields: readonly { readonly example: string; readonly means: string }[];
}) {
  const version = useListingsVersion();
  const shop = useShop();
  const columns = useMemo(() => (shop ? cellFieldsOf(shop).filter((f) => !TOO_LONG.has(f.id)) : []), [shop]);
  const more = useMemo(() => ({ of, market, fields: columns.map((c) => c.id) }), [of, market, columns]);
  const list = useList({
    version,
    sorts: LISTING_SORTS,
    // By what is never edited: a row stays where it is while one works down the column.
    first: 'sku',
    texts: TEXTS,
    more,
    search,
  });
  const { found, asked } = list;
  const idsBetween = useCallback(
    (from: number, to: number) =>
      theShop().listingsRange({ ...asked(), offset: from, limit: to - from + 1 }, Date.now()),
    [asked],
  );
  if (!found || !columns.length) return null;
  return (
    <Searched list={list} fields={fields}>
      <ListingGrid
        label={of === 'bench' ? 'Bench as a grid' : 'Listings as a grid'}
        columns={columns}
        count={list.table.count}
        rowAt={list.table.rowAt}
        onRange={list.table.onRange}
        idsBetween={idsBetween}
        sort={list.table.sort}
        onSort={list.table.onSort}
      />
    </Searched>
  );
}
