'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { useCallback, useMemo } from 'react';
import { fold } from '../../core/copy';
import { formatMinor, formatMoney, formatShare, signOf } from '../../core/money';
import { compile, type Fields, parseQuery } from '../../core/query';
import { countOf, formatCount } from '../../core/units';
import { db } from '../../store';
import { useAddress, useTyped } from '../../ui/address';
import { Button } from '../../ui/button';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { useMarks } from '../../ui/marks';
import { PriceStrip } from '../../ui/price-strip';
import { say } from '../../ui/said';
import { SearchLine } from '../../ui/search-line';
import { marketsOf, useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { type Column, column, DataTable, Two } from '../../ui/table';
import { work } from '../../work/browser';
import { approve, benchStanding, isOnBench, publish, putBack } from '../../work/listings/bench';
import { titleOf } from '../../work/shop/full-listing';
import { marketOf, type Shop } from '../../work/shop/quote';
import { BenchDocket } from './bench-docket';
import { type BenchRow, readBench } from './rows';

const FIELDS = [
  { example: 'is:ready', means: 'lacks nothing' },
  { example: 'is:lacking', means: 'lacks something' },
  { example: 'is:approved', means: 'approved' },
  { example: 'is:refused', means: 'refused by the marketplace' },
  { example: 'price:10..30', means: 'price from 10 to 30' },
  { example: 'margin:<20', means: 'margin under 20 %' },
];

const SEARCH: Fields<BenchRow> = {
  is: {
    kind: 'flags',
    flags: ['ready', 'lacking', 'approved', 'refused', 'publishing'],
    hint: '',
    get: (r, flag) => {
      if (flag === 'ready') return r.standing.ready && !r.approved;
      if (flag === 'lacking') return !r.standing.ready && r.publishing === 0;
      if (flag === 'approved') return r.approved;
      if (flag === 'publishing') return r.publishing > 0;
      return r.refused > 0;
    },
  },
  price: { kind: 'number', scale: 100, hint: '', get: (r) => r.quote?.price ?? null },
  margin: {
    kind: 'number',
    hint: '',
    get: (r) => (r.quote?.sum ? (r.quote.sum.profit * 100) / r.quote.sum.price : null),
  },
};

export function Bench() {
  const shop = useShop();
  const { get, set } = useAddress();
  const read = useLiveQuery(() => readBench(db), []);
  const rows = useMemo(() => (shop && read ? rowsFor(read, shop) : null), [shop, read]);
  const [query, setQuery] = useTyped('q');
  const { test, problems } = useMemo(
    () =>
      compile(parseQuery(query), SEARCH, (r) =>
        fold(`${r.title} ${r.full.map((f) => `${f.listing.sku} ${f.source?.item ?? ''}`).join(' ')}`),
      ),
    [query],
  );
  const found = useMemo(() => rows?.filter(test) ?? [], [rows, test]);
  const marks = useMarks(found.length);
  const choose = useCallback((row: string) => set({ row }), [set]);
  const columns = useMemo(() => columnsFor(shop), [shop]);
  if (!rows || !shop) return null;

  const ready = rows.filter((r) => r.standing.ready && !r.approved);
  const lacking = rows.filter((r) => !r.standing.ready && r.publishing === 0);
  const approved = rows.filter((r) => r.approved && r.publishing === 0 && r.refused < r.listings.length);
  const publishing = rows.reduce((n, r) => n + r.publishing, 0);
  const marked = marks.size ? found.filter((r) => marks.has(r.key)) : [];
  const toApprove = (marked.length ? marked : ready).filter((r) => r.standing.ready && !r.approved);
  const toPublish = (marked.length ? marked : approved).filter((r) => r.approved && r.publishing === 0);

  const onApprove = async () => {
    const done = await approve(
      work,
      toApprove.flatMap((r) => r.listings.map((l) => l.id)),
    );
    marks.clear();
    await say(
      `${countOf(done.approved, 'product')} approved${done.lacking ? `; ${done.lacking} lack something` : ''}.`,
      {
        undo: done.approved > 0,
      },
    );
  };
  const onPublish = async () => {
    const done = await publish(
      work,
      toPublish.flatMap((r) => r.listings.map((l) => l.id)),
    );
    marks.clear();
    await say(
      `${countOf(done.queued, 'listing')} on the way${done.left ? `; ${done.left} stayed` : ''}. Each result shows in its row.`,
    );
  };
  const onPutBack = async () => {
    const n = await putBack(
      work,
      marked.flatMap((r) => r.listings.map((l) => l.id)),
    );
    marks.clear();
    set({ row: '' });
    await say(`${countOf(n, 'product')} put back.`, { undo: true });
  };
  const chosen = rows.find((r) => r.key === get('row'));
  return (
    <>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name="Bench"
          state={
            rows.length === 0 ? (
              'Nothing here.'
            ) : (
              <>
                {formatCount(rows.length)} here: {formatCount(ready.length)} ready,{' '}
                {formatCount(approved.length)} approved
                {publishing > 0 && `, ${formatCount(publishing)} being published`}
                {lacking.length > 0 && (
                  <>
                    , <NeedsYou>{formatCount(lacking.length)} need something</NeedsYou>
                  </>
                )}
              </>
            )
          }
        >
          {marked.length > 0 && (
            <>
              <span className="text-[13.5px]">
                {marks.all && !marks.except.size
                  ? `all ${formatCount(marked.length)} matches`
                  : formatCount(marked.length)}{' '}
                marked
              </span>
              <Button kind="text" onClick={marks.clear}>
                Clear
              </Button>
              <Button onClick={onPutBack}>Put {formatCount(marked.length)} back</Button>
            </>
          )}
          {!marks.all && found.length > 1 && (
            <Button onClick={marks.markAll}>Mark all {formatCount(found.length)}</Button>
          )}
          <Button kind={toPublish.length ? 'quiet' : 'main'} disabled={!toApprove.length} onClick={onApprove}>
            Approve {formatCount(toApprove.length)}
          </Button>
          <Button kind="main" disabled={!toPublish.length} onClick={onPublish}>
            Publish {formatCount(toPublish.length)}
          </Button>
        </Head>
        {rows.length === 0 ? (
          <Empty title="The Bench is clear">
            <p>
              Goods you take at Source wait here until they are fit to sell: text, category, price. Nothing
              reaches a marketplace before you approve it.
            </p>
            <Link href="/source" className="font-semibold text-river underline">
              Take goods at Source
            </Link>
          </Empty>
        ) : (
          <>
            <SearchLine
              value={query}
              onChange={setQuery}
              placeholder="a word, a SKU or field:value"
              fields={FIELDS}
              matches={found.length}
              problems={problems}
            />
            <DataTable
              label="Bench"
              columns={columns}
              count={found.length}
              rowAt={(i) => found[i]}
              keyOf={(r) => r.key}
              chosen={get('row')}
              onChoose={choose}
              marks={marks}
            />
          </>
        )}
      </section>
      {chosen && <BenchDocket row={chosen} shop={shop} onClose={() => set({ row: '' })} />}
    </>
  );
}

function rowsFor(read: Awaited<ReturnType<typeof readBench>>, shop: Shop): BenchRow[] {
  return read.map(({ key, full }) => {
    const listings = full.map((f) => f.listing);
    const standing = benchStanding(
      full.filter((f) => isOnBench(f.listing)),
      shop,
    );
    const prices = standing.variants.flatMap((v) => (v.quote?.price ? [v.quote] : []));
    const quote = prices.sort((a, b) => a.price! - b.price!)[0] ?? standing.variants[0]?.quote ?? null;
    return {
      key,
      product: full[0]!.product,
      listings,
      full,
      standing,
      quote,
      site: marketOf(shop, listings[0]!.marketplace)?.site,
      title: titleOf(full[0]!),
      approved: listings.every((l) => l.approvedAt !== null),
      publishing: listings.filter((l) => l.state === 'publishing').length,
      refused: listings.filter((l) => l.state === 'refused').length,
    };
  });
}

function columnsFor(shop: Shop | undefined): Column<BenchRow>[] {
  const markets = shop ? marketsOf(shop) : [];
  // Where all sell in one currency it need not stand in each row.
  const one = new Set(markets.map((c) => c.site.currency)).size === 1;
  const sign = one ? ` ${signOf(markets[0]!.site.currency)}` : '';
  const currencyOf = (r: BenchRow) => r.site?.currency ?? 'GBP';
  const m = (r: BenchRow, minor: number) =>
    one ? formatMinor(minor, currencyOf(r)) : formatMoney({ minor, currency: currencyOf(r) });
  return [
    column<BenchRow>('title', 'Product', 'minmax(200px,1fr)', (r) => (
      <Two
        top={r.title}
        under={
          <>
            {markets.length > 1 && `${r.site?.name ?? ''} · `}
            <span className="font-mono">{r.listings[0]?.sku}</span>
            {r.listings.length > 1 ? ` and ${r.listings.length - 1} more variants` : ''}
          </>
        }
      />
    )),
    column<BenchRow>(
      'landed',
      `Landed${sign}`,
      '84px',
      (r) => (r.quote?.sum ? m(r, r.quote.sum.landed) : ''),
      {
        right: true,
      },
    ),
    column<BenchRow>(
      'price',
      `Price${sign}`,
      '104px',
      (r) =>
        r.quote?.price ? (
          <b className="font-semibold">
            {r.listings.length > 1 ? 'from ' : ''}
            {m(r, r.quote.price)}
          </b>
        ) : (
          <span className="text-muted">none</span>
        ),
      { right: true },
    ),
    column<BenchRow>(
      'strip',
      'Price strip',
      '144px',
      (r) =>
        r.quote?.sum && (
          <PriceStrip
            sum={r.quote.sum}
            breakEven={r.quote.breakEven}
            currency={currencyOf(r)}
            map={r.quote.map}
            msrp={r.quote.msrp}
          />
        ),
      { from: 800 },
    ),
    column<BenchRow>(
      'profit',
      `Profit${sign}`,
      '88px',
      (r) =>
        r.quote?.sum && (
          <Two
            top={
              <span className={r.quote.sum.profit < 0 ? 'font-semibold text-loss' : 'text-river'}>
                {formatMinor(r.quote.sum.profit, currencyOf(r), true)}
              </span>
            }
            under={formatShare(r.quote.sum.profit, r.quote.sum.price)}
          />
        ),
      { right: true },
    ),
    column<BenchRow>('state', 'State', 'minmax(140px,0.7fr)', (r) => {
      if (r.publishing) return <StateMark tone="waits">Being published, {r.publishing} to go</StateMark>;
      if (r.refused)
        return (
          <StateMark tone="person">
            Refused: {r.listings.find((l) => l.state === 'refused')?.problem}
          </StateMark>
        );
      if (!r.standing.ready)
        return <StateMark tone="person">{r.standing.missing[0]?.reason ?? 'Not connected'}</StateMark>;
      if (r.approved) return <StateMark tone="well">Approved, not published</StateMark>;
      return <StateMark tone="waits">Ready to approve</StateMark>;
    }),
  ];
}
