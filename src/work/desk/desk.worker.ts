import { expose } from 'comlink';
import { linesOf, loadDump, streamPieces } from '../../store';
import { work } from '../browser/browser';
import { startShop } from '../schedule/schedule';
import type { Feed, FeedArgs, FeedTells } from './feed';
import { watchForLoss } from './loss';
import { Makers } from './made';
import { beginWith, stands } from './memory';
import { benchDesk } from './stops/bench';
import { connectionsDesk, connectionsFeeds } from './stops/connections';
import { editingDesk } from './stops/editing';
import { productFeedsDesk, productFeedsFeeds } from './stops/feeds';
import { groupsDesk } from './stops/groups';
import { historyDesk, historyFeeds } from './stops/history';
import { linkingDesk } from './stops/linking';
import { listingsDesk, listingsFeeds } from './stops/listings';
import { listsDesk, listsFeeds } from './stops/lists';
import { moneyDesk } from './stops/money';
import { ordersDesk, ordersFeeds } from './stops/orders';
import { pricingDesk } from './stops/pricing';
import { printDesk, printFeeds } from './stops/print-room';
import { proofsDesk, proofsFeeds } from './stops/proofs';
import { returnsDesk } from './stops/returns';
import { settingUpDesk } from './stops/setting-up';
import { settingsDesk, settingsFeeds } from './stops/settings';
import { sourceDesk, sourceFeeds } from './stops/source';
import { statementsDesk, statementsFeeds } from './stops/statements';
import { todayDesk, todayFeeds } from './stops/today';

/** All questions and acts of a tab: those that read many rows at once, and every change. */
const desk = {
  ...benchDesk,
  ...connectionsDesk,
  ...editingDesk,
  ...groupsDesk,
  ...productFeedsDesk,
  ...historyDesk,
  ...linkingDesk,
  ...listingsDesk,
  ...listsDesk,
  ...moneyDesk,
  ...ordersDesk,
  ...pricingDesk,
  ...printDesk,
  ...proofsDesk,
  ...returnsDesk,
  ...statementsDesk,
  ...settingUpDesk,
  ...settingsDesk,
  ...sourceDesk,
  ...todayDesk,
};

/** All feeds. */
const feeds = {
  ...connectionsFeeds,
  ...historyFeeds,
  ...listingsFeeds,
  ...listsFeeds,
  ...ordersFeeds,
  ...productFeedsFeeds,
  ...statementsFeeds,
  ...printFeeds,
  ...proofsFeeds,
  ...settingsFeeds,
  ...sourceFeeds,
  ...todayFeeds,
};

export type FeedName = keyof typeof feeds;
export type ArgsOf<N extends FeedName> = FeedArgs<(typeof feeds)[N]>;
export type ToldBy<N extends FeedName> = FeedTells<(typeof feeds)[N]>;

/** Settled once the shop in this browser is whole: until then nothing is answered, and so nothing of a part is kept. */
const opened = Promise.withResolvers<void>();

/**
 * Loads the recorded past that the server has; tabs that open at the same time wait for each other.
 * @param size of it, in bytes
 * @param tell hears how many percent are read
 */
async function loadPast(size: number, tell: (share: number) => void): Promise<void> {
  await navigator.locks.request('sampan-past', async () => {
    if (await work.db.connections.count()) return;
    const past = await fetch('/api/recorded');
    if (!past.ok || !past.body) throw new Error(`The recorded past could not be loaded: ${past.status}.`);
    const text = past.body.pipeThrough(new TextDecoderStream());
    let said = 0;
    await loadDump(work.db, linesOf(streamPieces(text)), {
      tell: (characters) => {
        const share = Math.min(99, Math.floor((characters / size) * 100));
        if (share > said) tell(share);
        said = Math.max(said, share);
      },
    });
  });
}

const makers = new Makers();
work.made = makers.hear;

/** The first questions of views with rows. */
const ROWS: ReadonlySet<string> = new Set<keyof typeof desk>([
  'bench',
  'broughtIn',
  'listings',
  'orders',
  'search',
  'sums',
]);

/** Lets a question wait until the shop is whole, and tells the page of the change it made before the answer. */
const whenOpen = <F extends (...of: never[]) => unknown>(name: string, ask: F) =>
  (async (...of: Parameters<F>) => {
    await opened.promise;
    const answer = await makers.run(
      () => ask(...of),
      (message) => postMessage(message),
    );
    if (ROWS.has(name)) stands.resolve();
    return answer;
  }) as F;

/** Functions that end the followed feeds, by the number that the page gave each. */
const ends = new Map<number, () => void>();

const api = {
  ...(Object.fromEntries(
    Object.entries(desk).map(([name, ask]) => [name, whenOpen(name, ask as () => unknown)]),
  ) as unknown as typeof desk),
  /** Follows a feed. @param id names it until it is left */
  follow: async <N extends FeedName>(
    id: number,
    name: N,
    args: ArgsOf<N>,
    tell: (next: ToldBy<N>) => void,
    fail: (error: unknown) => void,
  ): Promise<void> => {
    await opened.promise;
    const feed = feeds[name] as unknown as Feed<ArgsOf<N>, ToldBy<N>>;
    ends.set(id, feed(tell, fail, ...args));
  },
  leave: (id: number): void => {
    ends.get(id)?.();
    ends.delete(id);
  },
  /** Whether there is a shop in this browser already, or there was one that was left for good. */
  hasShop: async () =>
    (await work.db.connections.count()) > 0 || (await work.db.notes.get('left-demo')) !== undefined,
  loadPast,
  /**
   * Says that the shop is whole. @param tab the tab that this worker serves @param zone where nothing stands yet
   * @param rows whether a view with rows is looked at first
   */
  open: async (tab: string, zone: string | null, rows: boolean): Promise<void> => {
    work.tab = tab;
    if (zone) await startShop(work, zone);
    beginWith(rows);
    opened.resolve();
  },
  /** Tells when the shop is no longer there. */
  watchForLoss: (tell: (says: string) => void): void => {
    watchForLoss(work, tell);
  },
  /** Answers as soon as it is heard. */
  ping: () => true,
};
export type DeskApi = typeof api;
expose(api);
// Whoever loaded it knows from now on that it is there.
postMessage({ ready: true });
