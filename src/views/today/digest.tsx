'use client';
import Link from 'next/link';
import { tallyInWords } from '../../core/catalogue';
import { formatMinor, formatMoney } from '../../core/money';
import { addDays, clockTime, countOf, dayName, dayOf, formatCount, isDay } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { BeforeAfter } from '../../ui/before-after';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { downloadFile } from '../../ui/download';
import { Head, Notice } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { useShop } from '../../ui/shop';
import { useListingsVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import type { Digest, DigestMarket } from '../../work/overview/digest';
import { digestHtml, marketInWords } from '../../work/overview/digest-html';

const HOUR = 3_600_000;

/** What happened in the shop on one day, on one page. */
export function DigestPage() {
  const shop = useShop();
  const now = useNow(60_000);
  const { get } = useAddress();
  const version = useListingsVersion();
  const zone = shop?.settings.zone ?? 'UTC';
  const today = now ? dayOf(now, zone) : '';
  const asked = get('day') ?? '';
  const wrong = asked !== '' && (!isDay(asked) || asked > today);
  const day = asked && !wrong ? asked : today;
  const digest = useAnswer(() => (day ? theShop().digestOf(day) : null), [day, version]);
  if (!shop || !today) return <Loading name="Digest" />;
  return (
    <section className="min-w-0 grow overflow-auto">
      <Head name="Digest" state={`${day === today ? 'Today, ' : ''}${dayName(day)} ${day.slice(0, 4)}`}>
        <DayLink day={addDays(day, -1)} words="Day before" />
        {day < today && <DayLink day={addDays(day, 1)} words="Day after" />}
        <Button
          kind="main"
          disabled={!digest}
          onClick={() =>
            digest &&
            downloadFile(`digest-${day}.html`, new Blob([digestHtml(digest)], { type: 'text/html' }))
          }
        >
          Save as HTML
        </Button>
      </Head>
      <div className="max-w-4xl px-4 pb-8">
        {wrong && <Notice>“{asked}” is no day up to today: today is shown.</Notice>}
        {digest?.day === day && <Whole digest={digest} />}
      </div>
    </section>
  );
}

const DayLink = ({ day, words }: { day: string; words: string }) => (
  <Link
    href={`/today/digest?day=${day}`}
    className="rounded-sm border border-edge px-2.5 py-1 text-[13px] font-semibold text-river hover:bg-river-soft"
  >
    {words}
  </Link>
);

function Whole({ digest: d }: { digest: Digest }) {
  const markets = d.markets.filter((m) => marketInWords(m));
  const money = (minor: number) => formatMoney({ minor, currency: d.currency });
  return (
    <>
      <Part title="Orders">
        <p>
          {countOf(d.orders.count, 'order')} came in
          {d.orders.cancelled > 0 && `, ${formatCount(d.orders.cancelled)} cancelled`}: revenue{' '}
          <b className="font-semibold">{money(d.orders.revenue)}</b>, profit{' '}
          <b className={`font-semibold ${d.orders.profit < 0 ? 'text-loss' : 'text-river'}`}>
            {money(d.orders.profit)}
          </b>
          .
        </p>
        <p>
          {countOf(d.orders.bought, 'purchase')} made for {money(d.orders.spent)},{' '}
          {countOf(d.orders.shipped, 'parcel')} sent.
          {d.orders.held > 0 && ` ${countOf(d.orders.held, 'order')} held now.`}
          {d.orders.late > 0 && ` ${countOf(d.orders.late, 'order')} late.`}
        </p>
      </Part>
      {d.needs.length > 0 && (
        <Part title={`Needs you (${formatCount(d.needing)})`}>
          <ol className="space-y-1">
            {d.needs.map((need) => (
              <li key={need.id}>
                <Link
                  href={need.href}
                  className={`font-semibold hover:underline ${need.left < 6 * HOUR ? 'text-loss' : 'text-lamp'}`}
                >
                  {need.what}
                </Link>{' '}
                <span className="text-[13px] text-muted">{need.why}</span>
              </li>
            ))}
          </ol>
        </Part>
      )}
      <Part title="Marketplaces">
        {markets.length ? (
          markets.map((m) => <Market key={m.name} market={m} />)
        ) : (
          <p className="text-muted">No price, no quantity and no listing changed.</p>
        )}
      </Part>
      {d.suppliers.length > 0 && (
        <Part title="Suppliers">
          <ul className="space-y-0.5">
            {d.suppliers.map((s) => (
              <li key={s.name}>
                <b className="font-semibold">{s.name}</b>, {countOf(s.readings, 'reading')}:{' '}
                {tallyInWords(s.tally)}
                {s.refused > 0 && `; ${countOf(s.refused, 'row')} not imported`}.
              </li>
            ))}
          </ul>
        </Part>
      )}
      {d.changes.length > 0 && (
        <Part title="What you changed">
          <ul>
            {d.changes.map((c) => (
              <li key={`${c.at} ${c.name}`}>
                <span className="font-mono text-[13px] text-muted">{clockTime(c.at, d.zone)}</span> {c.name}
              </li>
            ))}
          </ul>
        </Part>
      )}
    </>
  );
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section aria-label={title} className="mt-3 rounded-sm border border-rule bg-surface px-4 py-3 text-sm">
      <h2 className="pb-1 text-xs font-semibold text-muted">{title}</h2>
      {children}
    </section>
  );
}

function Market({ market: m }: { market: DigestMarket }) {
  return (
    <div className="mb-2">
      <p>
        <b className="font-semibold">{m.name}</b>: {marketInWords(m)}.
      </p>
      {m.moves.length > 0 && (
        <table className="mt-1 w-full text-[13px]">
          <caption className="sr-only">Prices on {m.name} that moved most</caption>
          <tbody>
            {m.moves.map((move) => (
              <tr key={move.listing} className="border-t border-rule-soft align-top">
                <th scope="row" className="py-1 pr-3 text-left font-normal">
                  <Link
                    href={`/listings?row=${encodeURIComponent(move.listing)}`}
                    className="hover:underline"
                  >
                    {move.title}
                  </Link>{' '}
                  <span className="font-mono text-xs text-muted">{move.sku}</span>
                  <span className="block text-xs text-muted">{move.because}</span>
                </th>
                <td
                  className="py-1 text-right whitespace-nowrap"
                  title={formatMinor(move.to.price, m.currency)}
                >
                  <BeforeAfter from={move.from.price} to={move.to.price} currency={m.currency} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
