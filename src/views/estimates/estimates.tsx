'use client';
import Link from 'next/link';
import { useState } from 'react';
import { FEWEST, TOLERANCE } from '../../core/drift';
import { formatMinor } from '../../core/money';
import { countOf, formatCount, whenOf, writtenDay } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAhead } from '../../ui/ahead';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Docket, WithDocket } from '../../ui/docket';
import { Empty, Head, NeedsYou, Section } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { useOrdersVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import type { DriftFound, DriftKind } from '../../work/pricing/drifts';

const WHAT: Readonly<Record<DriftKind, string>> = {
  fees: 'Fees of',
  shipping: 'Shipping by',
  goods: 'Goods of',
};

const percent = (ratio: number) => `${ratio >= 1 ? '+' : '−'}${(Math.abs(ratio - 1) * 100).toFixed(1)} %`;

/** What was expected of fees, shipping and goods beside what came of it, and what would correct it. */
export function EstimatesPage() {
  const shop = useShop();
  const version = useOrdersVersion();
  const { get, set } = useAddress();
  const key = get('row');
  const found = useAnswer(() => (version ? theShop().drifts() : undefined), [version]);
  if (!shop || !found) return <Loading name="Estimates" />;
  const sure = found.filter((d) => d.drift.sure).length;
  const chosen = found.find((d) => d.key === key);
  const books = shop.settings.currency;
  const head = (name: string, right = true) => (
    <th key={name} scope="col" className={`py-1 pr-3 font-normal ${right ? 'text-right' : 'text-left'}`}>
      {name}
    </th>
  );
  return (
    <WithDocket
      docket={
        chosen && (
          <DriftDocket
            key={key}
            found={chosen}
            books={books}
            zone={shop.settings.zone}
            onClose={() => set({ row: '' })}
          />
        )
      }
    >
      <section className="flex min-w-0 grow flex-col overflow-auto">
        <Head
          name="Estimates"
          state={
            <>
              {sure ? (
                <NeedsYou>
                  {formatCount(sure)} of {formatCount(found.length)} drift
                </NeedsYou>
              ) : (
                `${formatCount(found.length)} looked at, none drifts`
              )}
              .
            </>
          }
        >
          <Link href="/money" className="text-[13px] text-river underline">
            Money
          </Link>
        </Head>
        {found.length === 0 ? (
          <Empty title="No order is settled yet">
            <p>
              Once orders are settled, what was expected of their fees, shipping and goods stands here beside
              what was really charged.
            </p>
          </Empty>
        ) : (
          <table className="mx-4 text-[13.5px]">
            <caption className="sr-only">Estimates beside what came of them</caption>
            <thead className="text-xs text-muted">
              <tr>
                {head('Estimate', false)}
                {head('Orders')}
                {head(`Expected, ${books}`)}
                {head(`Actual, ${books}`)}
                {head('Off by')}
                {head('Between, 99 % sure')}
                {head('', false)}
              </tr>
            </thead>
            <tbody>
              {found.map((d) => (
                <tr
                  key={d.key}
                  aria-selected={d.key === key}
                  className={`border-t border-rule-soft aria-selected:bg-river-soft ${d.drift.sure ? 'bg-lamp-soft' : ''}`}
                >
                  <th scope="row" className="py-1 pr-3 text-left font-normal">
                    <button
                      type="button"
                      className="text-left text-river hover:underline"
                      onClick={() => set({ row: d.key === key ? '' : d.key })}
                    >
                      {WHAT[d.kind]} {d.name}
                    </button>
                  </th>
                  <td className="pr-3 text-right">{formatCount(d.drift.orders)}</td>
                  <td className="pr-3 text-right">{formatMinor(d.drift.expected, books)}</td>
                  <td className="pr-3 text-right">{formatMinor(d.drift.actual, books)}</td>
                  <td className={`pr-3 text-right ${d.drift.sure ? 'font-semibold' : ''}`}>
                    {percent(d.drift.ratio)}
                  </td>
                  <td className="pr-3 text-right whitespace-nowrap text-muted">
                    {d.drift.orders < FEWEST
                      ? `fewer than ${FEWEST} orders`
                      : `${percent(d.drift.low)} to ${percent(d.drift.high)}`}
                  </td>
                  <td className="pr-3 text-left whitespace-nowrap">
                    {d.drift.sure ? (
                      <span className="font-semibold text-lamp">
                        <span aria-hidden>◆ </span>since {writtenDay(d.since).slice(0, -5)}
                      </span>
                    ) : (
                      <span className="text-muted">holds</span>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <p className="mx-4 mt-2 max-w-3xl text-xs text-muted">
          Settled orders of the last 120 days, without those that came back. An estimate drifts where at least{' '}
          {FEWEST} orders put it more than {TOLERANCE * 100} % off with 99 % confidence: what fewer show may
          be chance.
        </p>
      </section>
    </WithDocket>
  );
}

function DriftDocket({
  found: { key, kind, name, drift, since, examples, correction, correctedAt },
  books,
  zone,
  onClose,
}: {
  found: DriftFound;
  books: string;
  zone: string;
  onClose: () => void;
}) {
  const now = useNow(60_000);
  const [busy, setBusy] = useState(false);
  const ahead = useAhead(correction?.draft ?? null, null, 'Correct it');
  const m = (minor: number, plus = false) => formatMinor(minor, books, plus);
  const correct = async () => {
    if (!correction) return;
    setBusy(true);
    const said = await theShop().correctDrift(key, correction.says);
    setBusy(false);
    await say(
      said.ok
        ? `${WHAT[kind]} ${name} are expected anew. ${said.listings ? `${countOf(said.listings, 'listing')} on the way.` : 'No live listing had to change.'}`
        : said.reason,
      said.ok ? { undo: true } : { wrong: true },
    );
  };
  return (
    <Docket label={`${WHAT[kind]} ${name}`} onClose={onClose}>
      <h2 className="text-base font-semibold">
        {WHAT[kind]} {name}
      </h2>
      <p className="text-[13.5px]">
        {countOf(drift.orders, 'order')}: {m(drift.expected)} expected, {m(drift.actual)} charged,{' '}
        <b className="font-semibold">{m(drift.actual - drift.expected, true)}</b> ({percent(drift.ratio)}).
      </p>
      <p className="text-[13.5px] text-muted">
        {drift.sure
          ? `Between ${percent(drift.low)} and ${percent(drift.high)} with 99 % confidence; each week since ${writtenDay(since)} is off to the same side.`
          : drift.orders < FEWEST
            ? `Fewer than ${FEWEST} orders prove nothing yet.`
            : `Between ${percent(drift.low)} and ${percent(drift.high)} with 99 % confidence: that is what was expected, or too near to it.`}
        {correctedAt !== null &&
          ` Corrected ${whenOf(correctedAt, now, zone)}: only later orders are counted.`}
      </p>
      <Section title="Farthest off">
        <table className="w-full text-[13.5px]">
          <caption className="sr-only">Orders that are farthest off</caption>
          <tbody>
            {examples.map((e) => (
              <tr key={e.order}>
                <th scope="row" className="py-0.5 text-left font-normal">
                  <Link
                    href={`/orders?row=${encodeURIComponent(e.order)}`}
                    className="font-mono text-river hover:underline"
                  >
                    {e.number}
                  </Link>
                </th>
                <td className="text-right text-muted">expected {m(e.expected)}</td>
                <td className="text-right">{m(e.actual)}</td>
                <td className="text-right">{m(e.actual - e.expected, true)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Section>
      {drift.sure && (
        <Section title="Correct it">
          {correction ? (
            <>
              <p className="text-[13.5px]">
                From now on: <b className="font-semibold">{correction.says}</b>.
              </p>
              {ahead.view}
              <Button
                kind="main"
                className="mt-2"
                onClick={correct}
                {...ahead.save}
                disabled={busy || ahead.save.disabled}
              >
                {ahead.saves}
              </Button>
            </>
          ) : (
            <p className="text-[13.5px] text-muted">
              Nothing of your own terms explains it: look at the orders, and at what {name} lists.
            </p>
          )}
        </Section>
      )}
    </Docket>
  );
}
