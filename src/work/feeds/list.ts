import type { ServedFeed } from '../../connect/feed-server';
import { FEED_FIELDS, type FeedRecord, HEAD_FIELDS } from '../../core/feeds';
import type { Instant } from '../../core/units';
import type { FeedRow, Job, MadeFeedRow } from '../../store';
import type { Work } from '../context/work';
import type { Assortment } from '../memory/assortment';
import { jobId } from '../schedule/job';
import { type FeedFault, fileName, fileOfFeed, type MadeFeed, makeFeed } from './make';
import { publishFeed } from './publish';
import type { FeedDraft } from './save';

/** A feed in a list. */
export interface FeedLine {
  readonly feed: FeedRow;
  readonly market: string;
  /** The name of its group; null for all that is on sale there. */
  readonly group: string | null;
  readonly made: Omit<MadeFeedRow, 'ids' | 'marks'> | null;
  readonly job: Job | null;
  /** The path of its address. */
  readonly path: string;
}

/** All feeds, by name. */
export async function feedLines({ db }: Work, { shop }: Assortment): Promise<FeedLine[]> {
  const [feeds, made, jobs] = await Promise.all([
    db.feeds.toArray(),
    db.madeFeeds.toArray(),
    db.jobs.filter((j) => j.task === 'feed').toArray(),
  ]);
  return feeds
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .map((feed) => {
      const last = made.find((m) => m.id === feed.id);
      const { ids: _, marks: __, ...told } = last ?? { ids: [], marks: null };
      return {
        feed,
        market: shop.connections.get(feed.market)?.name ?? '',
        group: feed.group === null ? null : (shop.groups?.find((g) => g.id === feed.group)?.name ?? ''),
        made: last ? (told as FeedLine['made']) : null,
        job: jobs.find((j) => j.id === jobId(feed.id, 'feed')) ?? null,
        path: `/feeds/${feed.secret}/${fileName(feed)}`,
      };
    });
}

/** A feed as it would be made now. */
export interface FeedLook {
  readonly rows: number;
  readonly leftOut: number;
  readonly amiss: number;
  readonly faults: readonly FeedFault[];
  readonly reasons: MadeFeed['reasons'];
  /** The beginning of the file. */
  readonly head: string;
  readonly bytes: number;
  readonly fresh: number;
  readonly changed: number;
  readonly gone: number;
  /** Ids of the first of them. */
  readonly firstGone: readonly string[];
  /** Whether there is one that it is compared with. */
  readonly compared: boolean;
  /** Every field with what it means and what the first product has there. */
  readonly fields: readonly { readonly field: string; readonly means: string; readonly value: string }[];
}

export type LookedAt =
  | { readonly ok: true; readonly look: FeedLook }
  | { readonly ok: false; readonly reason: string };

/** Characters of the file that are shown. */
const SHOWN = 3_000;
const GONE = 20;

/** Looks at a feed as it is set now. @param id of the one that is changed; null for a new one */
export async function lookAtFeed(
  work: Work,
  assortment: Assortment,
  id: string | null,
  draft: FeedDraft,
  now: Instant,
): Promise<LookedAt> {
  const last = id === null ? null : ((await work.db.madeFeeds.get(id)) ?? null);
  const making = makeFeed(assortment, { ...draft, id: id ?? '', secret: '', at: now }, last, now);
  if (!making.ok) return making;
  const { made } = making;
  let head = '';
  for (const piece of made.pieces) {
    head += piece;
    if (head.length >= SHOWN) break;
  }
  return {
    ok: true,
    look: {
      ...{ rows: made.rows, leftOut: made.leftOut, amiss: made.amiss },
      ...{ faults: made.faults, reasons: made.reasons },
      head: head.slice(0, SHOWN),
      bytes: fileOfFeed(draft, made).size,
      fresh: last ? made.difference.fresh.length : 0,
      changed: made.difference.changed.length,
      gone: made.difference.gone.length,
      firstGone: made.difference.gone.slice(0, GONE),
      compared: last !== null,
      fields: fieldsOf(made.fields, made.samples[0] ?? {}),
    },
  };
}

const fieldsOf = (fields: readonly string[], record: FeedRecord): FeedLook['fields'] => {
  const known = Object.entries(FEED_FIELDS) as [string, string][];
  const own = fields.filter((field) => !Object.hasOwn(FEED_FIELDS, field));
  return [
    ...known.map(([field, means]) => ({ field, means, value: record[field] ?? '' })),
    ...own.map((field) => ({ field, means: 'of the goods', value: record[field] ?? '' })),
    ...Object.entries(HEAD_FIELDS)
      .filter(([field]) => !Object.hasOwn(FEED_FIELDS, field))
      .map(([field, means]) => ({ field, means: `in header and footer: ${means}`, value: '' })),
  ];
};

/** A feed as a file of now. */
export function feedFile(
  assortment: Assortment,
  feed: FeedRow,
  now: Instant,
):
  | { readonly ok: true; readonly name: string; readonly file: Blob }
  | { readonly ok: false; readonly reason: string } {
  const making = makeFeed(assortment, feed, null, now);
  return making.ok ? { ok: true, name: fileName(feed), file: fileOfFeed(feed, making.made) } : making;
}

/** What is served of a feed, and who fetched it; null where nothing is. */
export async function servedOf(work: Work, id: string): Promise<ServedFeed | null> {
  const feed = await work.db.feeds.get(id);
  return feed && work.feedServer ? work.feedServer.about(feed.secret) : null;
}

/** Makes a feed live because a person asked for it, and notes it as the last run of its job. @param sure as of `publishFeed` */
export async function makeLive(work: Work, id: string, sure: boolean) {
  const done = await publishFeed(work, id, sure);
  await work.db.jobs.update(jobId(id, 'feed'), {
    ...{ lastSays: done.says, lastOk: done.ok },
    ...(done.ok && { lastAt: work.clock() }),
  });
  return done;
}
