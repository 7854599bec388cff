import { askAddress } from '../../connect/address';
import type { Unreadable } from '../../connect/feed';
import { type Catalogue, PIECE, tallyInWords } from '../../core/catalogue';
import { countOf, formatCount } from '../../core/units';
import {
  type Connection,
  catalogueNote,
  healthOf,
  type Job,
  type MarketConnection,
  type PageRow,
  readCatalogue,
  type SupplierConnection,
} from '../../store';
import { lookForNew } from '../catalogue/watch';
import { noteAccount, noteSite } from '../connections/terms';
import { marketAdapter, supplierAdapter } from '../context/adapters';
import { failureInWords } from '../context/failure';
import type { Work } from '../context/work';
import { bringInStep, wishOf } from '../listings/bring-in';
import { followCalendar } from '../listings/calendar';
import { noteDrift } from '../listings/drift';
import { followSupplier, waitsToFollow } from '../listings/follow';
import { recheckOrders } from '../orders/actions';
import { takeOrders } from '../orders/intake';
import { takeSupplierNews } from '../orders/supplier-news';
import { isOpenAt, noteHealth, noteTrouble, noteWell } from '../outbox/circuit';
import { dropFiles, inspect, nextToRead } from '../readings/dropped-lists';
import { readListStep } from '../readings/read-list';
import { endReading, forget, noteRefused, openReading, storeStep, takeGone } from '../readings/reading';
import { doubtInWords } from '../readings/words';
import { dueAfter, jobId, listJob, NEVER, zoneOf } from '../schedule/job';
import { bringForward } from '../schedule/schedule';
import { tidy } from './tidy';

/**
 * Items asked for at once: large enough for few requests, small enough that progress moves and a reload loses
 * little.
 */
const PAGE = 500;
/** Grows when items are read in another way, so that none is passed over because it looks as before. */
const READER = 1;
/** Pages after which the place reached is stored even where nothing changed. */
const STORE_AFTER = 8;

/**
 * Ends a run. When the next is due follows the interval as it stands now, and what was asked for meanwhile.
 * @param read whether all that it reads was read: from then on nothing of it is older than the run's beginning
 */
async function finish(
  work: Work,
  job: Job,
  ok: boolean,
  says: string,
  startedAt: number,
  read = false,
): Promise<void> {
  const at = work.clock();
  const zone = await zoneOf(work, job.subject);
  await work.db.jobs
    .where('id')
    .equals(job.id)
    .modify((j: { -readonly [K in keyof Job]: Job[K] }) => {
      Object.assign(j, {
        running: null,
        progress: null,
        stop: false,
        stopped: false,
        lastSays: says,
        lastOk: ok,
        nextAt: Math.min(dueAfter(j, at, zone), j.askedFor ?? NEVER),
        askedFor: undefined,
      });
      if (ok) j.lastAt = startedAt;
      if (read) j.readAt = startedAt;
    });
}

/**
 * Trouble in the middle: what was read stays, and it goes on from there when the connection answers again.
 */
async function interrupt(
  work: Work,
  job: Job,
  connection: string,
  trouble: Parameters<typeof noteTrouble>[2],
): Promise<void> {
  const until = await noteTrouble(work, connection, trouble);
  await work.db.jobs.update(job.id, {
    lastSays: trouble.says,
    lastOk: false,
    nextAt: Math.max(until, work.clock() + 1000),
  });
}

/** Follows a list that was read whole: listings, watched searches, waiting orders. */
async function follow(
  work: Work,
  c: SupplierConnection,
  job: Job,
  catalogue: Catalogue,
  says: string,
  startedAt: number,
): Promise<void> {
  const { moved, told } = await followSupplier(work, c.id, catalogue);
  await lookForNew(work, c.id, catalogue);
  await finish(
    work,
    job,
    true,
    `${says}; ${moved ? `${countOf(moved, 'item')} of what is sold moved` : 'nothing of what is sold moved'}${told ? `, ${countOf(told, 'listing')} told to the marketplaces` : ''}`,
    startedAt,
    true,
  );
  await recheckOrders(work);
}

/** Reads the next piece of the list that waits for a supplier, by the match that was made or remembered. */
async function listStep(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const { db } = work;
  const file = await nextToRead(db, c.id);
  const startedAt = job.progress?.startedAt ?? job.running?.startedAt ?? work.clock();
  if (!file && job.task === 'list') {
    const taken = await takeGone(work, c.id);
    if (taken) return follow(work, c, job, taken.session.catalogue, tallyInWords(taken.tally), startedAt);
  }
  // A reading ended, and the work was cut off before what is sold followed it.
  if (!file && (await waitsToFollow(work, c.id))) {
    const { generation, pieces, items } = (await catalogueNote(db, c.id))!;
    const catalogue = await readCatalogue(db, c.id, generation, pieces, items);
    return follow(work, c, job, catalogue, 'What was read before is followed', startedAt);
  }
  if (!file)
    return c.list?.kind === 'address' && job.task === 'catalogue'
      ? fetchList(work, c, job)
      : finish(work, job, true, 'No list waits to be read.', startedAt);
  const step = await readListStep(work, c, job, file);
  if (step.state === 'failed') {
    await dropFiles(db, [file]);
    // What could not be read is fetched again, changed or not.
    await noteFetched(work, c, null);
    await finish(work, job, false, step.says, startedAt);
  } else if (step.state === 'done') await follow(work, c, job, step.session.catalogue, step.says, startedAt);
  else return;
  // Another list that was dropped meanwhile is read next.
  if (job.task === 'list' && (await nextToRead(db, c.id)))
    await db.jobs.update(job.id, { nextAt: work.clock() });
}

/**
 * Notes in which state a list was fetched, of the address that it was fetched from; null for a list that is to be fetched
 * again whatever its state.
 */
const noteFetched = async (
  work: Work,
  { id, list }: SupplierConnection,
  state: { readonly etag: string | null; readonly modified: string | null } | null,
): Promise<void> =>
  list?.kind === 'address'
    ? noteHealth(work, id, { fetched: state && { url: list.url, ...state } })
    : undefined;

/**
 * Fetches the list at a supplier's address, if it changed since; it is read by the match remembered for its
 * columns.
 */
async function fetchList(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const { db } = work;
  const startedAt = job.running?.startedAt ?? work.clock();
  if (c.list?.kind !== 'address') return;
  if (!(await db.matches.where('supplier').equals(c.id).count()))
    return finish(
      work,
      job,
      true,
      'Its list waits to be matched: fetch it under Source, Price lists.',
      startedAt,
    );
  const { fetched } = await healthOf(db, c.id);
  const known = fetched?.url === c.list.url ? fetched : null;
  const answer = await askAddress(
    work.fetchAddress,
    c.list.url,
    known?.etag ?? null,
    known?.modified ?? null,
  );
  if (!answer.ok) {
    await interrupt(work, job, c.id, answer.trouble);
    if (answer.trouble.kind === 'refused') await finish(work, job, false, answer.trouble.says, startedAt);
    return;
  }
  await noteWell(work, c.id);
  if (answer.value === 'unchanged')
    return finish(work, job, true, 'The list at the address did not change.', startedAt, true);
  const { blob, name, etag, modified } = answer.value;
  const seen = await inspect(work, c, blob, name);
  if (!seen.ok) return finish(work, job, false, seen.reason, startedAt);
  if (!seen.value.remembered)
    return finish(
      work,
      job,
      false,
      'The columns of the list are new: match them under Source, Price lists.',
      startedAt,
    );
  await db.transaction('rw', [db.files, db.connections, db.health, db.jobs], async () => {
    await db.files.update(seen.value.file, { match: seen.value.sample.match });
    await noteFetched(work, c, { etag, modified });
    await db.jobs.update(job.id, { running: { startedAt, done: 0, total: blob.size } });
  });
}

/**
 * Reads one page of a supplier's catalogue. What is read stays unseen until the last page: until then the
 * catalogue before it is whole and in use.
 */
async function catalogueStep(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const { db } = work;
  const startedAt = job.progress?.startedAt ?? work.clock();
  const door = await supplierAdapter(work, c);
  if (!job.progress) {
    const account = await door.account();
    if (!account.ok) return interrupt(work, job, c.id, account.trouble);
    await noteAccount(work, c.id, account.value);
  }
  const session = await openReading(work, c.id, `service:${READER}:${c.service}`, job.progress);
  const { reading } = session;
  const from = session.cursor ?? '';
  const before = await db.pages.get([c.id, from]);
  const answer = await door.page(from, before?.etag ?? null, PAGE);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  const page = answer.value;
  // Going on from there would lead to the same: the next try begins anew.
  const nonsense = async (says: string) => {
    await interrupt(work, job, c.id, { kind: 'nonsense', says });
    forget(work, c.id);
    await db.jobs.update(job.id, { progress: null });
  };
  if (page.unchanged && !before) return nonsense('It says a page is unchanged that was never read.');
  const next = page.unchanged ? before!.next : page.next;
  if (next !== null && (next === from || session.places.includes(next)))
    return nonsense('The pages of the catalogue go round in a circle.');
  const total = page.unchanged ? before!.total : page.total;
  const count = page.unchanged ? before!.rows.length : page.items.length;
  if (session.done + count > total + 2 * PAGE)
    return nonsense(`The catalogue says it has ${total} items and sends more without end.`);
  await noteWell(work, c.id);
  if (page.unchanged) reading.seeRows(before!.rows);
  else {
    const rows: number[] = [];
    for (const { mark, read } of page.items) {
      const known = reading.rowOfMark(mark.a, mark.b);
      if (known >= 0 && reading.seeRow(known)) {
        rows.push(known);
        continue;
      }
      const taken = read();
      if ('reason' in taken) {
        reading.keep(taken.sku);
        noteRefused(session, {
          line: null,
          sku: taken.sku,
          column: null,
          value: '',
          reason: taken.reason,
          taken: false,
          asks: false,
          cells: null,
        });
      } else if (reading.put(taken.item, taken.detail, mark.a, mark.b) === 'twice')
        noteRefused(session, {
          line: null,
          sku: taken.item.sku,
          column: 'sku',
          value: taken.item.sku,
          reason: 'sku: came twice',
          taken: false,
          asks: false,
          cells: null,
        });
      else rows.push(reading.itemOf(taken.item.sku)!.row);
    }
    // A page with refused items is asked for whole next time, so that they are told again.
    const spoiled = rows.length < page.items.length;
    const stored: PageRow = {
      supplier: c.id,
      from,
      etag: spoiled ? null : page.etag,
      next,
      total,
      rows: Int32Array.from(rows),
    };
    session.pages.push(stored);
  }
  session.done += count;
  session.steps++;
  if (next !== null) {
    session.cursor = next;
    session.places.push(from);
    if (session.steps % STORE_AFTER === 0 || !job.progress || reading.waiting >= PIECE)
      await storeStep(work, session, job.id, startedAt, total, true);
    else await db.jobs.update(job.id, { running: { startedAt, done: session.done, total } });
    return;
  }
  const { tally, refused, doubt } = await endReading(work, session, {
    whole: true,
    from: '',
    short: session.done < total,
  });
  const bad = `${refused ? `, ${refused} not taken` : ''}${doubt ? `, ${doubtInWords(doubt)}` : ''}`;
  await follow(
    work,
    c,
    job,
    session.catalogue,
    `${countOf(session.catalogue.items, 'item')}${bad}: ${tallyInWords(tally)}`,
    startedAt,
  );
}

const IN_A_CIRCLE = {
  kind: 'nonsense',
  says: 'The pages of its listings go round in a circle.',
} as const;

/** Brings in one page of a shop's listings. */
async function listingsStep(work: Work, c: MarketConnection, job: Job): Promise<void> {
  const startedAt = job.progress?.startedAt ?? work.clock();
  const wish = await wishOf(work.db, c.id);
  const answer = await (await marketAdapter(work, c)).listings(wish, job.progress?.cursor ?? null);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c.id);
  const next = answer.value.next;
  if (next !== null && next <= (job.progress?.cursor ?? '')) return interrupt(work, job, c.id, IN_A_CIRCLE);
  const { done, says } = await bringInStep(work, c, job, answer.value);
  if (done) await finish(work, job, true, says, startedAt);
}

/** Looks through one page of a shop's listings for what was edited there. */
async function driftStep(work: Work, c: MarketConnection, job: Job): Promise<void> {
  const startedAt = job.progress?.startedAt ?? work.clock();
  const cursor = job.progress?.cursor ?? null;
  const answer = await (await marketAdapter(work, c)).listings({ state: 'all', category: '' }, cursor);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c.id);
  const { listings, next, total } = answer.value;
  if (next !== null && next <= (job.progress?.cursor ?? '')) return interrupt(work, job, c.id, IN_A_CIRCLE);
  const found = (job.progress?.done ?? 0) + (await noteDrift(work, c, listings, startedAt));
  if (next === null)
    return finish(
      work,
      job,
      true,
      found ? `${countOf(found, 'listing')} edited there.` : 'Nothing was edited there.',
      startedAt,
    );
  const read = (job.running?.done ?? 0) + listings.length;
  await work.db.jobs.update(job.id, {
    running: { startedAt, done: read, total },
    progress: { cursor: next, done: found, seen: [], startedAt },
  });
}

/** Pages of orders that are taken in before anything else of the connection has its turn. */
const PAGES_AT_ONCE = 3;

/** Takes in some pages of orders; while one is taken in the next is asked for. */
async function ordersStep(work: Work, c: MarketConnection, job: Job): Promise<void> {
  const readAt = work.clock();
  const startedAt = job.progress?.startedAt ?? readAt;
  const adapter = await marketAdapter(work, c);
  let fresh = job.progress?.done ?? 0;
  let done = job.running?.done ?? 0;
  let coming = adapter.orders((await healthOf(work.db, c.id)).cursor);
  for (let page = 1; ; page++) {
    const answer = await coming;
    if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
    await noteWell(work, c.id);
    const { orders, refused: bad, more, next } = answer.value;
    const isLast = !more || page === PAGES_AT_ONCE;
    if (!isLast) coming = adapter.orders(next);
    fresh += await takeOrders(work, c, answer.value);
    if (!more) return finish(work, job, true, `${countOf(fresh, 'new order')}${unreadInWords(bad)}`, readAt);
    done += orders.length;
    let stop = false;
    await work.db.jobs.update(job.id, (row: { -readonly [K in keyof Job]: Job[K] }) => {
      row.running = { startedAt, done, total: 0 };
      row.progress = { cursor: null, done: fresh, seen: [], startedAt };
      stop = row.stop;
    });
    if (isLast || stop) return;
  }
}

async function shipmentsStep(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const startedAt = work.clock();
  const answer = await (await supplierAdapter(work, c)).changes((await healthOf(work.db, c.id)).cursor);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c.id);
  const moved = await takeSupplierNews(work, c, answer.value.orders, answer.value.refused, answer.value.next);
  const says = `${countOf(moved, 'order')} moved on${unreadInWords(answer.value.refused)}`;
  if (answer.value.more) await work.db.jobs.update(job.id, { running: { startedAt, done: 0, total: 0 } });
  else await finish(work, job, true, says, startedAt);
}

/** What could not be read is kept, and told on Today. */
const unreadInWords = (bad: readonly Unreadable[]): string =>
  bad.length ? `; ${countOf(bad.length, 'entry', 'entries')} could not be read and wait under Orders` : '';

/** A step that throws may have half done its work in memory: the next one starts from what is stored. */
async function held(work: Work, supplier: string, step: () => Promise<void>): Promise<void> {
  try {
    await step();
  } catch (error) {
    forget(work, supplier);
    throw error;
  }
}

/** Reads again what a marketplace asks and takes. What changed waits until the seller has looked at what it does. */
async function siteStep(work: Work, c: MarketConnection, job: Job): Promise<void> {
  const startedAt = work.clock();
  const answer = await (await marketAdapter(work, c)).site();
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c.id);
  const changed = await noteSite(work, c.id, answer.value);
  await finish(
    work,
    job,
    true,
    changed ? 'Its fees or rules changed: look at what that does.' : 'Nothing changed.',
    startedAt,
  );
}

/** What a task does with its subject: one step, of which many may make a run. */
const HANDLERS: Readonly<
  Record<Exclude<Job['task'], 'tidy' | 'prices'>, (work: Work, c: Connection, job: Job) => Promise<void>>
> = {
  catalogue: (work, c, job) => {
    const supplier = c as SupplierConnection;
    return held(work, c.id, () => (supplier.list ? listStep : catalogueStep)(work, supplier, job));
  },
  list: (work, c, job) => held(work, c.id, () => listStep(work, c as SupplierConnection, job)),
  listings: (work, c, job) => listingsStep(work, c as MarketConnection, job),
  drift: (work, c, job) => driftStep(work, c as MarketConnection, job),
  orders: (work, c, job) => ordersStep(work, c as MarketConnection, job),
  shipments: (work, c, job) => shipmentsStep(work, c as SupplierConnection, job),
  site: (work, c, job) => siteStep(work, c as MarketConnection, job),
};

/**
 * Moves one job on by one step. A stop asked for is kept here: what was read stays, the place reached too.
 */
export async function stepJob(work: Work, c: Connection, job: Job): Promise<void> {
  if (job.stop) {
    forget(work, c.id);
    const done = job.running?.rows ?? job.running?.done ?? 0;
    await work.db.jobs.update(job.id, {
      running: null,
      askedFor: undefined,
      stop: false,
      stopped: true,
      lastSays: done
        ? `Stopped after ${formatCount(done)}; goes on from there`
        : 'Stopped before its first row',
      lastOk: false,
      nextAt: dueAfter(job, work.clock(), await zoneOf(work, job.subject)),
    });
    return;
  }
  if (isOpenAt(await healthOf(work.db, c.id), work.clock())) return;
  // One list of a supplier is read at a time.
  const other =
    job.task === 'catalogue' ? listJob(c.id) : job.task === 'list' ? jobId(c.id, 'catalogue') : null;
  if (other && !job.running && (await work.db.jobs.get(other))?.running) return;
  if (!job.running)
    await work.db.jobs.update(job.id, {
      running: { startedAt: work.clock(), done: job.progress?.done ?? 0, total: 0 },
    });
  if (job.task !== 'tidy' && job.task !== 'prices') await HANDLERS[job.task](work, c, job);
}

/** Moves a job of the shop itself on: what needs no other side. */
export async function stepShopJob(work: Work, job: Job): Promise<void> {
  const startedAt = work.clock();
  if (job.task === 'tidy') await finish(work, job, true, await tidy(work), startedAt);
  if (job.task === 'prices') {
    const { says, next } = await followCalendar(work);
    await finish(work, job, true, says, startedAt);
    if (next !== null) await bringForward(work, job.id, next);
  }
}

/**
 * A job whose step threw is told so, and comes again after a while: neither each second, nor in the way of the others.
 */
export async function noteThrown(work: Work, job: Job, error: unknown): Promise<void> {
  const at = work.clock();
  await work.db.jobs.update(job.id, {
    running: null,
    askedFor: undefined,
    lastOk: false,
    stopped: false,
    lastSays: `It failed: ${failureInWords(error)}`.slice(0, 300),
    nextAt: at + Math.min(job.every, 10 * 60_000),
  });
}
