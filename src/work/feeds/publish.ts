import { FILE_OF } from '../../core/feeds';
import { countOf } from '../../core/units';
import type { MadeFeedRow } from '../../store';
import type { Work } from '../context/work';
import { caughtUp } from '../memory/assortment';
import { fileName, fileOfFeed, makeFeed } from './make';

/** What became of a feed that was made. */
export interface PublishedFeed {
  readonly ok: boolean;
  readonly says: string;
  /** It shrank so much that a person is to say that it is meant. */
  readonly asks?: true;
}

/** Fewer rows than this share of the last ones are not put live unasked: something is wrong with the group or the shop. */
const SHRUNK = 0.5;
/** Rows from which on that is asked. */
const FROM = 20;

/**
 * Makes a feed and puts it where it is served. What was served stays until the new one is there whole; one that shrank to
 * less than half stays as it is until a person says so.
 * @param sure a person was told that it shrank, and means it
 */
export async function publishFeed(work: Work, id: string, sure = false): Promise<PublishedFeed> {
  const { db, clock, feedServer } = work;
  return work.alone(`feed-${id}`, async () => {
    const assortment = await caughtUp(work);
    const [feed, last] = await Promise.all([db.feeds.get(id), db.madeFeeds.get(id)]);
    if (!feed) return { ok: false, says: 'This feed is not there any more.' };
    const begun = clock();
    const making = makeFeed(assortment, feed, last ?? null, begun);
    if (!making.ok) return { ok: false, says: making.reason };
    const { made } = making;
    if (!made.rows)
      return {
        ok: false,
        says: made.leftOut
          ? `Nothing would be in it: all ${made.leftOut} products are left out.`
          : 'Nothing would be in it: none of its products is on sale.',
      };
    if (!sure && last && last.rows >= FROM && made.rows < last.rows * SHRUNK)
      return {
        ok: false,
        asks: true,
        says: `It would have ${countOf(made.rows, 'product')} after ${last.rows}: the last one is served until you make it live yourself.`,
      };
    const file = fileOfFeed(feed, made);
    if (!feedServer) return { ok: false, says: 'Nothing serves feeds here.' };
    const trouble = await feedServer.put(
      feed.secret,
      fileName(feed),
      FILE_OF[feed.form.format].type,
      begun,
      file,
    );
    if (trouble) return { ok: false, says: `${trouble} The last one is served meanwhile.` };
    const row: MadeFeedRow = {
      ...{ id, at: begun, took: clock() - begun, rows: made.rows, bytes: file.size },
      ...{ leftOut: made.leftOut, amiss: made.amiss },
      fresh: last ? made.difference.fresh.length : 0,
      changed: made.difference.changed.length,
      gone: made.difference.gone.length,
      ...made.marks,
      served: true,
    };
    await db.madeFeeds.put(row);
    const moved = last ? `, ${row.fresh} new, ${row.changed} changed, ${row.gone} gone` : '';
    const out = row.leftOut ? `, ${row.leftOut} left out` : '';
    return { ok: true, says: `${countOf(row.rows, 'product')}${moved}${out}` };
  });
}
