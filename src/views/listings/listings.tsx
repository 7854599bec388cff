'use client';
import Link from 'next/link';
import { useCallback, useMemo, useState } from 'react';
import { decimalOf, formatMinor, formatMoney, formatShare, parsePrice, signOf } from '../../core/money';
import { countOf, formatCount, whenOf } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { type Column, Two } from '../../ui/column';
import type { Copying } from '../../ui/copy-docket';
import { WithDocket } from '../../ui/docket';
import {
  CategoriesDocket,
  CopyDocket,
  EditDocket,
  EditsFileDocket,
  GridList,
  PresetsDocket,
} from '../../ui/dockets';
import { EditsFileMenu } from '../../ui/edits-file-menu';
import { Goods } from '../../ui/goods';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { later } from '../../ui/later';
import { useList } from '../../ui/list';
import { MarkedCount } from '../../ui/marked-count';
import { useMarks } from '../../ui/marks';
import { Menu } from '../../ui/menu';
import { PriceStrip } from '../../ui/price-strip';
import { say } from '../../ui/said';
import { Searched } from '../../ui/searched';
import { useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { DataTable } from '../../ui/table';
import { useListingsVersion } from '../../ui/versions';
import { LISTING_SORTS, type ListingLine, type Meant } from '../../work/assortment/listing-list';
import { work } from '../../work/browser';
import { theShop } from '../../work/clients';
import { jobId } from '../../work/jobs/job';
import { runNow } from '../../work/jobs/schedule';
import type { ShopTerms } from '../../work/shop/quote';
import { marketsOf, suppliersOf } from '../../work/shop/terms';
import type { Where } from '../../work/shop.worker';

const ListingDocket = later(() => import('./listing-docket').then((m) => m.ListingDocket));

const FIELDS = [
  { example: 'is:live', means: 'on sale' },
  { example: 'is:paused', means: 'paused, out of stock' },
  { example: 'is:held', means: 'needs you' },
  { example: 'is:step', means: 'a price step waits for you' },
  { example: 'is:loss', means: 'sells below cost' },
  { example: 'is:own', means: 'own price' },
  { example: 'is:unlinked', means: 'no supplier item linked' },
  { example: 'is:edited', means: 'edited on the marketplace itself' },
  { example: 'is:changed', means: 'text not yet sent' },
  { example: 'is:ended', means: 'ended on the marketplace' },
  { example: 'stock:<5', means: 'supplier has fewer than 5' },
  { example: 'margin:<15', means: 'margin under 15 %' },
  { example: 'moved:<24', means: 'moved within 24 hours' },
  { example: 'on:Loomhall', means: 'a marketplace' },
  { example: 'supplier:Hollin', means: 'a supplier' },
  { example: 'brand:Fellmoor', means: 'a brand' },
];

const TEXTS = ['title'] as const;

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
  const [copying, setCopying] = useState<Copying | null>(null);
  const [setting, setSetting] = useState<'presets' | 'categories' | null>(null);
  const markets = useMemo(() => (shop ? marketsOf(shop) : []), [shop]);
  const [file, setFile] = useState<File | null>(null);
  const [editing, setEditing] = useState<Where | null>(null);
  const keysBetween = useCallback(
    (from: number, to: number) =>
      theShop().listingsRange({ ...asked(), offset: from, limit: to - from + 1 }, Date.now()),
    [asked],
  );
  const zone = shop?.settings.zone ?? 'UTC';
  const currencies = shop ? [...new Set(marketsOf(shop).map((m) => m.site.currency))].join() : '';
  const minute = Math.floor(now / 60_000) * 60_000;
  const columns = useMemo(() => columnsFor(currencies, minute, zone), [currencies, minute, zone]);
  if (!found || !shop) return null;

  const { total, live, paused, ended, unlinked, needYou, steps } = found;
  const some: Meant = marks.all
    ? { query: asked().query, except: [...marks.except] }
    : { keys: marks.keys() };
  const onSteps = async (what: Meant) => {
    const n = await theShop().settleStepsMeant(what, true);
    marks.clear();
    await say(`${countOf(n, 'price step')} approved.`, { undo: n > 0 });
  };
  const onSale = async (act: 'endMeant' | 'bringBackMeant' | 'takeOutMeant', done: string) => {
    const n = await theShop()[act](some);
    marks.clear();
    await say(n ? `${countOf(n, 'listing')} ${done}.` : NOTHING_TO_DO[act], { undo: n > 0 });
  };
  const docket = file ? (
    <EditsFileDocket file={file} onClose={() => setFile(null)} />
  ) : setting === 'categories' ? (
    <CategoriesDocket markets={markets} first={null} onClose={() => setSetting(null)} />
  ) : setting === 'presets' ? (
    <PresetsDocket markets={markets} first={null} onClose={() => setSetting(null)} />
  ) : copying ? (
    <CopyDocket {...copying} onClose={() => setCopying(null)} />
  ) : editing ? (
    <EditDocket
      where={editing}
      count={marks.size}
      onClose={() => setEditing(null)}
      onDone={() => setEditing(null)}
    />
  ) : (
    chosen && <ListingDocket row={chosen} shop={shop} now={now} onClose={close} />
  );
  const check = async () => {
    for (const s of suppliersOf(shop)) await runNow(work, jobId(s.id, 'catalogue'));
    await say('The suppliers are read now; prices and quantities follow.');
  };
  return (
    <WithDocket docket={docket}>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name="Listings"
          state={
            <>
              {formatCount(total)} on {placesInWords(shop)}: {formatCount(live)} live, {formatCount(paused)}{' '}
              paused
              {ended > 0 && `, ${formatCount(ended)} ended`}
              {unlinked > 0 && (
                <>
                  ,{' '}
                  <Link href="/listings/bring-in" className="font-semibold text-lamp underline">
                    {formatCount(unlinked)} not linked
                  </Link>
                </>
              )}
              {needYou > 0 && (
                <>
                  , <NeedsYou>{formatCount(needYou)} need you</NeedsYou>
                </>
              )}
            </>
          }
        >
          {steps > 0 && (
            <Button onClick={() => onSteps(marks.size ? some : { query: 'is:step' })}>
              Approve {marks.size ? 'their' : formatCount(steps)} price steps
            </Button>
          )}
          {marks.size > 0 && (
            <>
              <MarkedCount marks={marks} />
              <Menu
                words="On sale"
                items={[
                  { name: 'End', run: () => onSale('endMeant', 'ended') },
                  { name: 'Bring back', run: () => onSale('bringBackMeant', 'back on sale') },
                  {
                    name: 'Take out of Sampan',
                    run: () => onSale('takeOutMeant', 'taken out; the marketplaces keep them as they are'),
                  },
                ]}
              />
              <Button onClick={() => setEditing({ view: 'listings', rows: some })}>
                Edit {formatCount(marks.size)}
              </Button>
            </>
          )}
          {total > 0 && (
            <Menu
              words="Set up"
              items={[
                {
                  name: 'Copy templates',
                  run: () =>
                    setCopying({
                      where: marks.size ? { view: 'listings', rows: some } : null,
                      count: marks.size,
                    }),
                },
                { name: 'Presets', run: () => setSetting('presets') },
                { name: 'Categories', run: () => setSetting('categories') },
              ]}
            />
          )}
          {!grid && !marks.all && found.matches > 1 && (
            <Button onClick={marks.markAll}>Mark all {formatCount(found.matches)}</Button>
          )}
          <Button aria-pressed={grid} onClick={() => set({ grid: grid ? '' : '1', row: '' })}>
            {grid ? 'Table' : 'Grid'}
          </Button>
          <EditsFileMenu
            where={{ view: 'listings', rows: marks.size ? some : { query: asked().query } }}
            count={marks.size || found.matches}
            onFile={setFile}
          />
          <Link
            href="/listings/bring-in"
            className="rounded-sm border border-edge px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap text-river hover:bg-river-soft"
          >
            Bring in a shop
          </Link>
          <Button kind="main" disabled={!total} onClick={check}>
            Read suppliers now
          </Button>
        </Head>
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

const NOTHING_TO_DO = {
  endMeant: 'None of them is on sale.',
  bringBackMeant: 'None of them was ended.',
  takeOutMeant: 'None of them is on sale or ended.',
};

const searchListings = (q: Parameters<ReturnType<typeof theShop>['listings']>[0]) =>
  theShop().listings(q, Date.now());

function placesInWords(shop: ShopTerms): string {
  const names = marketsOf(shop).map((m) => m.name);
  return names.length > 2 ? `${names.length} marketplaces` : names.join(' and ') || 'no marketplace';
}

/** @param currencies of the marketplaces, by commas: where there is one alone it need not stand in each row */
function columnsFor(currencies: string, now: number, zone: string): Column<ListingLine>[] {
  const one = !currencies.includes(',');
  const sign = one ? ` ${signOf(currencies)}` : '';
  const m = (r: ListingLine, minor: number) =>
    one ? formatMinor(minor, r.currency) : formatMoney({ minor, currency: r.currency });
  return [
    {
      id: 'title',
      header: 'Listing',
      size: 300,
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
              {!one && `${r.market} · `}
              <span className="font-mono">{r.sku}</span> ←{' '}
              <span className="font-mono">{r.item ?? 'nothing'}</span>
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
      sort: true,
      value: (r) => r.strip && decimalOf(r.strip.sum.landed, r.currency),
      cell: (r) => r.strip && m(r, r.strip.sum.landed),
    },
    {
      id: 'price',
      header: `Price${sign}`,
      size: 92,
      rank: 1,
      right: true,
      sort: true,
      help: 'As buyers see it. Edit it to set an own price',
      value: (r) => r.price && decimalOf(r.price, r.currency),
      cell: (r) => r.price !== null && <b className="font-semibold">{m(r, r.price)}</b>,
      edit: {
        write: (r) => (r.price === null ? '' : formatMinor(r.price, r.currency)),
        save: async (r, text) => {
          const price = parsePrice(text, r.currency);
          if (!price.ok) return price.reason;
          await theShop().setOwnPrice(r.id, price.value);
          const offered = formatMoney({ minor: price.value, currency: r.currency });
          await say(`${r.sku} is offered at ${offered}.`, { undo: true });
          return null;
        },
      },
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
      size: 84,
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
      id: 'stock',
      header: 'Shown of stock',
      size: 116,
      rank: 4,
      right: true,
      sort: true,
      value: (r) => r.shown,
      cell: (r) => (r.stock === null ? `${r.shown}` : `${r.shown} of ${formatCount(r.stock)}`),
    },
    {
      id: 'last',
      header: 'State and last move',
      size: 190,
      rank: 3,
      sort: true,
      value: (r) => r.state,
      cell: (r) => (
        <Two
          top={<ListingState row={r} />}
          under={
            r.last && now ? (
              <span title={r.last.says}>
                {whenOf(r.last.at, now, zone)} · {r.last.says}
              </span>
            ) : (
              ''
            )
          }
        />
      ),
    },
  ];
}

function ListingState({ row: { state, item, held, own, strip } }: { row: ListingLine }) {
  if (state === 'ended') return <StateMark tone="waits">Ended</StateMark>;
  if (item === null) return <StateMark tone="person">Not linked</StateMark>;
  if (held)
    return (
      <StateMark tone="person">
        {state === 'paused' ? 'Held back, none shown' : 'Held at this price'}
      </StateMark>
    );
  if (state === 'paused') return <StateMark tone="waits">Paused, out of stock</StateMark>;
  if (strip && strip.sum.profit < 0) return <StateMark tone="loss">Live, below cost</StateMark>;
  return <StateMark tone="well">{own ? 'Live, own price' : 'Live'}</StateMark>;
}
