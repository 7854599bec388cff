'use client';
import Link from 'next/link';
import { useCallback, useMemo } from 'react';
import { examplesOf } from '../../core/fields';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { useNow } from '../../ui/clock';
import { WithDocket } from '../../ui/docket';
import { GridList } from '../../ui/dockets';
import { Empty } from '../../ui/head';
import { later } from '../../ui/later';
import { useList } from '../../ui/list';
import { useListingTools } from '../../ui/listing-tools';
import { Loading } from '../../ui/loading';
import { meantBy, useMarks } from '../../ui/marks';
import { Searched } from '../../ui/searched';
import { useShop } from '../../ui/shop';
import { textSorts } from '../../ui/table/field-columns';
import { DataTable } from '../../ui/table/table';
import { useListingsVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import { LISTING_SORTS, type ListingLine } from '../../work/memory/listing-list';
import { marketsOf } from '../../work/quoting/worth';
import { columnsFor } from './columns';
import { ListingsHead } from './listings-head';

const ListingDocket = later(() => import('./listing-docket').then((m) => m.ListingDocket));

const FIELDS = examplesOf('listing');

const TEXTS = ['title' as const, ...textSorts('listing')];

const keyOfRow = (row: ListingLine) => row.id;

export function Listings() {
  const shop = useShop();
  const now = useNow();
  const version = useListingsVersion();
  const list = useList({
    version,
    sorts: LISTING_SORTS,
    first: '-last',
    texts: TEXTS,
    search: searchListings,
  });
  const { found, row, asked, close } = list;
  const chosen = useAnswer(() => (row ? theShop().listing(row) : null), [row, version]);
  const marks = useMarks(found?.matches ?? 0);
  const { get, set } = useAddress();
  const grid = get('grid') === '1';
  const markets = useMemo(() => (shop ? marketsOf(shop) : []), [shop]);
  const tools = useListingTools(markets, null);
  const keysBetween = useCallback(
    (from: number, to: number) =>
      theShop().listingsRange({ ...asked(), offset: from, limit: to - from + 1 }, Date.now()),
    [asked],
  );
  const zone = shop?.settings.zone ?? 'UTC';
  const currencies = [...new Set(markets.map((m) => m.site.currency))].join();
  const minute = Math.floor(now / 60_000) * 60_000;
  const columns = useMemo(() => columnsFor(currencies, minute, zone), [currencies, minute, zone]);
  if (!found || !shop) return <Loading name="Listings" />;

  const { total } = found;
  const docket =
    tools.docket ?? (chosen && <ListingDocket row={chosen} shop={shop} now={now} onClose={close} />);
  return (
    <WithDocket docket={docket}>
      <section className="flex min-w-0 grow flex-col">
        <ListingsHead
          {...{ shop, found, marks, tools, grid }}
          some={meantBy(marks, found.query)}
          onGrid={() => set({ grid: grid ? '' : '1', row: '' })}
          onNeeding={() => list.setQuery('is:needing')}
        />
        {total === 0 ? (
          <Empty title="Nothing is on sale yet">
            <p>
              What you approve and publish on the Bench stands here, with its price, its profit, what the
              supplier has and what the buyer sees.
            </p>
            <p className="flex gap-4">
              <Link href="/bench" className="font-semibold text-river underline">
                Go to the Bench
              </Link>
              <Link href="/listings/bring-in" className="font-semibold text-river underline">
                Bring in a shop that sells already
              </Link>
            </p>
          </Empty>
        ) : grid ? (
          <GridList of="sold" fields={FIELDS} />
        ) : (
          <Searched list={list} fields={FIELDS}>
            <DataTable
              id="listings"
              label="Listings"
              columns={columns}
              keyOf={keyOfRow}
              {...list.table}
              marks={marks}
              keysBetween={keysBetween}
            />
          </Searched>
        )}
      </section>
    </WithDocket>
  );
}

const searchListings = (q: Parameters<ReturnType<typeof theShop>['listings']>[0]) =>
  theShop().listings(q, Date.now());
