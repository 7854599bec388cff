'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { useCallback, useMemo } from 'react';
import { optionsInWords } from '../../core/catalogue';
import { fold } from '../../core/copy';
import { convert, factorOf, formatMinor, formatMoney, formatShare, signOf } from '../../core/money';
import { compile, type Fields, parseQuery } from '../../core/query';
import { formatCount, whenOf } from '../../core/units';
import { db } from '../../store';
import { useAddress, useTyped } from '../../ui/address';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { PriceStrip } from '../../ui/price-strip';
import { say } from '../../ui/said';
import { SearchLine } from '../../ui/search-line';
import { marketsOf, suppliersOf, useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { type Column, column, DataTable, Two } from '../../ui/table';
import { work } from '../../work/browser';
import { runNow } from '../../work/connections/connections';
import { jobId } from '../../work/jobs/job';
import { allFullListings, type FullListing, titleOf } from '../../work/shop/full-listing';
import { marketOf, quoteListing, type Shop, sumAsPublished } from '../../work/shop/quote';
import { ListingDocket } from './listing-docket';
import type { ListingRow } from './rows';

const FIELDS = [
  { example: 'is:live', means: 'on sale' },
  { example: 'is:paused', means: 'paused, out of stock' },
  { example: 'is:held', means: 'needs you' },
  { example: 'is:loss', means: 'sells below cost' },
  { example: 'is:own', means: 'own price' },
  { example: 'is:unlinked', means: 'no supplier item linked' },
  { example: 'is:ended', means: 'ended on the marketplace' },
  { example: 'stock:<5', means: 'supplier has fewer than 5' },
  { example: 'margin:<15', means: 'margin under 15 %' },
  { example: 'moved:<24', means: 'moved within 24 hours' },
  { example: 'on:Loomhall', means: 'a marketplace' },
];

/** An amount of a row by which rows of several currencies sort. */
const worth = (r: ListingRow, minor: number | undefined) =>
  minor === undefined ? 0 : r.toBooks ? convert(minor, r.toBooks) : minor;

const SORTS: Record<string, (r: ListingRow) => number | string> = {
  title: (r) => r.title,
  landed: (r) => worth(r, r.sum?.landed),
  price: (r) => worth(r, r.listing.published?.price),
  profit: (r) => worth(r, r.sum?.profit),
  shown: (r) => r.item?.stock ?? 0,
  last: (r) => r.listing.last?.at ?? 0,
};

function searchFields(now: number): Fields<ListingRow> {
  return {
    is: {
      kind: 'flags',
      flags: ['live', 'paused', 'ended', 'held', 'loss', 'own', 'unlinked'],
      hint: '',
      get: (r, flag) => {
        if (flag === 'held') return r.listing.problem !== null;
        if (flag === 'loss') return (r.sum?.profit ?? 0) < 0;
        if (flag === 'own') return r.listing.ownPrice !== null;
        if (flag === 'unlinked') return !r.source;
        return r.listing.state === flag;
      },
    },
    stock: { kind: 'number', hint: '', get: (r) => r.item?.stock ?? null },
    price: { kind: 'number', scale: 100, hint: '', get: (r) => r.listing.published?.price ?? null },
    margin: { kind: 'number', hint: '', get: (r) => (r.sum ? (r.sum.profit * 100) / r.sum.price : null) },
    on: { kind: 'text', hint: '', get: (r) => r.market },
    moved: {
      kind: 'number',
      hint: '',
      get: (r) => (r.listing.last ? (now - r.listing.last.at) / 3_600_000 : null),
    },
  };
}

function rowsFor(full: readonly FullListing[], shop: Shop): ListingRow[] {
  return full.map((f) => {
    const quote = quoteListing(f, shop);
    const options = optionsInWords(f.variant.options);
    const market = marketOf(shop, f.listing.marketplace);
    const currency = market?.site.currency ?? shop.settings.currency;
    return {
      ...f,
      quote,
      sum: sumAsPublished(f.listing, quote),
      title: titleOf(f) + (options ? `, ${options}` : ''),
      currency,
      market: market?.name ?? f.listing.marketplace,
      toBooks: factorOf(shop.rates, currency, shop.settings.currency),
    };
  });
}

export function Listings() {
  const shop = useShop();
  const now = useNow();
  const { get, set } = useAddress();
  const read = useLiveQuery(async () =>
    allFullListings(db, await db.listings.where('state').anyOf(['live', 'paused', 'ended']).toArray()),
  );
  const rows = useMemo(() => (shop && read ? rowsFor(read, shop) : null), [shop, read]);
  const [query, setQuery] = useTyped('q');
  const hour = Math.floor(now / 60_000);
  const { test, problems } = useMemo(
    () =>
      compile(parseQuery(query), searchFields(hour * 60_000), (r) =>
        fold(`${r.title} ${r.listing.sku} ${r.source?.item ?? ''}`),
      ),
    [query, hour],
  );
  const sort = get('sort');
  // Names come from the address: only columns of ours are sorted by, no names of Object's.
  const by = Object.hasOwn(SORTS, sort.replace('-', '')) ? sort.replace('-', '') : 'last';
  const descending = sort ? sort.startsWith('-') : true;
  const found = useMemo(() => {
    const value = SORTS[by]!;
    const turn = descending ? -1 : 1;
    return (rows?.filter(test) ?? []).sort((a, b) => {
      const [x, y] = [value(a), value(b)];
      return x < y ? -turn : x > y ? turn : a.listing.id < b.listing.id ? -1 : 1;
    });
  }, [rows, test, by, descending]);
  const choose = useCallback((row: string) => set({ row }), [set]);
  const zone = shop?.settings.zone ?? 'UTC';
  const currencies = shop ? [...new Set(marketsOf(shop).map((m) => m.site.currency))].join() : '';
  const columns = useMemo(() => columnsFor(currencies, now, zone), [currencies, now, zone]);
  if (!rows || !shop) return null;

  const unlinked = rows.filter((r) => !r.source).length;
  const ended = rows.filter((r) => r.listing.state === 'ended').length;
  const live = rows.filter((r) => r.listing.state === 'live').length;
  const held = rows.filter(
    (r) => r.listing.problem !== null || ((r.sum?.profit ?? 0) < 0 && r.listing.state === 'live'),
  ).length;
  const chosen = rows.find((r) => r.listing.id === get('row'));
  const check = async () => {
    for (const s of suppliersOf(shop)) await runNow(work, jobId(s.id, 'catalogue'));
    await say('The suppliers are read now; prices and quantities follow.');
  };
  return (
    <>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name="Listings"
          state={
            <>
              {formatCount(rows.length)} on {placesInWords(shop)}: {formatCount(live)} live,{' '}
              {formatCount(rows.length - live - ended)} paused
              {ended > 0 && `, ${formatCount(ended)} ended`}
              {unlinked > 0 && (
                <>
                  ,{' '}
                  <Link href="/listings/bring-in" className="font-semibold text-lamp underline">
                    {formatCount(unlinked)} not linked
                  </Link>
                </>
              )}
              {held > 0 && (
                <>
                  , <NeedsYou>{formatCount(held)} need you</NeedsYou>
                </>
              )}
            </>
          }
        >
          <Link
            href="/listings/bring-in"
            className="rounded-sm border border-edge px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap text-river hover:bg-river-soft"
          >
            Bring in a shop
          </Link>
          <Button kind="main" disabled={!rows.length} onClick={check}>
            Read suppliers now
          </Button>
        </Head>
        {rows.length === 0 ? (
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
            {found.length === 0 ? (
              <Empty title="Nothing matches">
                <Button onClick={() => setQuery('')}>Empty the search</Button>
              </Empty>
            ) : (
              <DataTable
                label="Listings"
                columns={columns}
                count={found.length}
                rowAt={(i) => found[i]}
                keyOf={(r) => r.listing.id}
                chosen={get('row')}
                onChoose={choose}
                sort={{ by, descending }}
                onSort={(next) =>
                  set({
                    sort:
                      next === by && descending
                        ? next
                        : next === by
                          ? `-${next}`
                          : next === 'title'
                            ? next
                            : `-${next}`,
                  })
                }
              />
            )}
          </>
        )}
      </section>
      {chosen && <ListingDocket row={chosen} shop={shop} now={now} onClose={() => set({ row: '' })} />}
    </>
  );
}

function placesInWords(shop: Shop): string {
  const names = marketsOf(shop).map((m) => m.name);
  return names.length > 2 ? `${names.length} marketplaces` : names.join(' and ') || 'no marketplace';
}

/** @param currencies of the marketplaces, by commas: where there is one alone it need not stand in each row */
function columnsFor(currencies: string, now: number, zone: string): Column<ListingRow>[] {
  const one = !currencies.includes(',');
  const sign = one ? ` ${signOf(currencies)}` : '';
  const m = (r: ListingRow, minor: number) =>
    one ? formatMinor(minor, r.currency) : formatMoney({ minor, currency: r.currency });
  return [
    column<ListingRow>(
      'title',
      'Listing',
      'minmax(190px,1fr)',
      (r) => (
        <Two
          top={r.title}
          under={
            <>
              {!one && `${r.market} · `}
              <span className="font-mono">{r.listing.sku}</span>
            </>
          }
        />
      ),
      { sort: true },
    ),
    column<ListingRow>('landed', `Landed${sign}`, '84px', (r) => (r.sum ? m(r, r.sum.landed) : ''), {
      right: true,
      sort: true,
    }),
    column<ListingRow>(
      'price',
      `Price${sign}`,
      '78px',
      (r) => <b className="font-semibold">{r.listing.published ? m(r, r.listing.published.price) : ''}</b>,
      {
        right: true,
        sort: true,
      },
    ),
    column<ListingRow>(
      'strip',
      'Price strip',
      '144px',
      (r) =>
        r.sum && (
          <PriceStrip
            sum={r.sum}
            breakEven={r.quote?.breakEven ?? null}
            currency={r.currency}
            map={r.quote?.map}
            msrp={r.quote?.msrp}
          />
        ),
      { from: 600 },
    ),
    column<ListingRow>(
      'profit',
      `Profit${sign}`,
      '78px',
      (r) =>
        r.sum && (
          <Two
            top={
              <span className={r.sum.profit < 0 ? 'font-semibold text-loss' : 'text-river'}>
                {formatMinor(r.sum.profit, r.currency, true)}
              </span>
            }
            under={formatShare(r.sum.profit, r.sum.price)}
          />
        ),
      { right: true, sort: true },
    ),
    column<ListingRow>(
      'shown',
      'Shown of stock',
      '112px',
      (r) =>
        r.source
          ? `${r.listing.published?.quantity ?? 0} of ${formatCount(r.item?.stock ?? 0)}`
          : `${r.listing.published?.quantity ?? 0}`,
      {
        right: true,
        sort: true,
        from: 600,
      },
    ),
    column<ListingRow>(
      'last',
      'State and last move',
      'minmax(150px,0.9fr)',
      (r) => (
        <Two
          top={<ListingState row={r} />}
          under={
            r.listing.last && now ? (
              <span title={r.listing.last.says}>
                {whenOf(r.listing.last.at, now, zone)} · {r.listing.last.says}
              </span>
            ) : (
              ''
            )
          }
        />
      ),
      { sort: true, from: 600 },
    ),
  ];
}

function ListingState({ row: { listing, source, sum } }: { row: ListingRow }) {
  if (listing.state === 'ended') return <StateMark tone="waits">Ended</StateMark>;
  if (!source) return <StateMark tone="person">Not linked</StateMark>;
  if (listing.problem)
    return (
      <StateMark tone="person">
        {listing.state === 'paused' ? 'Held back, none shown' : 'Held at this price'}
      </StateMark>
    );
  if (listing.state === 'paused') return <StateMark tone="waits">Paused, out of stock</StateMark>;
  if (sum && sum.profit < 0) return <StateMark tone="loss">Live, below cost</StateMark>;
  return <StateMark tone="well">{listing.ownPrice === null ? 'Live' : 'Live, own price'}</StateMark>;
}
