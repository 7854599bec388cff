'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { optionsInWords, SORTS, type SortColumn } from '../../core/catalogue';
import { formatMinor, formatShare, signOf } from '../../core/money';
import { toggleTerm } from '../../core/query';
import { countOf, formatCount } from '../../core/units';
import { useAddress } from '../../ui/address';
import { AfterPaint } from '../../ui/after-paint';
import { Button } from '../../ui/button';
import type { Column } from '../../ui/column';
import { WithDocket } from '../../ui/docket';
import { Goods } from '../../ui/goods';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { useList } from '../../ui/list';
import { MarkedCount } from '../../ui/marked-count';
import { useMarks } from '../../ui/marks';
import { SearchLine } from '../../ui/search-line';
import { marketsOf, suppliersOf, useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { DataTable } from '../../ui/table';
import { useSourceVersion } from '../../ui/versions';
import { work } from '../../work/browser';
import type { SourceRow, SourceSearch } from '../../work/catalogue/source-search';
import { openSearch } from '../../work/catalogue/watch';
import { theShop } from '../../work/clients';
import { jobId, jobsById, listJob } from '../../work/jobs/job';
import type { SavedSearch } from '../../work/model';
import { Facets } from './facets';
import { PasteDocket } from './paste-docket';
import { SavedSearches } from './saved-searches';
import { SourceDocket } from './source-docket';
import { TakeDocket } from './take-docket';

const FIELDS = [
  { example: 'cost:5..20', means: 'cost from 5 to 20' },
  { example: 'stock:>3', means: 'more than 3 in stock' },
  { example: 'is:stocked', means: 'in stock' },
  { example: 'is:new', means: 'not yet taken' },
  { example: 'is:taken', means: 'taken already' },
  { example: 'is:variant', means: 'other variants of what you took' },
  { example: 'margin:>20', means: 'expected margin over 20 %' },
  { example: 'profit:>4', means: 'expected profit over 4' },
  { example: 'category:"Optics > Filters"', means: 'a category' },
  { example: 'brand:Fellmoor', means: 'a brand' },
  { example: 'supplier:Hollin', means: 'a supplier' },
  { example: 'from:Hull', means: 'location it ships from' },
  { example: 'days:<=2', means: 'sent within 2 days' },
  { example: 'weight:<500', means: 'under 500 g' },
  { example: 'has:barcode', means: 'barcode, picture, map or msrp' },
  { example: '-torch', means: 'without a word or term' },
];

/** Pictures are asked for once the typing rests. */
const REST = 120;
/** Pictures kept at most. */
const MOST_PICTURES = 2_000;

/** Pictures of the rows that are here, by key: they come after the rows. */
function usePictures(rows: readonly SourceRow[] | undefined): ReadonlyMap<string, string> {
  const [pictures, setPictures] = useState<ReadonlyMap<string, string>>(new Map());
  useEffect(() => {
    const lacking = (rows ?? []).flatMap((r) => (pictures.has(r.key) ? [] : [r.key]));
    if (!lacking.length) return;
    const timer = setTimeout(async () => {
      const found = await theShop().pictures(lacking);
      setPictures(
        (now) =>
          new Map([
            ...(now.size > MOST_PICTURES ? [] : now),
            ...lacking.map((key) => [key, found.get(key) ?? ''] as const),
          ]),
      );
    }, REST);
    return () => clearTimeout(timer);
  }, [rows, pictures]);
  return pictures;
}

const search = (q: SourceSearch) => theShop().search(q);

/** All that the suppliers offer, searched as one types, with what to expect of each item on a marketplace. */
export function Source() {
  const shop = useShop();
  const version = useSourceVersion();
  const { get, set } = useAddress();
  const [side, setSide] = useState<'take' | 'paste' | null>(null);
  const suppliers = useMemo(() => (shop ? suppliersOf(shop) : []), [shop]);
  const markets = shop ? marketsOf(shop) : [];
  const market = markets.find((m) => m.id === get('on')) ?? markets[0];
  const jobs = useLiveQuery(
    () =>
      jobsById(
        work,
        suppliers.flatMap((s) => [jobId(s.id, 'catalogue'), listJob(s.id)]),
      ),
    [suppliers.map((s) => s.id).join()],
  );

  const marketId = market?.id ?? null;
  const more = useMemo(() => ({ market: marketId }), [marketId]);
  const list = useList({ version, sorts: SORTS, first: 'listed', texts: TEXTS, more, search });
  const { found, shown, asked: askedNow, setQuery, row: chosen, close } = list;
  const marks = useMarks(found?.matches ?? 0);
  /** What the last answer was for, told to those who only need it when they are opened. */
  const used = useRef('');
  useEffect(() => {
    used.current = found?.used ?? '';
  }, [found]);
  const usedNow = useCallback(() => used.current, []);
  // A link from Today names a kept search: it is opened, and its new matches count as seen.
  const saved = get('saved');
  useEffect(() => {
    if (!saved) return;
    const open = async () => {
      const kept = await openSearch(work, saved);
      set({ saved: '', ...(kept && { sort: kept.sort, q: kept.query }) });
      if (!kept) return;
      setQuery(kept.query);
    };
    open();
  }, [saved, set, setQuery]);

  const onPick = useCallback(
    (field: string, value: string) => setQuery(toggleTerm(askedNow().query, field, value)),
    [setQuery, askedNow],
  );
  const onOpenSaved = useCallback(
    (s: SavedSearch) => {
      setQuery(s.query);
      set({ sort: s.sort, row: '' });
      openSearch(work, s.id);
    },
    [set, setQuery],
  );
  const keysBetween = useCallback(
    (from: number, to: number) => theShop().range({ ...askedNow(), offset: from, limit: to - from + 1 }),
    [askedNow],
  );

  const currencies = [...new Set(suppliers.map((s) => s.currency))];
  const currency = market?.site.currency ?? currencies[0] ?? 'GBP';
  const one = currencies.length === 1 && currencies[0] === currency;
  const names = useMemo(() => new Map(suppliers.map((s) => [s.id, s.name])), [suppliers]);
  const pictures = usePictures(shown);
  const services = useMemo(() => new Map(suppliers.map((s) => [s.id, s.service])), [suppliers]);
  const columns = useMemo(
    () =>
      columnsFor(currency, one, names, (row) => ({
        supplier: services.get(row.supplier) ?? '',
        path: pictures.get(row.key) || undefined,
      })),
    [currency, one, names, services, pictures],
  );
  const choose = useCallback(
    (row: string) => {
      setSide(null);
      set({ row });
    },
    [set],
  );
  const open = (to: 'take' | 'paste') => {
    set({ row: '' });
    setSide(to);
  };

  if (!shop) return null;
  if (!suppliers.length) {
    return (
      <Empty title="No supplier is connected yet">
        <p>
          Source shows what your suppliers offer, with the price and profit to expect on your marketplace.
          Connect a supplier’s service, or read its price list from a file or an address.
        </p>
        <p className="flex gap-4">
          <Link href="/connections" className="font-semibold text-river underline">
            Go to Connections
          </Link>
          <Link href="/source/lists" className="font-semibold text-river underline">
            Read a price list
          </Link>
        </p>
      </Empty>
    );
  }
  const reading = jobs?.filter((j) => j.running && j.running.total > 0) ?? [];
  const narrow = chosen || side;
  const docket =
    side === 'take' && market && marks.size > 0 ? (
      <TakeDocket
        what={marks.all ? { query: found?.used ?? '', except: [...marks.except] } : { keys: marks.keys() }}
        market={market}
        onClose={() => setSide(null)}
        onTaken={() => {
          setSide(null);
          marks.clear();
        }}
      />
    ) : side === 'paste' && market ? (
      <PasteDocket market={market} onClose={() => setSide(null)} />
    ) : (
      chosen && !side && <SourceDocket row={chosen} market={market} stamp={version} onClose={close} />
    );
  return (
    <WithDocket docket={docket}>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name="Source"
          state={
            <>
              {countOf(found?.total ?? 0, 'item')} of{' '}
              {suppliers.length === 1 ? suppliers[0]!.name : countOf(suppliers.length, 'supplier')}
              {markets.length > 1 ? (
                <>
                  , expected on{' '}
                  <select
                    aria-label="Marketplace to expect prices on"
                    value={market?.id}
                    onChange={(e) => set({ on: e.target.value })}
                    className="rounded-sm border border-edge bg-surface"
                  >
                    {markets.map((m) => (
                      <option key={m.id} value={m.id}>
                        {m.name}
                      </option>
                    ))}
                  </select>
                </>
              ) : market ? (
                `, expected on ${market.name}`
              ) : (
                <NeedsYou>; connect a marketplace to see prices</NeedsYou>
              )}
            </>
          }
        >
          {marks.size > 0 && <MarkedCount marks={marks} />}
          {!marks.all && (found?.matches ?? 0) > 0 && (
            <Button kind="quiet" onClick={marks.markAll}>
              Mark all {formatCount(found!.matches)}
            </Button>
          )}
          <Button
            kind="main"
            disabled={!marks.size || !market}
            title={market ? undefined : 'Connect a marketplace first'}
            onClick={() => open('take')}
          >
            Take {marks.size ? formatCount(marks.size) : ''} to the Bench
          </Button>
        </Head>
        <div className="flex items-start pr-4">
          <div className="min-w-0 grow">
            <SearchLine
              {...list.line}
              placeholder="a word, a SKU, a barcode or field:value"
              fields={FIELDS}
              matches={found?.matches ?? null}
              without={found?.begun}
              problems={found?.problems}
            />
          </div>
          <div className="flex items-center gap-2 max-md:hidden">
            <SavedSearches queryNow={usedNow} sort={list.order} market={marketId} onOpen={onOpenSaved} />
            <Button disabled={!market} onClick={() => open('paste')}>
              Paste lines
            </Button>
            <Link
              href="/source/lists"
              className="rounded-sm border border-edge px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap text-river hover:bg-river-soft"
            >
              Price lists
            </Link>
          </div>
        </div>
        {found && found.total === 0 ? (
          reading.length ? (
            <Empty title={`Reading ${names.get(reading[0]!.subject) ?? 'a supplier'}’s catalogue`}>
              <p role="status">
                {formatCount(reading[0]!.running!.rows ?? reading[0]!.running!.done)} read. It can be searched
                as soon as it is whole.
              </p>
            </Empty>
          ) : (
            <Empty title="There is no catalogue yet">
              <p>
                {jobs?.find((j) => j.lastSays)?.lastSays ?? 'None has been read yet.'} A reading is planned in
                Connections and can be started there; files are read here.
              </p>
              <p className="flex gap-4">
                <Link href="/connections" className="font-semibold text-river underline">
                  Open Connections
                </Link>
                <Link href="/source/lists" className="font-semibold text-river underline">
                  Read a price list
                </Link>
              </p>
            </Empty>
          )
        ) : (
          <div className="flex min-h-0 grow border-t border-rule">
            {found && (
              <div className={`flex w-[188px] shrink-0 max-lg:hidden ${narrow ? 'max-[1500px]:hidden' : ''}`}>
                <AfterPaint>
                  <Facets facets={found.facets} query={found.used} onPick={onPick} />
                </AfterPaint>
              </div>
            )}
            <div className="relative flex min-w-0 grow">
              {found?.matches === 0 && (
                <div className="absolute inset-0 z-20 flex items-start bg-ground">
                  <Empty title="Nothing matches">
                    <p>No item of {formatCount(found.total)} fits every term.</p>
                    <Button onClick={() => list.setQuery('')}>Clear the search</Button>
                  </Empty>
                </div>
              )}
              <div className="contents" inert={found?.matches === 0}>
                <DataTable
                  id="catalogue"
                  label="Catalogue"
                  columns={columns}
                  keyOf={keyOfRow}
                  {...list.table}
                  onChoose={choose}
                  marks={marks}
                  keysBetween={keysBetween}
                />
              </div>
            </div>
          </div>
        )}
      </section>
    </WithDocket>
  );
}

const keyOfRow = (row: SourceRow) => row.key;

/** Columns that a first click sorts from A, not from the largest. */
const TEXTS: readonly SortColumn[] = ['title', 'sku', 'brand', 'category', 'supplier'];

/**
 * @param one whether all suppliers charge in the marketplace's currency, so that it need not stand in each
 * row
 */
function columnsFor(
  currency: string,
  one: boolean,
  names: ReadonlyMap<string, string>,
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
    ...(names.size > 1
      ? [
          {
            id: 'supplier',
            header: 'Supplier',
            size: 128,
            rank: 4,
            sort: true,
            cell: ({ supplier }) => names.get(supplier) ?? '',
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
