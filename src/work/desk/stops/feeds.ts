import { work } from '../../browser/browser';
import { feedFile, feedLines, lookAtFeed, makeLive, servedOf } from '../../feeds/list';
import { dropFeed, type FeedDraft, renewSecret, saveFeed } from '../../feeds/save';
import { soldByMark } from '../../feeds/sold';
import { jobId } from '../../schedule/job';
import { bound } from '../bound';
import { assortment, book, built, builtBook, changing, OF_LISTS, OFTEN, SOON } from '../memory';

/** Questions and acts of product feeds. */
export const productFeedsDesk = {
  productFeeds: async () => {
    await built();
    return feedLines(work, assortment);
  },
  lookAtFeed: async (id: string | null, draft: FeedDraft) => {
    await built();
    return lookAtFeed(work, assortment, id, draft, work.clock());
  },
  /** A feed as a file of now, whatever is served. */
  feedFile: async (id: string) => {
    await built();
    const feed = await work.db.feeds.get(id);
    return feed
      ? feedFile(assortment, feed, work.clock())
      : ({ ok: false, reason: 'This feed is not there any more.' } as const);
  },
  /** What buyers who came by the mark of a feed ordered. */
  soldByMark: async () => {
    await builtBook();
    await book.catchUp();
    return soldByMark(book);
  },
  servedFeed: (id: string) => servedOf(work, id),
  feedJob: (id: string) => work.db.jobs.get(jobId(id, 'feed')),
  makeFeedLive: bound(makeLive),
  saveFeed: bound(saveFeed),
  renewSecret: bound(renewSecret),
  dropFeed: bound(dropFeed),
};

let version = 0;

export const productFeedsFeeds = {
  productFeedsVersion: changing(
    [...OF_LISTS, 'feeds', 'madeFeeds', 'jobs'],
    { calm: SOON, often: OFTEN },
    async () => {
      await built();
      await assortment.catchUp();
      return ++version;
    },
  ),
};
