import { type Item, type ItemDetail, itemAt, toColumns } from '../core/catalogue';
import { countOf } from '../core/units';
import type { Block, Connection, Job, MarketConnection, SampanDatabase, SupplierConnection } from '../store';
import { isOpenAt, noteTrouble, noteWell } from './circuit';
import type { Work } from './context';
import { recheckOrders } from './desk';
import { marketDoor, supplierDoor } from './doors';
import { followSupplier } from './follow';
import { takeOrders, takeShipments } from './intake';

/** Items asked for at once: large enough for few requests, small enough that progress moves and a reload loses little. */
const PAGE = 200;

export const jobId = (connection: string, task: Job['task']) => `${connection}:${task}`;

/** What is known of a stored catalogue without reading it: when a block last changed, and how many items it holds. */
export interface CatalogueNote {
  readonly stamp: number;
  readonly items: number;
}

const MINUTE = 60_000;
/** How often each task runs until the seller says otherwise. */
export const USUAL: Readonly<Record<Job['task'], number>> = { catalogue: 15 * MINUTE, orders: MINUTE, shipments: 2 * MINUTE };

export function newJob(connection: string, task: Job['task'], at: number): Job {
  return {
    id: jobId(connection, task),
    connection,
    task,
    every: USUAL[task],
    nextAt: at,
    lastAt: null,
    lastSays: null,
    lastOk: true,
    running: null,
    stop: false,
    progress: null,
  };
}

async function finish(work: Work, job: Job, ok: boolean, says: string, startedAt: number): Promise<void> {
  const at = work.clock();
  await work.db.jobs.update(job.id, {
    running: null,
    progress: null,
    stop: false,
    lastAt: ok ? startedAt : job.lastAt,
    lastSays: says,
    lastOk: ok,
    nextAt: at + job.every,
  });
}

/** Trouble in the middle: what was read stays, and it goes on from there when the connection answers again. */
async function interrupt(work: Work, job: Job, connection: string, trouble: Parameters<typeof noteTrouble>[2]): Promise<void> {
  const until = await noteTrouble(work, connection, trouble);
  await work.db.jobs.update(job.id, { lastSays: trouble.says, lastOk: false, nextAt: Math.max(until, work.clock() + 1000) });
}

async function keptOf(db: SampanDatabase, block: Block, skus: ReadonlySet<string>): Promise<{ item: Item; detail: ItemDetail }[]> {
  if (!block.columns.sku.some((sku) => skus.has(sku))) return [];
  const details = new Map((await db.details.get([block.connection, block.from]))?.details.map((d) => [d.sku, d]));
  return block.columns.sku.flatMap((sku, i) =>
    skus.has(sku) ? [{ item: itemAt(block.columns, i), detail: details.get(sku) ?? { sku, description: '', pictures: [] } }] : [],
  );
}

/** Reads one page of a supplier's catalogue; the page, its details and the place reached are stored in one transaction. */
async function catalogueStep(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const { db } = work;
  const at = work.clock();
  const progress = job.progress ?? { cursor: '', done: 0, seen: [], refused: 0, startedAt: at };
  const door = supplierDoor(work.reach, c);
  if (!job.progress) {
    const account = await door.account();
    if (!account.ok) return interrupt(work, job, c.id, account.trouble);
    const { balance, shipping, shipsTo } = account.value;
    const read: Partial<SupplierConnection> = { balance, shipping, shipsTo };
    await db.connections.update(c.id, read as Partial<Connection>);
  }
  const from = progress.cursor ?? '';
  const before = await db.blocks.get([c.id, from]);
  const answer = await door.page(from, before?.etag ?? null, PAGE);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c);
  const page = answer.value;
  if (page.unchanged && !before) return interrupt(work, job, c.id, { kind: 'nonsense', says: 'It says a page is unchanged that was never read.' });
  const next = page.unchanged ? before!.next : page.next;
  if (next !== null && (next === from || progress.seen.includes(next)))
    return interrupt(work, job, c.id, { kind: 'nonsense', says: 'The pages of the catalogue go round in a circle.' });
  const total = page.unchanged ? before!.total : page.total;
  const count = page.unchanged ? before!.columns.length : page.items.length;
  const refused = page.unchanged ? before!.refused : page.refused;
  // An item that came spoiled this time stays as it was last read well.
  const kept = page.unchanged || !before ? [] : await keptOf(db, before, new Set(refused.map((r) => r.sku)));
  const done = progress.done + count + refused.length;
  if (done > total + 2 * PAGE)
    return interrupt(work, job, c.id, { kind: 'nonsense', says: `The catalogue says it has ${total} items and sends more without end.` });
  await db.transaction('rw', [db.blocks, db.details, db.jobs, db.notes], async () => {
    if (!page.unchanged) {
      await db.blocks.put({
        connection: c.id,
        from,
        etag: page.etag,
        next,
        total,
        columns: toColumns([...page.items, ...kept.map((k) => k.item)]),
        refused,
        at,
      });
      await db.details.put({ connection: c.id, from, details: [...page.details, ...kept.map((k) => k.detail)] });
    }
    const known = (await db.notes.get(`catalogue:${c.id}`))?.value as CatalogueNote | undefined;
    const items = next === null ? done - progress.refused - refused.length : Math.max(known?.items ?? 0, done);
    const note: CatalogueNote = { stamp: page.unchanged ? (known?.stamp ?? at) : at, items };
    await db.notes.put({ id: `catalogue:${c.id}`, value: note });
    const seen = [...progress.seen, from];
    await db.jobs.update(job.id, {
      progress: { ...progress, cursor: next, done, seen, refused: progress.refused + refused.length },
      running: { startedAt: progress.startedAt, done, total },
    });
    if (next === null) {
      const stale = (await db.blocks.where('[connection+from]').between([c.id, ''], [c.id, '￿']).primaryKeys()).filter(([, f]) => !seen.includes(f));
      await db.blocks.bulkDelete(stale);
      await db.details.bulkDelete(stale);
    }
  });
  if (next === null) {
    const { moved, told } = await followSupplier(work, c.id, true);
    const bad = progress.refused + refused.length;
    await finish(
      work,
      job,
      true,
      `${countOf(done - bad, 'item')}${bad ? `, ${bad} not taken` : ''}; ${moved} listings moved, ${told} told`,
      progress.startedAt,
    );
    await recheckOrders(work);
  }
}

async function ordersStep(work: Work, c: MarketConnection, job: Job): Promise<void> {
  const startedAt = work.clock();
  const answer = await marketDoor(work.reach, c).orders(c.cursor);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c);
  const fresh = await takeOrders(work, c, answer.value);
  const bad = answer.value.refused;
  const says = `${countOf(fresh, 'new order')}${bad.length ? `; ${bad.length} could not be read: ${bad[0]}` : ''}`;
  if (answer.value.more) await work.db.jobs.update(job.id, { running: { startedAt, done: 0, total: 0 } });
  else await finish(work, job, bad.length === 0, says, startedAt);
}

async function shipmentsStep(work: Work, c: SupplierConnection, job: Job): Promise<void> {
  const startedAt = work.clock();
  const answer = await supplierDoor(work.reach, c).changes(c.cursor);
  if (!answer.ok) return interrupt(work, job, c.id, answer.trouble);
  await noteWell(work, c);
  const moved = await takeShipments(work, c, answer.value.orders, answer.value.next);
  const bad = answer.value.refused;
  const says = `${countOf(moved, 'order')} moved on${bad.length ? `; ${bad.length} could not be read: ${bad[0]}` : ''}`;
  if (answer.value.more) await work.db.jobs.update(job.id, { running: { startedAt, done: 0, total: 0 } });
  else await finish(work, job, bad.length === 0, says, startedAt);
}

/** A running job keeps the due time it started by, so that it goes on at once after a reload, and waits only where trouble moved that time. */
export const isDue = (job: Job, at: number) => job.nextAt <= at || (job.stop && job.running !== null);

/** Moves one job on by one step. A stop asked for is kept here: what was read stays, the place reached too. */
export async function stepJob(work: Work, c: Connection, job: Job): Promise<void> {
  if (job.stop) {
    await work.db.jobs.update(job.id, {
      running: null,
      stop: false,
      lastSays: `Stopped after ${job.running?.done ?? 0}; goes on from there next time`,
      lastOk: false,
      nextAt: work.clock() + job.every,
    });
    return;
  }
  if (isOpenAt(c, work.clock())) return;
  if (!job.running) await work.db.jobs.update(job.id, { running: { startedAt: work.clock(), done: job.progress?.done ?? 0, total: 0 } });
  if (job.task === 'catalogue') await catalogueStep(work, c as SupplierConnection, job);
  else if (job.task === 'orders') await ordersStep(work, c as MarketConnection, job);
  else await shipmentsStep(work, c as SupplierConnection, job);
}
