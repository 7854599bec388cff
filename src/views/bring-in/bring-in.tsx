'use client';
import Link from 'next/link';
import { useCallback, useEffect, useMemo, useState } from 'react';
import type { Candidate } from '../../core/linking';
import { countOf, formatCount } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { WithDocket } from '../../ui/docket';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { MarketSelect } from '../../ui/market-select';
import { useMarks } from '../../ui/marks';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { DataTable } from '../../ui/table/table';
import { useListingsVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import { marketsOf } from '../../work/quoting/worth';
import { jobId } from '../../work/schedule/job';
import { columnsFor } from './columns';
import { Kinds } from './kinds';
import { LinkDocket } from './link-docket';
import { useLookUp } from './look-up';
import { groupsOf, showIn } from './rows';
import { WishForm } from './wish-form';

/**
 * Takes over a shop that already trades: its listings come in as they are, then each is linked to the
 * supplier item it sells.
 */
export function BringIn() {
  const shop = useShop();
  const { get, set } = useAddress();
  const version = useListingsVersion();
  const { doing, setDoing, findAll } = useLookUp();
  // Again when the look-up ends: what was found belongs to no listing's row.
  const read = useAnswer(() => (version ? theShop().broughtIn() : undefined), [version, doing]);
  const market = shop && (marketsOf(shop).find((m) => m.id === get('on')) ?? marketsOf(shop)[0]);
  const job = useFeed('jobs', market ? [jobId(market.id, 'listings')] : [])?.[0];
  const [form, setForm] = useState(false);

  const unlooked = read?.filter((r) => !r.source && !r.proposal).length ?? 0;
  const running = job?.running ?? null;
  // What came in is looked up at once; again when the seller asks, as after a new price list.
  useEffect(() => {
    if (unlooked > 0 && !running) findAll();
  }, [unlooked, running, findAll]);

  const groups = useMemo(() => groupsOf(read ?? []), [read]);
  const show = showIn(groups, get('show'));
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
    setDoing(`Linking ${formatCount(links.length)} …`);
    const n = await theShop().link(links);
    setDoing(null);
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

  if (!shop || !read) return <Loading name="Bring in a shop" />;
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
          <MarketSelect
            label="From"
            markets={marketsOf(shop)}
            chosen={market.id}
            onChoose={(on) => set({ on, row: '' })}
          />
          <Link href="/listings" className="text-[13px] font-semibold text-river hover:underline">
            Back to Listings
          </Link>
          {read.length > 0 && (
            <Button onClick={() => setForm(!form)}>{form ? 'Close the form' : 'Bring in more'}</Button>
          )}
          {open > 0 && <Button onClick={findAll}>Look up again</Button>}
          {marks.size > 0 && <Button onClick={remove}>Take {formatCount(marks.size)} out of Sampan</Button>}
          {groups.sure.length > 0 && show === 'sure' && (
            <Button kind="main" disabled={doing !== null} onClick={linkSure}>
              Link {marks.size ? formatCount(marks.size) : `all ${formatCount(groups.sure.length)} sure ones`}
            </Button>
          )}
        </Head>
        {doing && (
          <p role="status" className="px-4 pb-2 text-[13.5px] text-river">
            {doing}
          </p>
        )}
        {running && (
          <p role="status" className="flex items-center gap-3 px-4 pb-2 text-[13.5px]">
            {formatCount(running.done)} of {formatCount(running.total)} listings of {market.name} brought in
            <Button onClick={() => theShop().stopJob(job!.id)}>Stop</Button>
          </p>
        )}
        {!running && job?.lastSays && read.length > 0 && form && (
          <p className="px-4 pb-2 text-[13.5px] text-muted">Last time: {job.lastSays}.</p>
        )}
        {opened ? (
          <WishForm market={market} onStarted={() => setForm(false)} />
        ) : (
          <>
            <Kinds
              groups={groups}
              show={show}
              onShow={(next) => {
                marks.clear();
                set({ show: next, row: '' });
              }}
            />
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
