'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { optionsInWords } from '../../core/catalogue';
import type { Candidate } from '../../core/linking';
import { formatMinor, signOf } from '../../core/money';
import { countOf, formatCount } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { WithDocket } from '../../ui/docket';
import { DropFile, LIST_FILES } from '../../ui/drop-file';
import { Empty, Head, NeedsYou, Notice } from '../../ui/head';
import { useLooks } from '../../ui/looks';
import { useMarks } from '../../ui/marks';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { StateMark } from '../../ui/state-mark';
import { type Column, Two } from '../../ui/table/column';
import { DataTable } from '../../ui/table/table';
import { useListingsVersion } from '../../ui/versions';
import { work } from '../../work/browser';
import { askLists, theShop } from '../../work/clients';
import { jobId, jobsById } from '../../work/jobs/job';
import { stopJob } from '../../work/jobs/schedule';
import { startBringIn, type BringIn as Wish } from '../../work/listings/bring-in';
import type { MarketConnection } from '../../work/model';
import type { Inspected } from '../../work/readings/dropped-lists';
import { marketsOf } from '../../work/shop/terms';
import { MatchPicture } from '../lists/match-picture';
import { LinkDocket } from './link-docket';
import { type BroughtRow, SHOWS, type Show, showOf } from './rows';

const WORDS: Record<Show, string> = {
  sure: 'Sure',
  doubtful: 'Doubtful',
  none: 'Nothing found',
  linked: 'Linked',
};
const MEANS: Record<Show, string> = {
  sure: 'SKU, barcode or all details match, and nothing contradicts it. They can be linked in bulk.',
  doubtful:
    'There are candidates, but something contradicts each, or several are alike. Enter opens one, a digit links it, S skips.',
  none: 'No supplier offers a match. They keep selling; their orders are held, because there is no supplier to forward them to.',
  linked: 'Cost and stock follow the supplier; the price stays until you let a plan move it.',
};

/**
 * Takes over a shop that already trades: its listings come in as they are, then each is linked to the
 * supplier item it sells.
 */
export function BringIn() {
  const shop = useShop();
  const { get, set } = useAddress();
  const version = useListingsVersion();
  const [looking, setLooking] = useState<string | null>(null);
  // Again when the look-up ends: what was found belongs to no listing's row.
  const read = useAnswer(() => (version ? theShop().broughtIn() : undefined), [version, looking]);
  const market = shop && (marketsOf(shop).find((m) => m.id === get('on')) ?? marketsOf(shop)[0]);
  const job = useLiveQuery(
    async () => (market ? (await jobsById(work, [jobId(market.id, 'listings')]))[0] : undefined),
    [market?.id],
  );
  const [form, setForm] = useState(false);

  const unlooked = read?.filter((r) => !r.source && !r.proposal).length ?? 0;
  const busy = useRef(false);
  // What came in is looked up at once; again when the seller asks, as after a new price list.
  const findAll = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    setLooking('Looking for the supplier items …');
    try {
      const { looked, sure, took } = await theShop().findLinks();
      setLooking(null);
      await say(
        `${countOf(looked, 'listing')} looked up in ${(took / 1000).toFixed(1)} s: ${formatCount(sure)} sure.`,
      );
    } catch (error) {
      setLooking(null);
      await say(`The look-up failed: ${error instanceof Error ? error.message : String(error)}`, {
        wrong: true,
      });
    }
    busy.current = false;
  }, []);
  const running = job?.running ?? null;
  useEffect(() => {
    if (unlooked > 0 && !running) findAll();
  }, [unlooked, running, findAll]);

  const groups = useMemo(() => {
    const by: Record<Show, BroughtRow[]> = { sure: [], doubtful: [], none: [], linked: [] };
    for (const row of read ?? []) by[showOf(row)].push(row);
    const score = (r: BroughtRow) => r.proposal?.candidates[0]?.score ?? 0;
    for (const rows of Object.values(by))
      rows.sort((a, b) => score(b) - score(a) || (a.listing.sku < b.listing.sku ? -1 : 1));
    return by;
  }, [read]);
  const asked = get('show') as Show;
  const show: Show = SHOWS.includes(asked)
    ? asked
    : groups.sure.length
      ? 'sure'
      : groups.doubtful.length
        ? 'doubtful'
        : 'linked';
  const rows = groups[show];
  const marks = useMarks(rows.length);
  const chosen = rows.find((r) => r.listing.id === get('row'));
  const currency = market?.site.currency ?? 'GBP';
  const names = useMemo(
    () => new Map([...(shop?.connections.values() ?? [])].map((c) => [c.id, c.name])),
    [shop],
  );
  const columns = useMemo(() => columnsFor(currency, show, names), [currency, show, names]);
  const choose = useCallback((row: string) => set({ row }), [set]);

  const goOn = useCallback(() => {
    const at = rows.findIndex((r) => r.listing.id === get('row'));
    const next = rows[at + 1] ?? rows[at - 1];
    set({ row: next ? next.listing.id : '' });
  }, [rows, get, set]);
  const link = useCallback(
    async (candidate: Candidate) => {
      const listing = chosen?.listing;
      if (!listing) return;
      goOn();
      await theShop().link([{ listing: listing.id, supplier: candidate.supplier, item: candidate.sku }]);
      await say(`${listing.sku} is linked to ${candidate.sku}.`, { undo: true });
    },
    [chosen, goOn],
  );
  const linkSure = async () => {
    const wanted = marks.size ? rows.filter((r) => marks.has(r.listing.id)) : groups.sure;
    const links = wanted.flatMap((r) => {
      const best = r.proposal?.candidates[0];
      return best ? [{ listing: r.listing.id, supplier: best.supplier, item: best.sku }] : [];
    });
    setLooking(`Linking ${formatCount(links.length)} …`);
    const n = await theShop().link(links);
    setLooking(null);
    marks.clear();
    set({ show: '', row: '' });
    await say(
      `${countOf(n, 'listing')} linked. Prices stay as they are; quantities follow the supplier’s stock from its next reading on.`,
      {
        undo: true,
      },
    );
  };
  const remove = async () => {
    const ids = rows.flatMap((r) => (marks.has(r.listing.id) ? [r.listing.id] : []));
    const n = await theShop().removeListings(ids);
    marks.clear();
    await say(`${countOf(n, 'listing')} taken out of Sampan. On the marketplace they stay as they are.`, {
      undo: true,
    });
  };

  if (!shop || !read) return null;
  if (!market)
    return (
      <Empty title="Connect the marketplace first">
        <p>Its listings can be brought in once you gave consent there.</p>
        <Link href="/connections" className="font-semibold text-river underline">
          Go to Connections
        </Link>
      </Empty>
    );
  const open = groups.sure.length + groups.doubtful.length + groups.none.length;
  const opened = form || read.length === 0;
  const docket = chosen && !opened && (
    <LinkDocket
      row={chosen}
      shop={shop}
      currency={currency}
      onLink={link}
      onNext={goOn}
      onClose={() => set({ row: '' })}
    />
  );
  return (
    <WithDocket docket={docket}>
      <section className="flex min-w-0 grow flex-col">
        <Head
          name="Bring in a shop"
          state={
            read.length === 0 ? (
              `Nothing of ${market.name} was brought in yet.`
            ) : (
              <>
                {countOf(read.length, 'listing')} brought in, {formatCount(groups.linked.length)} linked
                {open > 0 && (
                  <>
                    , <NeedsYou>{formatCount(open)} not linked yet</NeedsYou>
                  </>
                )}
              </>
            )
          }
        >
          {marketsOf(shop).length > 1 && (
            <label className="text-[13px] text-muted">
              From{' '}
              <select
                value={market.id}
                onChange={(e) => set({ on: e.target.value, row: '' })}
                className="rounded-sm border border-edge bg-surface px-1 py-0.5 text-ink"
              >
                {marketsOf(shop).map((m) => (
                  <option key={m.id} value={m.id}>
                    {m.name}
                  </option>
                ))}
              </select>
            </label>
          )}
          <Link href="/listings" className="text-[13px] font-semibold text-river hover:underline">
            Back to Listings
          </Link>
          {read.length > 0 && (
            <Button onClick={() => setForm(!form)}>{form ? 'Close the form' : 'Bring in more'}</Button>
          )}
          {open > 0 && <Button onClick={findAll}>Look up again</Button>}
          {marks.size > 0 && <Button onClick={remove}>Take {formatCount(marks.size)} out of Sampan</Button>}
          {groups.sure.length > 0 && show === 'sure' && (
            <Button kind="main" disabled={looking !== null} onClick={linkSure}>
              Link {marks.size ? formatCount(marks.size) : `all ${formatCount(groups.sure.length)} sure ones`}
            </Button>
          )}
        </Head>
        {looking && (
          <p role="status" className="px-4 pb-2 text-[13.5px] text-river">
            {looking}
          </p>
        )}
        {running && (
          <p role="status" className="flex items-center gap-3 px-4 pb-2 text-[13.5px]">
            {formatCount(running.done)} of {formatCount(running.total)} listings of {market.name} brought in
            <Button onClick={() => stopJob(work, job!.id)}>Stop</Button>
          </p>
        )}
        {!running && job?.lastSays && read.length > 0 && form && (
          <p className="px-4 pb-2 text-[13.5px] text-muted">Last time: {job.lastSays}.</p>
        )}
        {opened ? (
          <WishForm market={market} onStarted={() => setForm(false)} />
        ) : (
          <>
            <fieldset
              aria-label="Which listings are shown"
              className="flex flex-wrap items-center gap-1.5 px-4 pb-1.5"
            >
              {SHOWS.map((s) => (
                <button
                  key={s}
                  type="button"
                  aria-pressed={s === show}
                  onClick={() => {
                    marks.clear();
                    set({ show: s, row: '' });
                  }}
                  className={`rounded-sm border px-2 py-0.5 text-[13px] ${s === show ? 'border-river bg-river-soft font-semibold' : 'border-rule bg-surface hover:border-river'}`}
                >
                  {WORDS[s]} <span className="text-muted">{formatCount(groups[s].length)}</span>
                </button>
              ))}
              <span className="ml-1 text-[13px] text-muted">{MEANS[show]}</span>
            </fieldset>
            {rows.length === 0 ? (
              <Empty title="None of this kind">
                <p>{open === 0 ? 'Every listing is linked.' : 'Choose another kind above.'}</p>
              </Empty>
            ) : (
              <DataTable
                id="bring-in"
                label="Listings brought in"
                columns={columns}
                count={rows.length}
                rowAt={(i) => rows[i]}
                keyOf={(r) => r.listing.id}
                chosen={get('row')}
                onChoose={choose}
                marks={marks}
              />
            )}
          </>
        )}
      </section>
    </WithDocket>
  );
}

/** What is brought in: by the marketplace's service, filtered, or out of a file. */
function WishForm({ market, onStarted }: { market: MarketConnection; onStarted: () => void }) {
  const [wish, setWish] = useState<Wish>({ state: 'live', category: '', removed: false });
  const [wrong, setWrong] = useState<string | null>(null);
  const [picture, setPicture] = useState<Inspected | null>(null);
  const owner = { id: market.id, currency: market.site.currency };
  const looks = useLooks(async (_: typeof owner, seen) => {
    setPicture(seen);
    return false;
  }, 'listings');
  const leave = () => {
    setPicture(null);
    looks.next();
  };
  if (picture)
    return (
      <MatchPicture
        inspected={picture}
        of={market.name}
        action="Import them"
        onLeave={leave}
        onRead={async (match) => {
          const done = await askLists((lists) =>
            lists.bringInFile(market, picture.file, match, wish.removed),
          );
          if (!done.ok) {
            leave();
            return setWrong(done.reason);
          }
          const { added, known, removed, refused } = done.value;
          leave();
          onStarted();
          const first = refused[0];
          await say(
            `${countOf(added, 'listing')} brought in${known ? `, ${known} known already` : ''}${removed ? `, ${removed} taken out before and left` : ''}${
              first
                ? `; ${countOf(refused.length, 'row')} not read, the first in line ${first.line}: ${first.problem.reason}`
                : ''
            }.`,
            { undo: added > 0, wrong: refused.length > 0 },
          );
        }}
      />
    );
  const look_ = 'block rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13px] text-ink';
  return (
    <div className="max-w-3xl px-4 pb-6">
      <p className="text-[13.5px] text-muted">
        Listings come in as they stand on {market.name}: text, price and state. Nothing is told to the
        marketplace. Then each is linked to the supplier item it sells, by SKU, by barcode, or by looks that
        you confirm.
      </p>
      <div className="mt-3 flex flex-wrap items-end gap-4 rounded-sm border border-rule bg-surface p-4">
        <label className="text-xs text-muted">
          State
          <select
            value={wish.state}
            onChange={(e) => setWish({ ...wish, state: e.target.value as Wish['state'] })}
            className={look_}
          >
            <option value="live">on sale</option>
            <option value="paused">paused</option>
            <option value="ended">ended</option>
            <option value="all">all</option>
          </select>
        </label>
        <label className="text-xs text-muted">
          Category
          <select
            value={wish.category}
            onChange={(e) => setWish({ ...wish, category: e.target.value })}
            className={look_}
          >
            <option value="">all</option>
            {market.site.categories.map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-1.5 pb-1 text-[13px]">
          <input
            type="checkbox"
            checked={wish.removed}
            onChange={(e) => setWish({ ...wish, removed: e.target.checked })}
            className="accent-river"
          />
          also those taken out of Sampan before
        </label>
        <Button
          kind="main"
          onClick={async () => {
            await startBringIn(work, market.id, wish);
            onStarted();
            await say(`Bringing in from ${market.name}.`);
          }}
        >
          Import them
        </Button>
      </div>
      <div className="mt-3">
        <DropFile
          words="Or choose a file of listings"
          accept={LIST_FILES}
          looking={looks.looking?.name}
          onFiles={(files) => {
            setWrong(null);
            looks.add(files.map((file) => ({ owner, file, name: file.name })));
          }}
          onStop={looks.stop}
          onWrong={setWrong}
        />
      </div>
      {(wrong ?? looks.wrong) && (
        <div role="alert">
          <Notice tone="loss">{wrong ?? looks.wrong?.says}</Notice>
        </div>
      )}
    </div>
  );
}

const BY = { sku: 'by SKU', gtin: 'by barcode', looks: 'by looks' } as const;
const STATES: Readonly<Record<string, string>> = { live: 'on sale', paused: 'paused', ended: 'ended' };

function columnsFor(currency: string, show: Show, names: ReadonlyMap<string, string>): Column<BroughtRow>[] {
  const options = (o: Readonly<Record<string, string>>) =>
    Object.keys(o).length ? `, ${optionsInWords(o)}` : '';
  return [
    {
      id: 'listing',
      header: 'In the shop',
      size: 180,
      grows: true,
      rank: 0,
      cell: ({ listing, product, variant }) => (
        <Two
          top={`${product.title ?? ''}${options(variant.options)}`}
          under={<span className="font-mono">{listing.sku}</span>}
        />
      ),
    },
    {
      id: 'state',
      header: 'State',
      size: 76,
      rank: 4,
      cell: ({ listing }) => STATES[listing.state] ?? listing.state,
    },
    {
      id: 'price',
      header: `Price ${signOf(currency)}`,
      size: 74,
      rank: 1,
      right: true,
      cell: ({ listing }) => (listing.published ? formatMinor(listing.published.price, currency) : ''),
    },
    {
      id: 'item',
      header: show === 'linked' ? 'Sells' : 'May sell',
      size: 180,
      grows: true,
      rank: 0,
      cell: ({ source, proposal }) => {
        const best = proposal?.candidates.find(
          (c) => !source || (c.sku === source.item && c.supplier === source.supplier),
        );
        if (source)
          return (
            <Two
              top={best?.title ?? source.item}
              under={
                <span className="font-mono">{`${source.item} · ${names.get(source.supplier) ?? ''}`}</span>
              }
            />
          );
        return best ? (
          <Two
            top={best.title + options(best.options)}
            under={<span className="font-mono">{`${best.sku} · ${names.get(best.supplier) ?? ''}`}</span>}
          />
        ) : (
          <span className="text-muted">nothing like it</span>
        );
      },
    },
    {
      id: 'by',
      header: 'Found',
      size: 96,
      rank: 1,
      cell: ({ source, proposal }) => {
        const best = proposal?.candidates[0];
        if (source) return <StateMark tone="well">Linked</StateMark>;
        return best ? (
          <Two
            top={<StateMark tone={proposal?.sure ? 'well' : 'person'}>{BY[best.by]}</StateMark>}
            under={`${best.score} of 100`}
          />
        ) : (
          <StateMark tone="waits">not found</StateMark>
        );
      },
    },
  ];
}
