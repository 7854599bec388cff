'use client';
import Link from 'next/link';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { ITEM_FIELDS, SORTS, type SortColumn } from '../../core/catalogue';
import { examplesOf } from '../../core/fields';
import { lineOf, toggleTerm } from '../../core/query';
import { countOf, formatCount } from '../../core/units';
import { useAddress } from '../../ui/address';
import { AfterPaint } from '../../ui/after-paint';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { WithDocket } from '../../ui/docket';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { later } from '../../ui/later';
import { useList } from '../../ui/list';
import { Loading } from '../../ui/loading';
import { MarkedCount, MISREAD } from '../../ui/marked-count';
import { type Marked, useMarks } from '../../ui/marks';
import { SearchLine } from '../../ui/search-line';
import { useShop } from '../../ui/shop';
import { DataTable } from '../../ui/table/table';
import { useSourceVersion } from '../../ui/versions';
import type { SourceRow, SourceSearch } from '../../work/catalogue/source-rows';
import { theShop } from '../../work/desk/client';
import type { MarketConnection, SavedSearch, SupplierConnection } from '../../work/model';
import { marketsOf, suppliersOf } from '../../work/quoting/worth';
import { jobId, listJob } from '../../work/schedule/job';
import { useColumns } from './columns';
import { NoCatalogue, NoSupplier } from './empty';
import { Facets } from './facets';
import { SavedSearches } from './saved-searches';

const SourceDocket = later(() => import('./source-docket').then((m) => m.SourceDocket));
const TakeDocket = later(() => import('./take-docket').then((m) => m.TakeDocket));
const PasteDocket = later(() => import('./paste-docket').then((m) => m.PasteDocket));

const FIELDS = examplesOf('item');

/** Columns that a first click sorts from A, not from the largest. */
const TEXTS: readonly SortColumn[] = ['title', 'sku', 'brand', 'category', 'supplier'];
const NONE: readonly never[] = [];

const search = (q: SourceSearch) => theShop().search(q);
const keyOfRow = (row: SourceRow) => row.key;

/** What reads the catalogues and lists of some suppliers. */
const useReadings = (suppliers: readonly SupplierConnection[]) =>
  useFeed(
    'jobs',
    suppliers.flatMap((s) => [jobId(s.id, 'catalogue'), listJob(s.id)]),
  ) ?? NONE;

/** All that the suppliers offer, searched as one types, with what to expect of each item on a marketplace. */
export function Source() {
  const shop = useShop();
  const suppliers = useMemo(() => (shop ? suppliersOf(shop) : NONE), [shop]);
  const markets = useMemo(() => (shop ? marketsOf(shop) : NONE), [shop]);
  if (!shop) return <Loading name="Source" />;
  return suppliers.length ? <Catalogue suppliers={suppliers} markets={markets} /> : <NoSupplier />;
}

interface CatalogueProps {
  readonly suppliers: readonly SupplierConnection[];
  readonly markets: readonly MarketConnection[];
}

/** The search, the table and what is opened beside it. */
function Catalogue({ suppliers, markets }: CatalogueProps) {
  const version = useSourceVersion();
  const { get, set } = useAddress();
  const [side, setSide] = useState<'take' | 'paste' | null>(null);
  const market = markets.find((m) => m.id === get('on')) ?? markets[0];
  const marketId = market?.id ?? null;
  const jobs = useReadings(suppliers);
  const more = useMemo(() => ({ market: marketId }), [marketId]);
  const list = useList({ version, sorts: SORTS, first: 'listed', texts: TEXTS, more, search });
  const { found, shown, asked: askedNow, setQuery, row: chosen, close } = list;
  const marks = useMarks(found?.matches ?? 0);
  const columns = useColumns(suppliers, market, shown);
  useSavedInAddress(setQuery);

  /** What is asked now, told to those who only need it when they are opened. */
  const queryNow = useCallback(() => askedNow().query, [askedNow]);
  /** Why all matches are not meant by anything: what is typed is not understood. */
  const misread = found && (found.begun !== null || found.problems.length > 0);
  const onPick = useCallback(
    (field: string, value: string) => setQuery(toggleTerm(askedNow().query, field, value, ITEM_FIELDS)),
    [setQuery, askedNow],
  );
  const onOpenSaved = useCallback(
    (s: SavedSearch) => {
      setQuery(lineOf(s.query, ITEM_FIELDS));
      set({ sort: s.sort, row: '' });
      void theShop().openSearch(s.id);
    },
    [set, setQuery],
  );
  const keysBetween = useCallback(
    (from: number, to: number) => theShop().range({ ...askedNow(), offset: from, limit: to - from + 1 }),
    [askedNow],
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

  const docket = side
    ? market &&
      (side === 'paste' || marks.size > 0) && (
        <Side
          which={side}
          market={market}
          marks={marks}
          query={found?.used ?? ''}
          onClose={() => setSide(null)}
        />
      )
    : chosen && <SourceDocket row={chosen} market={market} stamp={version} onClose={close} />;
  return (
    <WithDocket docket={docket}>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name="Source"
          state={
            <>
              {found && `${countOf(found.total, 'item')} of `}
              {suppliers.length === 1 ? suppliers[0]!.name : countOf(suppliers.length, 'supplier')}
              <ExpectedOn markets={markets} market={market} onChange={(on) => set({ on })} />
            </>
          }
        >
          {marks.size > 0 && <MarkedCount marks={marks} />}
          {!marks.all && !misread && (found?.matches ?? 0) > 0 && (
            <Button kind="quiet" onClick={marks.markAll}>
              Select all {formatCount(found!.matches)}
            </Button>
          )}
          <Button
            kind="main"
            disabled={!marks.size || !market || Boolean(marks.all && misread)}
            title={marks.all && misread ? MISREAD : market ? undefined : 'Connect a marketplace first'}
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
            <SavedSearches queryNow={queryNow} sort={list.order} market={marketId} onOpen={onOpenSaved} />
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
        {found?.total === 0 ? (
          <NoCatalogue jobs={jobs} suppliers={suppliers} />
        ) : (
          <div className="flex min-h-0 grow border-t border-rule">
            {found && (
              <div
                className={`flex w-[188px] shrink-0 max-lg:hidden ${chosen || side ? 'max-[1500px]:hidden' : ''}`}
              >
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

/** A link from Today names a saved search: it is opened, and its new matches count as seen. */
function useSavedInAddress(setQuery: (query: string) => void): void {
  const { get, set } = useAddress();
  const saved = get('saved');
  useEffect(() => {
    if (!saved) return;
    const open = async () => {
      const kept = await theShop().openSearch(saved);
      const q = kept && lineOf(kept.query, ITEM_FIELDS);
      set({ saved: '', ...(kept && q !== undefined && { sort: kept.sort, q }) });
      if (q !== undefined) setQuery(q);
    };
    open();
  }, [saved, set, setQuery]);
}

/** The marketplace that prices are expected on. */
function ExpectedOn({
  markets,
  market,
  onChange,
}: {
  markets: readonly MarketConnection[];
  market: MarketConnection | undefined;
  onChange: (id: string) => void;
}) {
  if (!market) return <NeedsYou>; connect a marketplace to see prices</NeedsYou>;
  if (markets.length === 1) return `, expected on ${market.name}`;
  return (
    <>
      , expected on{' '}
      <select
        aria-label="Marketplace to expect prices on"
        value={market.id}
        onChange={(e) => onChange(e.target.value)}
        className="rounded-sm border border-edge bg-surface"
      >
        {markets.map((m) => (
          <option key={m.id} value={m.id}>
            {m.name}
          </option>
        ))}
      </select>
    </>
  );
}

/** The dockets that the buttons above the table open. @param query the search that a mark on all matches stands for */
function Side({
  which,
  market,
  marks,
  query,
  onClose,
}: {
  which: 'take' | 'paste';
  market: MarketConnection;
  marks: Marked;
  query: string;
  onClose: () => void;
}) {
  if (which === 'paste') return <PasteDocket market={market} onClose={onClose} />;
  return (
    <TakeDocket
      what={marks.all ? { query, except: [...marks.except] } : { keys: marks.keys() }}
      market={market}
      onClose={onClose}
      onTaken={() => {
        onClose();
        marks.clear();
      }}
    />
  );
}
