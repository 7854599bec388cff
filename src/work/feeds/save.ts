import { fieldKey } from '../../core/copy';
import { FEED_LIMITS, formProblems, markProblem } from '../../core/feeds';
import { applyChange, type FeedRow, type Job, type RowChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { jobId, newJob } from '../schedule/job';

/** A feed as it is worked on. */
export type FeedDraft = Omit<FeedRow, 'id' | 'secret' | 'at'>;

export type SavedFeed =
  | { readonly ok: true; readonly id: string }
  | { readonly ok: false; readonly reason: string };

/** A part of an address that nobody guesses. */
const secretOf = (work: Work): string =>
  Array.from({ length: 4 }, () => work.newId())
    .join('')
    .replace(/[^A-Za-z0-9]/g, '')
    .slice(0, 64);

/** Why a feed cannot be kept as it is set; null where it can. */
function refusal(draft: FeedDraft, others: readonly FeedRow[]): string | null {
  const name = draft.name.trim();
  if (!name) return 'Give the feed a name.';
  if ([...name].length > FEED_LIMITS.name) return `A name has at most ${FEED_LIMITS.name} characters.`;
  if (others.some((f) => fieldKey(f.name) === fieldKey(name))) return `There is a feed “${name}” already.`;
  if (draft.shipping !== null && (!Number.isSafeInteger(draft.shipping) || draft.shipping < 0))
    return 'What buyers pay for shipping is an amount from 0 on.';
  if (draft.mark) {
    const wrong = markProblem(draft.mark);
    if (wrong) return wrong;
    const same = others.find((f) => f.market === draft.market && f.mark?.value === draft.mark!.value);
    if (same)
      return `Feed “${same.name}” has the mark “${draft.mark.value}”: their orders could not be told apart.`;
  }
  return formProblems(draft.form)[0] ?? null;
}

/** The job that makes a feed by itself: each morning, until the seller says otherwise. */
const feedJob = (id: string, at: number): Job => ({
  ...newJob(id, 'feed', at),
  timetable: { time: '06:00', days: [1, 2, 3, 4, 5, 6, 7] },
});

/** Keeps a feed, new or changed, as one change. @param id null for a new one */
export async function saveFeed(work: Work, id: string | null, draft: FeedDraft): Promise<SavedFeed> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<SavedFeed> => {
    const all = await db.feeds.toArray();
    const wrong = refusal(
      draft,
      all.filter((f) => f.id !== id),
    );
    if (wrong) return { ok: false, reason: wrong };
    if (!(await db.connections.get(draft.market))) return { ok: false, reason: 'Choose its marketplace.' };
    const name = draft.name.trim();
    const set = { ...draft, name, at: work.clock() };
    const known = id === null ? null : all.find((f) => f.id === id);
    if (id !== null && !known) return { ok: false, reason: 'This feed is not there any more.' };
    const own = id ?? work.newId();
    const add: FeedRow = { ...set, id: own, secret: secretOf(work) };
    const row: RowChange = known ? { table: 'feeds', id: own, set } : { table: 'feeds', add };
    await applyChange(
      db,
      { by: 'person', name: known ? `Feed “${name}” changed` : `Feed “${name}” made`, undoable: true },
      [row],
      nowOf(work),
    );
    if (!(await db.jobs.get(jobId(own, 'feed'))))
      await db.jobs.add({ ...feedJob(own, work.clock()), nextAt: work.clock() + MINUTE });
    return { ok: true, id: own };
  });
}

/** A new feed is made by itself soon, if nobody does it before. */
const MINUTE = 60_000;

/** Gives a feed another address: the one of before answers no more. */
export async function renewSecret(work: Work, id: string): Promise<SavedFeed> {
  const { db, feedServer } = work;
  const feed = await db.feeds.get(id);
  if (!feed) return { ok: false, reason: 'This feed is not there any more.' };
  const trouble = await feedServer?.remove(feed.secret);
  if (trouble) return { ok: false, reason: trouble };
  await db.transaction('rw', db.shopTables, () =>
    applyChange(
      db,
      { by: 'person', name: `Another address for feed “${feed.name}”`, undoable: false },
      [{ table: 'feeds', id, set: { secret: secretOf(work), at: work.clock() } }],
      nowOf(work),
    ),
  );
  await db.madeFeeds.update(id, { served: false });
  return { ok: true, id };
}

/** Takes a feed away, and what is served of it. It can be taken back, at the address it had. */
export async function dropFeed(work: Work, id: string): Promise<SavedFeed> {
  const { db, feedServer } = work;
  const feed = await db.feeds.get(id);
  if (!feed) return { ok: false, reason: 'This feed is not there any more.' };
  const trouble = await feedServer?.remove(feed.secret);
  if (trouble) return { ok: false, reason: trouble };
  await db.transaction('rw', db.shopTables, async () => {
    await applyChange(
      db,
      { by: 'person', name: `Feed “${feed.name}” removed`, undoable: true },
      [{ table: 'feeds', remove: id }],
      nowOf(work),
    );
    await db.madeFeeds.delete(id);
  });
  return { ok: true, id };
}
