'use client';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { formatMinor, formatMoney } from '../../core/money';
import { countOf, formatCount, spanOf, whenOf } from '../../core/units';
import { useFeed } from '../../ui/asked';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { Empty, Head, NeedsYou } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { takeBack } from '../../ui/said';
import { useShop } from '../../ui/shop';
import type { Course } from '../../work/overview/course';
import type { Need } from '../../work/overview/need';
import { useCourse } from '../frame/world';

/**
 * What needs a person, worst first, each with the step that resolves it; beside it the last two days in
 * figures and what was changed.
 */
export function Today() {
  const course = useCourse();
  const shop = useShop();
  const now = useNow();
  if (!course || !shop || !now) return <Loading name="Today" what="Looking what needs you …" />;
  const n = course.needing;
  const more = n - course.needs.reduce((sum, need) => sum + (need.count ?? 1), 0);
  if (shop.connections.size === 0) return <FirstSteps />;
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="Today"
        state={
          n ? (
            <NeedsYou>
              {countOf(n, 'thing')} {n === 1 ? 'needs' : 'need'} you
            </NeedsYou>
          ) : (
            'Nothing needs you.'
          )
        }
      >
        <Link
          href="/today/digest"
          className="rounded-sm border border-edge px-2.5 py-1 text-[13px] font-semibold text-river hover:bg-river-soft"
        >
          Digest of the day
        </Link>
      </Head>
      <div className="grid gap-x-5 gap-y-4 px-4 pb-6 lg:grid-cols-[1fr_340px]">
        <div>
          {n > 0 ? (
            <ol
              aria-label="What needs you, worst first"
              className="divide-y divide-rule-soft rounded-sm border border-rule bg-surface"
            >
              {course.needs.map((need) => (
                <NeedItem key={need.id} need={need} />
              ))}
              {more > 0 && (
                <li className="px-3 py-2 text-[13px] text-muted">
                  {formatCount(more)} more that matter less: held listings stand under{' '}
                  <Link href="/listings?q=is:held" className="text-river underline">
                    Listings
                  </Link>
                  , late orders under{' '}
                  <Link href="/orders?q=is:late" className="text-river underline">
                    Orders
                  </Link>
                  .
                </li>
              )}
            </ol>
          ) : (
            <div className="rounded-sm border border-rule bg-surface p-5">
              <h2 className="font-semibold">All is under way</h2>
              <p className="mt-1 text-muted">
                Yesterday brought {countOf(course.yesterday.orders, 'order')} and{' '}
                {formatMoney({ minor: course.yesterday.profit, currency: course.currency })} profit on{' '}
                {formatMoney({ minor: course.yesterday.revenue, currency: course.currency })}.
              </p>
            </div>
          )}
          <NextSteps course={course} />
        </div>
        <div className="space-y-4">
          <Figures course={course} />
          <Changes now={now} zone={shop.settings.zone} />
        </div>
      </div>
    </section>
  );
}

const HOUR = 3_600_000;

function NeedItem({ need }: { need: Need }) {
  const router = useRouter();
  const urgent = !need.news && (need.losing || need.left < 6 * HOUR);
  const left = need.news
    ? 'to see'
    : need.left <= 0
      ? 'now'
      : need.left < 1000 * HOUR
        ? `${spanOf(need.left)} left`
        : '';
  return (
    <li className="grid grid-cols-[88px_1fr_auto] items-center gap-x-3 px-3 py-2 max-sm:grid-cols-1">
      <span className={`text-[13px] ${urgent ? 'font-semibold text-loss' : 'text-muted'}`}>
        <span
          aria-hidden
          className={`mr-1.5 inline-block size-2 rotate-45 ${urgent ? 'bg-loss' : 'bg-lamp'}`}
        />
        {left}
      </span>
      <span className="min-w-0">
        <span className="block truncate font-semibold">{need.what}</span>
        <span className="block text-[13px] text-muted">
          {need.why}
          {need.stake > 0 && ` At stake ${formatMoney({ minor: need.stake, currency: need.currency })}.`}
        </span>
      </span>
      <Button onClick={() => router.push(need.href)}>{need.step}</Button>
    </li>
  );
}

function NextSteps({ course }: { course: Course }) {
  const steps = [
    course.bench.ready > 0 &&
      ([
        `${countOf(course.bench.ready, 'product')} on the Bench ${course.bench.ready === 1 ? 'is' : 'are'} ready to approve`,
        '/bench?q=is:ready',
      ] as const),
    course.bench.approved > 0 &&
      ([
        `${countOf(course.bench.approved, 'approved product')} wait${course.bench.approved === 1 ? 's' : ''} to be published`,
        '/bench?q=is:approved',
      ] as const),
    course.bench.lacking > 0 &&
      ([
        `${countOf(course.bench.lacking, 'product')} on the Bench lack${course.bench.lacking === 1 ? 's' : ''} something`,
        '/bench?q=is:lacking',
      ] as const),
    ...course.fresh.map(
      (f) =>
        [
          `“${f.name}” ${f.taken ? 'found and put on the Bench' : 'found'} ${countOf(f.count, 'new match', 'new matches')}`,
          `/source?saved=${encodeURIComponent(f.id)}`,
        ] as const,
    ),
    course.orders.ready > 0 &&
      ([`${countOf(course.orders.ready, 'order')} ready to be forwarded`, '/orders?q=is:ready'] as const),
  ].filter((s) => s !== false);
  if (!steps.length) return null;
  return (
    <div className="mt-4">
      <h2 className="text-xs font-semibold text-muted">When you have time</h2>
      <ul className="mt-1 space-y-1">
        {steps.map(([words, href]) => (
          <li key={href}>
            <Link href={href} className="text-river hover:underline">
              {words}
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Figures({ course }: { course: Course }) {
  const m = (minor: number, plus = false) => formatMinor(minor, course.currency, plus);
  const rows = [
    ['Orders', formatCount(course.today.orders), formatCount(course.yesterday.orders)],
    [`Revenue ${course.currency}`, m(course.today.revenue), m(course.yesterday.revenue)],
    [`Profit ${course.currency}`, m(course.today.profit, true), m(course.yesterday.profit, true)],
  ] as const;
  return (
    <div className="rounded-sm border border-rule bg-surface p-3">
      <table className="w-full text-[13.5px]">
        <caption className="pb-1 text-left text-xs font-semibold text-muted">
          In figures ·{' '}
          <Link href="/money" className="text-river underline">
            all days
          </Link>
        </caption>
        <thead className="text-xs text-muted">
          <tr>
            <td />
            {['Today', 'Yesterday'].map((name) => (
              <th key={name} scope="col" className="text-right font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, today, yesterday]) => (
            <tr key={name}>
              <th scope="row" className="py-0.5 text-left font-normal">
                {name}
              </th>
              <td className="text-right font-semibold">{today}</td>
              <td className="text-right">{yesterday}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 border-t border-rule-soft pt-2 text-[13px] text-muted">
        {formatCount(course.listings.live)} listings live, {formatCount(course.listings.paused)} paused;{' '}
        {countOf(course.orders.open, 'order')} open.
      </p>
    </div>
  );
}

const SHOWN = 12;

function Changes({ now, zone }: { now: number; zone: string }) {
  const changes = useFeed('lastChanges', SHOWN);
  if (!changes?.length) return null;
  return (
    <div className="rounded-sm border border-rule bg-surface p-3">
      <h2 className="pb-1 text-xs font-semibold text-muted">What changed last</h2>
      <ol className="space-y-1.5 text-[13px]">
        {changes.map((c) => (
          <li key={c.id} className="flex items-baseline gap-2">
            <span className="min-w-0 grow">
              <span className={c.undoneBy ? 'line-through' : ''}>{c.name}</span>
              <span className="block text-xs text-muted">
                {whenOf(c.at, now, zone)} · {c.by === 'person' ? 'you' : 'by rule'} ·{' '}
                {countOf(c.edits, 'row')}
              </span>
            </span>
            {c.undoable && !c.undoneBy && (
              <Button
                kind="text"
                className="py-0"
                aria-label={`Undo ${c.name}`}
                onClick={() => takeBack(c.id)}
              >
                Undo
              </Button>
            )}
          </li>
        ))}
      </ol>
    </div>
  );
}

function FirstSteps() {
  return (
    <div className="grow overflow-auto">
      <Head name="Today" state="The shop is empty." />
      <Empty title="Two ways to begin">
        <p>
          <b className="font-semibold">With services.</b> Connect a supplier with the account number and key
          it gave you: its catalogue is read into Source. Connect a marketplace: you give consent on its own
          page and come back.{' '}
          <Link href="/connections" className="font-semibold text-river underline">
            Go to Connections
          </Link>
        </p>
        <p>
          <b className="font-semibold">With files.</b> Drop a supplier’s price list, say what its columns
          mean, and search it; order from it by order files or by hand. A shop without a service takes its
          listings from a file and gives its sales as one. A shop that trades already comes in from its
          marketplace, or from its own file of listings.{' '}
          <Link href="/source/lists" className="font-semibold text-river underline">
            Drop a price list
          </Link>
          {', '}
          <Link href="/connections" className="font-semibold text-river underline">
            add a file-based shop
          </Link>
        </p>
        <p>
          Then take goods to the Bench, approve their price, publish. Orders come in by themselves. The name
          of your shop, the currency of your books and your SKUs stand in{' '}
          <Link href="/settings" className="font-semibold text-river underline">
            Settings
          </Link>
          .
        </p>
      </Empty>
    </div>
  );
}
