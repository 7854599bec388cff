import type { Unreadable } from '../../../connect/feed';
import { countOf } from '../../../core/units';
import { healthOf, type Job, type MarketConnection } from '../../../store';
import { marketAdapter } from '../../context/adapters';
import type { Work } from '../../context/work';
import { takeOrders } from '../../orders/intake';
import { noteWell } from '../../outbox/circuit';
import { finish, interrupt } from '../run';

/** Pages of orders that are taken in before anything else of the connection has its turn. */
const PAGES_AT_ONCE = 3;

/** Takes in some pages of orders; while one is taken in the next is asked for. */
export async function ordersStep(work: Work, c: MarketConnection, job: Job): Promise<void> {
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

/** Tells how many entries could not be read; they are kept, and shown on Today. */
export const unreadInWords = (bad: readonly Unreadable[]): string =>
  bad.length ? `; ${countOf(bad.length, 'entry', 'entries')} could not be read and wait under Orders` : '';
