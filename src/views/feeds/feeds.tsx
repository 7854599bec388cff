'use client';
import Link from 'next/link';
import { formatMinor } from '../../core/money';
import { formatCount, spanOf } from '../../core/units';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { useNow } from '../../ui/clock';
import { ColumnHeads } from '../../ui/column-heads';
import { Empty, Head } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { useShop } from '../../ui/shop';
import { useProductFeedsVersion } from '../../ui/versions';
import { theShop } from '../../work/desk/client';
import { marketsOf } from '../../work/quoting/worth';
import { FeedEditor } from './feed-editor';
import { bytesInWords, FORMATS } from './words';

/** Product feeds: what each tells of, when it was made and by whom it was fetched, what its buyers ordered. */
export function FeedsPage() {
  const shop = useShop();
  const version = useProductFeedsVersion();
  const now = useNow(60_000);
  const { get, set } = useAddress();
  const chosen = get('feed');
  const lines = useAnswer(() => (version ? theShop().productFeeds() : undefined), [version]);
  const sold = useAnswer(() => (version ? theShop().soldByMark() : undefined), [version]);
  if (!shop || !lines) return <Loading name="Feeds" />;
  const line = lines.find((l) => l.feed.id === chosen) ?? null;
  if (line || chosen === 'new')
    return (
      <FeedEditor
        key={chosen}
        line={line}
        shop={shop}
        version={version}
        now={now}
        onClose={(id) => set({ feed: id ?? '' }, true)}
      />
    );
  const markets = marketsOf(shop);
  const none = !markets.length;
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="Feeds"
        state={
          chosen
            ? 'The feed of this address is not there any more.'
            : 'What is on sale, told to comparison sites, partners and your own site.'
        }
      >
        <Link href="/listings/groups" className="text-[13px] text-river underline">
          Groups
        </Link>
        <Button kind="main" disabled={none} onClick={() => set({ feed: 'new' }, true)}>
          New feed
        </Button>
      </Head>
      {lines.length ? (
        <div className="overflow-x-auto px-4 pb-6">
          <table className="w-full text-[13.5px]">
            <caption className="sr-only">Product feeds</caption>
            <ColumnHeads
              left={['Name', 'Of', 'As']}
              right={['Products', 'Left out', 'Size', 'Made', 'Orders', 'Revenue', 'Profit', 'Returns']}
            />
            <tbody>
              {lines.map(({ feed, market, group, made, job }) => {
                const own = sold?.sums.find((s) => s.id === feed.mark?.value && s.market === feed.market);
                const money = (minor: number, plus = false) => formatMinor(minor, sold!.currency, plus);
                return (
                  <tr key={feed.id} className="border-t border-rule-soft align-baseline">
                    <th scope="row" className="py-1 pr-3 text-left font-normal">
                      <button
                        type="button"
                        className="font-semibold text-river hover:underline"
                        onClick={() => set({ feed: feed.id }, true)}
                      >
                        {feed.name}
                      </button>
                      {job && !job.lastOk && job.lastSays && (
                        <span className="block text-xs text-lamp">{job.lastSays}</span>
                      )}
                    </th>
                    <td className="pr-3">
                      {group === null ? 'all' : group || 'a group that is gone'}
                      <span className="block text-xs text-muted">{market}</span>
                    </td>
                    <td className="pr-3 whitespace-nowrap">{FORMATS[feed.form.format]}</td>
                    <td className="pr-3 text-right">{made ? formatCount(made.rows) : '–'}</td>
                    <td className="pr-3 text-right">{made ? formatCount(made.leftOut) : '–'}</td>
                    <td className="pr-3 text-right whitespace-nowrap">
                      {made ? bytesInWords(made.bytes) : '–'}
                    </td>
                    <td className="pr-3 text-right whitespace-nowrap">
                      {made ? `${spanOf(Math.max(0, now - made.at))} ago` : 'never'}
                      {made && !made.served && <span className="block text-xs text-lamp">not served</span>}
                    </td>
                    <td className="pr-3 text-right">
                      {own ? (
                        <Link
                          className="text-river hover:underline"
                          href={`/orders?q=${encodeURIComponent(`mark:${own.id}`)}`}
                        >
                          {formatCount(own.orders)}
                        </Link>
                      ) : (
                        '–'
                      )}
                    </td>
                    <td className="pr-3 text-right">{own ? money(own.revenue) : '–'}</td>
                    <td className={`pr-3 text-right ${own && own.profit < 0 ? 'text-loss' : ''}`}>
                      {own ? money(own.profit, true) : '–'}
                    </td>
                    <td className="text-right">{own ? formatCount(own.returns) : '–'}</td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <p className="mt-2 text-xs text-muted">
            Orders, revenue, profit and returns: of buyers who came by the mark of a feed, over all that is on
            record. By day, week or month: Money, broken down by feed mark.
          </p>
        </div>
      ) : (
        <Empty title={none ? 'No marketplace yet' : 'No feed yet'}>
          <p>
            {none
              ? 'A feed tells of what is on sale on a marketplace. Connect one first.'
              : 'A feed is a file of your products at an address: CSV, TSV, XML, RSS, JSON, JSON-LD, or by your own template. It is made again on a schedule, checked before it goes out, and served while Sampan’s server runs.'}
          </p>
          {none ? (
            <Link href="/connections" className="font-semibold text-river underline">
              Connect a marketplace
            </Link>
          ) : (
            <Button kind="main" onClick={() => set({ feed: 'new' }, true)}>
              New feed
            </Button>
          )}
        </Empty>
      )}
    </section>
  );
}
