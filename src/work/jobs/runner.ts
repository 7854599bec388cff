import {
  allConnections,
  type Connection,
  connectionById,
  healthOf,
  type Job,
  type MarketConnection,
} from '../../store';
import type { Work } from '../context/work';
import { mayAsk } from '../outbox/circuit';
import { isDue, SHOP } from '../schedule/job';
import { sendListings, sendOrders } from '../sending/send';
import { noteThrown } from './run';
import { stepJob } from './step';
import { STEPS } from './tasks';

/** Work that goes on by itself, one step after the other. */
export interface Routine {
  readonly id: string;
  /** @returns whether anything was done */
  step(): Promise<boolean>;
}

/** Whether a marketplace takes two requests at once, one of them for listings. */
const takesTwo = (c: MarketConnection) => c.site.limits.inFlight > 1;

/**
 * What goes on side by side: for each connection what belongs to orders and its jobs; for each marketplace that takes two
 * requests at once besides what its listings are told, so that orders do not wait behind thousands of listings; and the
 * shop's own. Nothing is held in memory between steps, so that the runner can be killed at any moment and another goes on.
 * Steps of one must not overlap.
 */
export async function routinesOf(work: Work): Promise<Routine[]> {
  const all = await allConnections(work.db);
  const markets = all.filter((c): c is MarketConnection => c.role === 'marketplace');
  return [
    ...all.map(({ id }) => ({ id, step: () => connectionStep(work, id) })),
    ...markets
      .filter(takesTwo)
      .map(({ id }) => ({ id: `${id} listings`, step: () => sendListingsStep(work, id) })),
    { id: SHOP, step: () => shopStep(work) },
  ];
}

/**
 * One step of everything, side by side; it ends when all of them have ended, and what threw is thrown then.
 * @returns whether anything was done
 */
export async function runRound(work: Work): Promise<boolean> {
  const ended = await Promise.allSettled((await routinesOf(work)).map((one) => one.step()));
  const thrown = ended.find((e) => e.status === 'rejected');
  if (thrown) throw thrown.reason;
  return ended.some((e) => e.status === 'fulfilled' && e.value);
}

/** A connection that may be asked now. */
async function askable({ db, clock }: Work, id: string): Promise<Connection | null> {
  const [c, health] = await db.transaction('r', [db.connections, db.stated, db.health], () =>
    Promise.all([connectionById(db, id), healthOf(db, id)]),
  );
  return c && mayAsk(c, health, clock()) ? c : null;
}

/** Sends a connection’s waiting messages about orders, then moves each of its due jobs on by one step. */
async function connectionStep(work: Work, id: string): Promise<boolean> {
  let c = await askable(work, id);
  if (!c) return false;
  // What waits for a connection without a service leaves by files.
  const { sent, stopped } = c.service ? await sendOrders(work, c) : { sent: 0, stopped: false };
  let any = sent > 0;
  if (stopped) return any;
  if (c.role === 'marketplace' && !takesTwo(c)) any = (await sendListingsStep(work, id)) || any;
  for (const job of await work.db.jobs.where('subject').equals(id).toArray()) {
    if (!isDue(job, work.clock())) continue;
    c = await askable(work, id);
    if (!c) return any;
    const at = c;
    await guarded(work, job, () => stepJob(work, at, job));
    any = true;
  }
  return any;
}

/** Sends a marketplace’s waiting messages about listings. */
async function sendListingsStep(work: Work, id: string): Promise<boolean> {
  const c = await askable(work, id);
  if (c?.role !== 'marketplace' || !c.service) return false;
  return (await sendListings(work, c)).sent > 0;
}

async function shopStep(work: Work): Promise<boolean> {
  // Of the shop itself, and of what is the shop's and no connection's, as its feeds.
  const due = (await work.db.jobs.toArray()).filter(
    (j) => STEPS[j.task].of === 'shop' && isDue(j, work.clock()),
  );
  for (const job of due) await guarded(work, job, () => stepJob(work, null, job));
  return due.length > 0;
}

async function guarded(work: Work, job: Job, step: () => Promise<void>): Promise<void> {
  try {
    await step();
  } catch (error) {
    await noteThrown(work, job, error);
    throw error;
  }
}
