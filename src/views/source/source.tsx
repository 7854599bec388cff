'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { optionsInWords } from '../../core/catalogue';
import { formatMinor, formatShare, signOf } from '../../core/money';
import { countOf, formatCount } from '../../core/units';
import { db } from '../../store';
import { useAddress } from '../../ui/address';
import { Button } from '../../ui/button';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { useMarks } from '../../ui/marks';
import { say } from '../../ui/said';
import { SearchLine } from '../../ui/search-line';
import { marketsOf, suppliersOf, useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { type Column, column, DataTable, Two } from '../../ui/table';
import { SOURCE_SORTS, type SourceFound, type SourceRow, type SourceSort } from '../../work/catalogue';
import { theDesk } from '../../work/clients';
import { type CatalogueNote, jobId } from '../../work/jobs';
import { SourceDocket } from './source-docket';

const FIELDS = [
  { example: 'cost:5..20', means: 'cost from 5 to 20' },
  { example: 'stock:>3', means: 'more than 3 in stock' },
  { example: 'is:stocked', means: 'in stock' },
  { example: 'is:new', means: 'not yet taken' },
  { example: 'is:taken', means: 'taken already' },
  { example: 'margin:>20', means: 'expected margin over 20 %' },
  { example: 'profit:>4', means: 'expected profit over 4' },
  { example: 'category:"Optics > Filters"', means: 'a category' },
  { example: 'brand:Fellmoor', means: 'a brand' },
  { example: 'has:barcode', means: 'barcode, map or msrp' },
];

/** Rows fetched at once: a few screens. */
const WINDOW = 100;

export function Source() {
  const shop = useShop();
  const { get, set } = useAddress();
  const supplier = shop && suppliersOf(shop)[0];
  const market = shop && marketsOf(shop)[0];
  const note = useLiveQuery(
    async () => (supplier ? ((await db.notes.get(`catalogue:${supplier.id}`))?.value as CatalogueNote | undefined) : undefined),
    [supplier?.id],
  );
  const job = useLiveQuery(() => (supplier ? db.jobs.get(jobId(supplier.id, 'catalogue')) : undefined), [supplier?.id]);
  const taken = useLiveQuery(() => db.listings.count(), []);

  const query = get('q');
  const sort = (SOURCE_SORTS as readonly string[]).includes(get('sort').replace('-', '')) ? (get('sort').replace('-', '') as SourceSort) : 'title';
  const descending = get('sort').startsWith('-');
  const chosen = get('row');
  const key = JSON.stringify([supplier?.id, market?.id, query, sort, descending, note?.stamp, taken, shop?.plans]);

  const [found, setFound] = useState<SourceFound | null>(null);
  const [rows, setRows] = useState<ReadonlyMap<number, SourceRow>>(new Map());
  const asked = useRef(new Set<number>());
  const current = useRef(key);
  const marks = useMarks(found?.matches ?? 0);

  const fetchWindow = useCallback(
    async (page: number) => {
      if (!supplier || asked.current.has(page)) return;
      asked.current.add(page);
      const mine = key;
      const got = await theDesk().search({
        supplier: supplier.id,
        market: market?.id ?? null,
        query,
        sort,
        descending,
        offset: page * WINDOW,
        limit: WINDOW,
      });
      if (current.current !== mine) return;
      setFound(got);
      setRows((before) => new Map([...before, ...got.rows.map((row, i) => [page * WINDOW + i, row] as const)]));
    },
    [key, supplier, market, query, sort, descending],
  );

  // A new question starts over; the old rows stay until its first answer is there.
  useEffect(() => {
    if (!supplier) return;
    current.current = key;
    asked.current = new Set([0]);
    let old = false;
    theDesk()
      .search({ supplier: supplier.id, market: market?.id ?? null, query, sort, descending, offset: 0, limit: WINDOW })
      .then((got) => {
        if (old) return;
        setFound(got);
        setRows(new Map(got.rows.map((row, i) => [i, row])));
      });
    return () => {
      old = true;
    };
  }, [key, supplier, market, query, sort, descending]);

  const onRange = useCallback(
    (from: number, to: number) => {
      for (let page = Math.floor(from / WINDOW); page <= Math.floor(to / WINDOW); page++) fetchWindow(page);
    },
    [fetchWindow],
  );

  const currency = supplier?.currency ?? 'GBP';
  const columns = useMemo(() => columnsFor(currency), [currency]);
  const choose = useCallback((row: string) => set({ row }), [set]);

  const take = async () => {
    if (!supplier || !market) return;
    const { products, listings } = await theDesk().take(supplier.id, market.id, marks.all ? { query } : { skus: marks.keys() });
    marks.clear();
    if (!listings) await say('All of these are on the Bench or listed already.');
    else await say(`${countOf(listings, 'item')} went to the Bench as ${countOf(products, 'product')}.`, { undo: true });
  };

  if (!shop) return null;
  if (!supplier) {
    return (
      <Empty title="No supplier is connected yet">
        <p>
          Source shows what your suppliers offer, with the price and profit to expect on your marketplace. Connect a supplier and its catalogue is
          read.
        </p>
        <Link href="/connections" className="font-semibold text-river underline">
          Go to Connections
        </Link>
      </Empty>
    );
  }
  const reading = job?.running && !note;
  return (
    <>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name="Source"
          state={
            <>
              {formatCount(found?.total ?? 0)} items of {supplier.name}
              {market ? `, expected on ${market.name}` : <NeedsYou>; connect a marketplace to see prices</NeedsYou>}
              {found && found.refused.length > 0 && (
                <>
                  ;{' '}
                  <Link href={`/connections?row=${supplier.id}`} className="font-semibold text-lamp underline">
                    {formatCount(found.refused.length)} not taken in
                  </Link>
                </>
              )}
            </>
          }
        >
          {marks.size > 0 && (
            <>
              <span className="text-[13.5px]">{marks.all ? `all ${formatCount(marks.size)} matches` : formatCount(marks.size)} marked</span>
              <Button kind="text" onClick={marks.clear}>
                Clear
              </Button>
            </>
          )}
          {!marks.all && (found?.matches ?? 0) > 0 && (
            <Button kind="quiet" onClick={marks.markAll}>
              Mark all {formatCount(found!.matches)}
            </Button>
          )}
          <Button kind="main" disabled={!marks.size || !market} title={market ? undefined : 'Connect a marketplace first'} onClick={take}>
            Take {marks.size ? formatCount(marks.size) : ''} to the Bench
          </Button>
        </Head>
        <SearchLine
          value={query}
          onChange={(q) => set({ q, row: '' })}
          placeholder="a word, a SKU, a barcode or field:value"
          fields={FIELDS}
          matches={found?.matches ?? null}
          problems={found?.problems}
        />
        <Categories found={found} query={query} onPick={(q) => set({ q })} />
        {reading ? (
          <Empty title={`Reading ${supplier.name}’s catalogue`}>
            <p role="status">
              {formatCount(job.running!.done)} of {formatCount(job.running!.total)} items. They appear here as they come in.
            </p>
          </Empty>
        ) : found && found.total === 0 ? (
          <Empty title="The catalogue is empty so far">
            <p>{job?.lastSays ?? 'It has not been read yet.'} The next reading is planned in Connections; it can be started there at once.</p>
            <Link href={`/connections?row=${supplier.id}`} className="font-semibold text-river underline">
              Open the connection
            </Link>
          </Empty>
        ) : found && found.matches === 0 ? (
          <Empty title="Nothing matches">
            <p>No item of {formatCount(found.total)} fits every term.</p>
            <Button onClick={() => set({ q: '' })}>Empty the search</Button>
          </Empty>
        ) : (
          <DataTable
            label="Catalogue"
            columns={columns}
            count={found?.matches ?? 0}
            rowAt={(i) => rows.get(i)}
            keyOf={(r) => r.item.sku}
            chosen={chosen}
            onChoose={choose}
            marks={marks}
            sort={{ by: sort, descending }}
            onSort={(by) => set({ sort: by === sort && !descending ? `-${by}` : by === sort ? by : by === 'title' ? by : `-${by}` })}
            onRange={onRange}
          />
        )}
      </section>
      {chosen && <SourceDocket sku={chosen} supplier={supplier} market={market} stamp={key} onClose={() => set({ row: '' })} />}
    </>
  );
}

function Categories({ found, query, onPick }: { found: SourceFound | null; query: string; onPick: (query: string) => void }) {
  if (!found || found.categories.length < 2) return null;
  return (
    <fieldset className="flex shrink-0 gap-1.5 overflow-x-auto px-4 pb-2" aria-label="Categories of the matches">
      {found.categories.map((c) => (
        <button
          key={c.name}
          type="button"
          onClick={() => onPick(`${query} category:"${c.name}"`.trim())}
          className="shrink-0 rounded-sm border border-rule bg-surface px-1.5 py-0.5 text-xs hover:border-river"
        >
          {c.name} <span className="text-muted">{formatCount(c.count)}</span>
        </button>
      ))}
    </fieldset>
  );
}

function columnsFor(currency: string): Column<SourceRow>[] {
  const sign = signOf(currency);
  const m = (minor: number) => formatMinor(minor, currency);
  return [
    column<SourceRow>(
      'title',
      'Item',
      'minmax(200px,1fr)',
      ({ item }) => (
        <Two
          top={item.title + (Object.keys(item.options).length ? `, ${optionsInWords(item.options)}` : '')}
          under={
            <>
              <span className="font-mono">{item.sku}</span> · {item.category}
            </>
          }
        />
      ),
      { sort: true },
    ),
    column<SourceRow>('cost', `Cost ${sign}`, '84px', ({ item }) => m(item.cost), { right: true, sort: true }),
    column<SourceRow>('stock', 'Stock', '74px', ({ item }) => (item.stock ? formatCount(item.stock) : <span className="text-muted">out</span>), {
      right: true,
      sort: true,
    }),
    column<SourceRow>(
      'price',
      `Price ${sign}`,
      '88px',
      ({ price, quote }) =>
        price === null ? (
          <span title={quote?.problem ?? undefined} className="text-muted">
            none
          </span>
        ) : (
          <b className="font-semibold">{m(price)}</b>
        ),
      { right: true, sort: true, help: 'Expected price under the plan' },
    ),
    column<SourceRow>(
      'profit',
      `Profit ${sign}`,
      '88px',
      ({ profit }) =>
        profit === null ? '' : <span className={profit < 0 ? 'font-semibold text-loss' : 'text-river'}>{formatMinor(profit, currency, true)}</span>,
      { right: true, sort: true },
    ),
    column<SourceRow>('margin', 'Margin', '76px', ({ price, profit }) => (price === null || profit === null ? '' : formatShare(profit, price)), {
      right: true,
      sort: true,
    }),
    column<SourceRow>('state', '', '84px', ({ taken }) => (taken ? <StateMark tone="well">Taken</StateMark> : null), {
      from: 600,
    }),
  ];
}
