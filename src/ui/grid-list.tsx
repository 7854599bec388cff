'use client';
import { useCallback } from 'react';
import { LISTING_SORTS, type ListingQuestion } from '../work/assortment/listing-list';
import { theShop } from '../work/clients';
import { GRID_FIELDS, ListingGrid } from './grid';
import { useList } from './list';
import { Searched } from './searched';
import { useListingsVersion } from './versions';

const MORE = {
  sold: { of: 'sold', fields: GRID_FIELDS },
  bench: { of: 'bench', fields: GRID_FIELDS },
} as const satisfies Record<string, Pick<ListingQuestion, 'of' | 'fields'>>;

const TEXTS = ['title', 'sku'] as const;

const search = (q: ListingQuestion) => theShop().listings(q, Date.now());

/** Listings as a spreadsheet, those of a search alone. */
export function GridList({
  of,
  fields,
}: {
  of: keyof typeof MORE;
  fields: readonly { readonly example: string; readonly means: string }[];
}) {
  const version = useListingsVersion();
  const list = useList({
    version,
    sorts: LISTING_SORTS,
    // By what is never edited: a row stays where it is while one works down the column.
    first: 'sku',
    texts: TEXTS,
    more: MORE[of],
    search,
  });
  const { found, asked } = list;
  const idsBetween = useCallback(
    (from: number, to: number) =>
      theShop().listingsRange({ ...asked(), offset: from, limit: to - from + 1 }, Date.now()),
    [asked],
  );
  if (!found) return null;
  return (
    <Searched list={list} fields={fields}>
      <ListingGrid
        label={of === 'bench' ? 'Bench as a grid' : 'Listings as a grid'}
        count={list.table.count}
        rowAt={list.table.rowAt}
        onRange={list.table.onRange}
        idsBetween={idsBetween}
      />
    </Searched>
  );
}
