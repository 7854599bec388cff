'use client';
import Link from 'next/link';
import { useCallback, useMemo, useState } from 'react';
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
import { BENCH_SORTS, type BenchLine } from '../../work/memory/bench-lines';
import { marketsOf } from '../../work/quoting/worth';
import { useBenchActs } from './acts';
import { BenchHead } from './bench-head';
import { columnsFor } from './columns';

const BenchDocket = later(() => import('./bench-docket').then((m) => m.BenchDocket));

const FIELDS = examplesOf('bench');

const TEXTS = ['title' as const, ...textSorts('bench')];

const keyOfRow = (row: BenchLine) => row.key;

const searchBench = (q: Parameters<ReturnType<typeof theShop>['bench']>[0]) => theShop().bench(q);

export function Bench() {
  const shop = useShop();
  const version = useListingsVersion();
  const { get, set } = useAddress();
  const named = get('for');
  const all = useMemo(() => (shop ? marketsOf(shop) : []), [shop]);
  const market = all.some((m) => m.id === named) ? named : null;
  const more = useMemo(() => ({ market }), [market]);
  const list = useList({
    version,
    sorts: BENCH_SORTS,
    first: '-taken',
    texts: TEXTS,
    more,
    search: searchBench,
  });
  const { found, row, asked, close } = list;
  const marks = useMarks(found?.matches ?? 0);
  const [looked, setLooked] = useState<string | null>(null);
  const chosen = useAnswer(
    () => (row ? theShop().benchProduct(row, market ?? looked) : null),
    [row, market, looked, version],
  );
  const keysBetween = useCallback(
    (from: number, to: number) => theShop().benchRange({ ...asked(), offset: from, limit: to - from + 1 }),
    [asked],
  );
  const now = useNow();
  const zone = shop?.settings.zone ?? 'UTC';
  const minute = Math.floor(now / 60_000) * 60_000;
  const columns = useMemo(() => columnsFor(all, market, minute, zone), [all, market, minute, zone]);
  const grid = get('grid') === '1';
  const tools = useListingTools(all, market);
  const some = meantBy(marks, found?.query ?? '');
  const acts = useBenchActs(some, found?.query ?? '', market, now, zone, marks.clear);
  if (!found || !shop) return <Loading name="Bench" />;

  const { total } = found;
  const docket =
    tools.docket ??
    (chosen && (
      <BenchDocket
        key={`${chosen.key} ${chosen.market.id}`}
        row={chosen}
        shop={shop}
        onMarket={(id) => (market === null ? setLooked(id) : set({ for: id }))}
        onClose={close}
      />
    ));
  return (
    <WithDocket docket={docket}>
      <section className="flex min-w-0 grow flex-col">
        <BenchHead
          {...{ found, market, marks, some, tools, grid, now, zone }}
          markets={all}
          acts={{
            ...acts,
            putBack: () => {
              close();
              acts.putBack();
            },
          }}
          onMarket={(id) => set({ for: id })}
          onGrid={() => set({ grid: grid ? '' : '1', row: '' })}
        />
        {total === 0 ? (
          <Empty title="The Bench is clear">
            <p>
              Goods you take at Source wait here until they are fit to sell: text, category, price. Nothing
              reaches a marketplace before you approve it.
            </p>
            <Link href="/source" className="font-semibold text-river underline">
              Take goods at Source
            </Link>
          </Empty>
        ) : grid ? (
          <GridList of="bench" market={market} fields={FIELDS} />
        ) : (
          <Searched list={list} fields={FIELDS}>
            <DataTable
              id="bench"
              label="Bench"
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
