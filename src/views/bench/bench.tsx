'use client';
import Link from 'next/link';
import { useCallback, useMemo, useState } from 'react';
import { decimalOf, formatMinor, formatMoney, formatShare, signOf } from '../../core/money';
import { countOf, formatCount } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { type Column, Two } from '../../ui/column';
import { CopyDocket } from '../../ui/copy-docket';
import { WithDocket } from '../../ui/docket';
import { EditDocket } from '../../ui/edit-docket';
import { EditsFileDocket, EditsFileMenu } from '../../ui/edits-file';
import { Goods } from '../../ui/goods';
import { GridList } from '../../ui/grid-list';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { useList } from '../../ui/list';
import { useMarks } from '../../ui/marks';
import { PriceStrip } from '../../ui/price-strip';
import { say } from '../../ui/said';
import { SearchLine } from '../../ui/search-line';
import { marketsOf, useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { DataTable } from '../../ui/table';
import { useListingsVersion } from '../../ui/versions';
import { BENCH_SORTS, type BenchLine, type BenchState } from '../../work/assortment/bench-list';
import type { Meant } from '../../work/assortment/listing-list';
import { theShop } from '../../work/clients';
import type { Where } from '../../work/shop.worker';
import { BenchDocket } from './bench-docket';

const FIELDS = [
  { example: 'is:ready', means: 'lacks nothing' },
  { example: 'is:lacking', means: 'lacks something' },
  { example: 'is:approved', means: 'approved' },
  { example: 'is:refused', means: 'refused by the marketplace' },
  { example: 'price:10..30', means: 'price from 10 to 30' },
  { example: 'margin:<20', means: 'margin under 20 %' },
];

const TEXTS = ['title'] as const;

const keyOfRow = (row: BenchLine) => row.key;

const searchBench = (q: Parameters<ReturnType<typeof theShop>['bench']>[0]) => theShop().bench(q);

export function Bench() {
  const shop = useShop();
  const version = useListingsVersion();
  const list = useList({ version, sorts: BENCH_SORTS, first: '-taken', texts: TEXTS, search: searchBench });
  const { found, row, asked, close } = list;
  const marks = useMarks(found?.matches ?? 0);
  const chosen = useAnswer(() => (row ? theShop().benchProduct(row) : null), [row, version]);
  const keysBetween = useCallback(
    (from: number, to: number) => theShop().benchRange({ ...asked(), offset: from, limit: to - from + 1 }),
    [asked],
  );
  const markets = shop ? marketsOf(shop) : [];
  const currencies = [...new Set(markets.map((c) => c.site.currency))].join();
  const several = markets.length > 1;
  const columns = useMemo(() => columnsFor(currencies, several), [currencies, several]);
  const [busy, setBusy] = useState('');
  const { get, set } = useAddress();
  const grid = get('grid') === '1';
  const [file, setFile] = useState<File | null>(null);
  const [copying, setCopying] = useState(false);
  const [editing, setEditing] = useState<Where | null>(null);
  if (!found || !shop) return null;

  const { total, ready, lacking, approved, publishing } = found;
  const some: Meant | null = marks.all
    ? { query: asked().query, except: [...marks.except] }
    : marks.size
      ? { keys: marks.keys() }
      : null;
  const act = async <T,>(
    doing: string,
    done: Promise<T>,
    words: (got: T) => string,
    undo: (got: T) => boolean,
  ) => {
    setBusy(doing);
    try {
      const got = await done;
      marks.clear();
      await say(words(got), { undo: undo(got) });
    } catch (error) {
      await say(error instanceof Error ? error.message : String(error), { wrong: true });
    }
    setBusy('');
  };
  const onApprove = () =>
    act(
      'Approving …',
      theShop().approveMeant(some ?? { query: 'is:ready' }),
      (done) =>
        `${countOf(done.approved, 'product')} approved${done.lacking ? `; ${done.lacking} lack something` : ''}.`,
      (done) => done.approved > 0,
    );
  const onPublish = () =>
    act(
      'Queueing …',
      theShop().publishMeant(some ?? { query: 'is:approved' }),
      (done) =>
        `${countOf(done.queued, 'listing')} on the way${done.left ? `; ${done.left} stayed` : ''}. Each result shows in its row.`,
      () => false,
    );
  const onPutBack = async () => {
    close();
    await act(
      'Putting back …',
      theShop().putBackMeant(some!),
      (n) => `${countOf(n, 'product')} put back.`,
      () => true,
    );
  };
  const docket = file ? (
    <EditsFileDocket file={file} onClose={() => setFile(null)} />
  ) : copying ? (
    <CopyDocket
      where={some && { view: 'bench', rows: some }}
      count={marks.size}
      onClose={() => setCopying(false)}
    />
  ) : editing ? (
    <EditDocket
      where={editing}
      count={marks.size}
      onClose={() => setEditing(null)}
      onDone={() => setEditing(null)}
    />
  ) : (
    chosen && <BenchDocket row={chosen} shop={shop} onClose={close} />
  );
  const toApprove = some ? marks.size : ready;
  const toPublish = some ? marks.size : approved;
  return (
    <WithDocket docket={docket}>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name="Bench"
          state={
            busy ? (
              <span role="status">{busy}</span>
            ) : total === 0 ? (
              'Nothing here.'
            ) : (
              <>
                {formatCount(total)} here: {formatCount(ready)} ready, {formatCount(approved)} approved
                {publishing > 0 && `, ${formatCount(publishing)} being published`}
                {lacking > 0 && (
                  <>
                    , <NeedsYou>{formatCount(lacking)} need something</NeedsYou>
                  </>
                )}
              </>
            )
          }
        >
          {marks.size > 0 && (
            <>
              <span className="text-[13.5px]">
                {marks.all && !marks.except.size
                  ? `all ${formatCount(marks.size)} matches`
                  : formatCount(marks.size)}{' '}
                marked
              </span>
              <Button kind="text" onClick={marks.clear}>
                Clear
              </Button>
              <Button disabled={busy !== ''} onClick={() => setEditing({ view: 'bench', rows: some! })}>
                Edit {formatCount(marks.size)}
              </Button>
              <Button disabled={busy !== ''} onClick={onPutBack}>
                Put {formatCount(marks.size)} back
              </Button>
            </>
          )}
          {total > 0 && (
            <>
              <Button onClick={() => setCopying(true)}>Copy templates</Button>
              <Button aria-pressed={grid} onClick={() => set({ grid: grid ? '' : '1', row: '' })}>
                {grid ? 'Table' : 'Grid'}
              </Button>
              <EditsFileMenu
                where={{ view: 'bench', rows: some ?? { query: asked().query } }}
                count={marks.size || found.matches}
                onFile={setFile}
              />
            </>
          )}
          {!grid && !marks.all && found.matches > 1 && (
            <Button onClick={marks.markAll}>Mark all {formatCount(found.matches)}</Button>
          )}
          <Button
            kind={toPublish ? 'quiet' : 'main'}
            disabled={!toApprove || busy !== ''}
            onClick={onApprove}
          >
            Approve {formatCount(toApprove)}
          </Button>
          <Button kind="main" disabled={!toPublish || busy !== ''} onClick={onPublish}>
            Publish {formatCount(toPublish)}
          </Button>
        </Head>
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
          <GridList of="bench" fields={FIELDS} />
        ) : (
          <>
            <SearchLine
              {...list.line}
              placeholder="a word, a SKU or field:value"
              fields={FIELDS}
              matches={found.matches}
              problems={found.problems}
            />
            {found.matches === 0 ? (
              <Empty title="Nothing matches">
                <Button onClick={() => list.setQuery('')}>Clear the search</Button>
              </Empty>
            ) : (
              <DataTable
                id="bench"
                label="Bench"
                columns={columns}
                keyOf={keyOfRow}
                {...list.table}
                marks={marks}
                keysBetween={keysBetween}
              />
            )}
          </>
        )}
      </section>
    </WithDocket>
  );
}

/** @param currencies of the marketplaces, by commas: where there is one alone it need not stand in each row */
function columnsFor(currencies: string, several: boolean): Column<BenchLine>[] {
  const one = !currencies.includes(',');
  const sign = one ? ` ${signOf(currencies)}` : '';
  const m = (r: BenchLine, minor: number) =>
    one ? formatMinor(minor, r.currency) : formatMoney({ minor, currency: r.currency });
  return [
    {
      id: 'title',
      header: 'Product',
      size: 280,
      grows: true,
      rank: 0,
      sort: true,
      value: (r) => r.title,
      cell: (r) => (
        <Goods
          picture={r.picture}
          title={r.title}
          under={
            <>
              {several && `${r.market} · `}
              <span className="font-mono">{r.sku}</span>
              {r.variants > 1 ? ` and ${r.variants - 1} more variants` : ''}
            </>
          }
        />
      ),
    },
    {
      id: 'landed',
      header: `Landed${sign}`,
      size: 84,
      rank: 5,
      right: true,
      value: (r) => r.strip && decimalOf(r.strip.sum.landed, r.currency),
      cell: (r) => r.strip && m(r, r.strip.sum.landed),
    },
    {
      id: 'price',
      header: `Price${sign}`,
      size: 116,
      rank: 1,
      right: true,
      sort: true,
      value: (r) => r.price && decimalOf(r.price, r.currency),
      cell: (r) =>
        r.price ? (
          <b className="font-semibold">
            {r.variants > 1 ? 'from ' : ''}
            {m(r, r.price)}
          </b>
        ) : (
          <span className="text-muted">none</span>
        ),
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
      size: 88,
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
      id: 'state',
      header: 'State',
      size: 180,
      grows: true,
      rank: 1,
      value: (r) => r.state.is,
      cell: (r) => <Standing state={r.state} />,
    },
  ];
}

function Standing({ state }: { state: BenchState }) {
  switch (state.is) {
    case 'publishing':
      return <StateMark tone="waits">Being published, {state.left} to go</StateMark>;
    case 'refused':
      return <StateMark tone="person">Refused: {state.why}</StateMark>;
    case 'lacking':
      return <StateMark tone="person">{state.what}</StateMark>;
    case 'approved':
      return <StateMark tone="well">Approved, not published</StateMark>;
    case 'ready':
      return <StateMark tone="waits">Ready to approve</StateMark>;
  }
}
