'use client';
import Link from 'next/link';
import { useCallback, useMemo, useState } from 'react';
import { decimalOf, formatMinor, formatMoney, formatShare, signOf } from '../../core/money';
import { countOf, formatCount, whenOf } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { AtATime } from '../../ui/at-a-time';
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
import {
  BENCH_SORTS,
  type BenchLine,
  type BenchMark,
  type BenchState,
} from '../../work/assortment/bench-list';
import type { Meant } from '../../work/assortment/listing-list';
import { theShop } from '../../work/clients';
import type { MarketConnection } from '../../work/model';
import { marketsOf } from '../../work/shop/terms';
import type { Where } from '../../work/shop.worker';

const BenchDocket = later(() => import('./bench-docket').then((m) => m.BenchDocket));

const FIELDS = [
  { example: 'is:ready', means: 'lacks nothing' },
  { example: 'is:lacking', means: 'lacks something' },
  { example: 'is:approved', means: 'approved' },
  { example: 'is:refused', means: 'refused by the marketplace' },
  { example: 'is:draft', means: 'a draft on the marketplace' },
  { example: 'price:10..30', means: 'price from 10 to 30' },
  { example: 'margin:<20', means: 'margin under 20 %' },
];

const TEXTS = ['title'] as const;

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
  const withDrafts = all.filter((m) => m.site.drafts && (market === null || m.id === market));
  const columns = useMemo(() => columnsFor(all, market, minute, zone), [all, market, minute, zone]);
  const [busy, setBusy] = useState('');
  const grid = get('grid') === '1';
  const [file, setFile] = useState<File | null>(null);
  const [setting, setSetting] = useState<'presets' | 'categories' | null>(null);
  const [copying, setCopying] = useState<Copying | null>(null);
  const [editing, setEditing] = useState<Where | null>(null);
  if (!found || !shop) return null;

  const { total, ready, lacking, approved, refused, publishing } = found;
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
      theShop().approveMeant(some ?? { query: 'is:ready' }, market),
      (done) =>
        `${countOf(done.approved, 'product')} approved${done.lacking ? `; ${done.lacking} lack something` : ''}.`,
      (done) => done.approved > 0,
    );
  const onPublish = (at: number | null, asDraft = false) =>
    act(
      'Queueing …',
      theShop().publishMeant(some ?? { query: 'is:approved' }, market, at, asDraft),
      (done) =>
        `${countOf(done.queued, 'listing')} ${asDraft ? 'on the way as drafts' : at === null ? 'on the way' : `will be published ${whenOf(at, now, zone)}`}${done.left ? `; ${done.left} stayed` : ''}. Each result shows in its row.`,
      () => false,
    );
  const onTryAgain = () =>
    act(
      'Queueing …',
      theShop().tryAgain(market),
      (done) => `${countOf(done.queued, 'listing')} on the way again.`,
      () => false,
    );
  const onPutBack = async () => {
    close();
    await act(
      'Putting back …',
      theShop().putBackMeant(some!, market),
      (n) => `${countOf(n, 'product')} put back.`,
      () => true,
    );
  };
  const docket = file ? (
    <EditsFileDocket file={file} onClose={() => setFile(null)} />
  ) : setting === 'categories' ? (
    <CategoriesDocket markets={all} first={market} onClose={() => setSetting(null)} />
  ) : setting === 'presets' ? (
    <PresetsDocket markets={all} first={market} onClose={() => setSetting(null)} />
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
    chosen && (
      <BenchDocket
        key={`${chosen.key} ${chosen.market.id}`}
        row={chosen}
        shop={shop}
        onMarket={(id) => (market === null ? setLooked(id) : set({ for: id }))}
        onClose={close}
      />
    )
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
              <MarkedCount marks={marks} />
              <Button
                disabled={busy !== ''}
                onClick={() => setEditing({ view: 'bench', rows: some!, market })}
              >
                Edit {formatCount(marks.size)}
              </Button>
              {all.length > 1 && (
                <Menu
                  words="List on"
                  items={all.map((on) => ({
                    name: on.name,
                    run: () =>
                      act(
                        'Listing …',
                        theShop().listMeant(some!, market, on.id),
                        (n) => `${countOf(n, 'listing')} for ${on.name}.`,
                        (n) => n > 0,
                      ),
                  }))}
                />
              )}
              <Button disabled={busy !== ''} onClick={onPutBack}>
                Put {formatCount(marks.size)} back
              </Button>
            </>
          )}
          {total > 0 && (
            <>
              <Menu
                words="Set up"
                items={[
                  {
                    name: 'Copy templates',
                    run: () =>
                      setCopying({ where: some && { view: 'bench', rows: some, market }, count: marks.size }),
                  },
                  { name: 'Presets', run: () => setSetting('presets') },
                  { name: 'Categories', run: () => setSetting('categories') },
                ]}
              />
              <Button aria-pressed={grid} onClick={() => set({ grid: grid ? '' : '1', row: '' })}>
                {grid ? 'Table' : 'Grid'}
              </Button>
              <EditsFileMenu
                where={{ view: 'bench', rows: some ?? { query: asked().query }, market }}
                count={marks.size || found.matches}
                onFile={setFile}
              />
            </>
          )}
          {all.length > 1 && (
            <label className="flex items-center gap-1.5 text-[13px] text-muted">
              For
              <select
                value={market ?? ''}
                onChange={(e) => set({ for: e.target.value })}
                className="rounded-sm border border-edge bg-surface px-1.5 py-1 text-ink"
              >
                <option value="">all marketplaces</option>
                {all.map((m) => (
                  <option key={m.id} value={m.id}>
                    {m.name}
                  </option>
                ))}
              </select>
            </label>
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
          <Button kind="main" disabled={!toPublish || busy !== ''} onClick={() => onPublish(null)}>
            Publish {formatCount(toPublish)}
          </Button>
          <AtATime
            name="Publish at a time or as drafts"
            label={`Not before, ${zone}`}
            verb="Publish"
            disabled={!toPublish || busy !== ''}
            zone={zone}
            now={now}
            onPick={(at) => onPublish(at)}
          >
            {(close) =>
              withDrafts.length > 0 && (
                <Button
                  className="mt-3"
                  onClick={() => {
                    onPublish(null, true);
                    close();
                  }}
                >
                  Leave as drafts on {withDrafts.map((m) => m.name).join(' and ')}
                </Button>
              )
            }
          </AtATime>
          {!some && refused > 0 && (
            <Button disabled={busy !== ''} onClick={onTryAgain}>
              Try {formatCount(refused)} again
            </Button>
          )}
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

/** How far a product is on each marketplace, a column for each. @param market the one that is looked at; null for all */
function columnsFor(
  all: readonly MarketConnection[],
  market: string | null,
  now: number,
  zone: string,
): Column<BenchLine>[] {
  const shown = market === null ? all : all.filter((m) => m.id === market);
  const one = shown.length === 1 ? shown[0]! : null;
  return [
    {
      id: 'title',
      header: 'Product',
      size: 260,
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
              <span className="font-mono">{r.sku}</span>
              {r.variants > 1 ? ` and ${r.variants - 1} more variants` : ''}
            </>
          }
        />
      ),
    },
    ...shown.map(
      (m, at): Column<BenchLine> => ({
        id: `on-${m.id}`,
        header: m.name,
        size: 176,
        grows: true,
        // Where there is not enough room the last ones leave first.
        rank: 1 + at,
        value: (r) => r.on[m.id]?.state.is ?? null,
        cell: (r) => {
          const mark = r.on[m.id];
          return mark ? (
            <Two
              top={<Standing state={mark.state} now={now} zone={zone} />}
              under={<Earns mark={mark} variants={r.variants} />}
            />
          ) : (
            <span className="text-muted">
              <span aria-hidden>–</span>
              <span className="sr-only">not meant for it</span>
            </span>
          );
        },
      }),
    ),
    ...(one
      ? [
          {
            id: 'price',
            header: `Price ${signOf(one.site.currency)}`,
            size: 92,
            rank: 2,
            right: true,
            sort: true,
            value: (r: BenchLine) => {
              const price = r.on[one.id]?.price;
              return price ? decimalOf(price, one.site.currency) : null;
            },
            cell: (r: BenchLine) => {
              const price = r.on[one.id]?.price;
              return price ? <b className="font-semibold">{formatMinor(price, one.site.currency)}</b> : null;
            },
          },
          {
            id: 'strip',
            header: 'Price strip',
            size: 144,
            rank: 4,
            cell: (r: BenchLine) => {
              const strip = r.on[one.id]?.strip;
              return strip && <PriceStrip {...strip} currency={one.site.currency} />;
            },
          },
        ]
      : []),
  ];
}

/** Price and what a sale at it earns. */
function Earns({ mark, variants }: { mark: BenchMark; variants: number }) {
  if (mark.price === null) return 'no price';
  const price = formatMoney({ minor: mark.price, currency: mark.currency });
  const { sum } = mark.strip ?? {};
  return (
    <>
      {variants > 1 && 'from '}
      {price}
      {sum && (
        <span className={sum.profit < 0 ? 'font-semibold text-loss' : ''}>
          {' · '}
          {formatMinor(sum.profit, mark.currency, true)}, {formatShare(sum.profit, sum.price)}
        </span>
      )}
    </>
  );
}

function Standing({ state, now, zone }: { state: BenchState; now: number; zone: string }) {
  switch (state.is) {
    case 'publishing':
      return (
        <StateMark tone="waits">
          {state.at !== null && state.at > now
            ? `To be published ${whenOf(state.at, now, zone)}`
            : `Being published, ${state.left} to go`}
        </StateMark>
      );
    case 'refused':
      return <StateMark tone="person">Refused: {state.why}</StateMark>;
    case 'lacking':
      return <StateMark tone="person">{state.what}</StateMark>;
    case 'approved':
      return <StateMark tone="well">Approved, not published</StateMark>;
    case 'draft':
      return <StateMark tone="waits">Draft, not on sale</StateMark>;
    case 'ready':
      return <StateMark tone="waits">Ready to approve</StateMark>;
    case 'live':
      return <StateMark tone="well">{state.differs ? 'Live, text not yet sent' : 'Live'}</StateMark>;
    case 'ended':
      return <StateMark tone="waits">Ended</StateMark>;
  }
}
