import { nextTime } from '../../core/units';
import { connectionById, type Job } from '../../store';
import type { Work } from '../context/work';

export const jobId = (subject: string, task: Job['task']) => `${subject}:${task}`;

const MINUTE = 60_000;

/** A job that runs when it is asked for has no next time of its own. */
export const NEVER = 3_200_000_000_000;

/**
 * What each task is: how often it runs until the seller says otherwise, its name beside whose it is, and what it
 * does as a sentence.
 */
export const TASKS: Readonly<
  Record<Job['task'], { readonly every: number; readonly name: string; readonly does: string }>
> = {
  catalogue: { every: 15 * MINUTE, name: 'catalogue', does: 'Read the catalogue' },
  list: { every: NEVER, name: 'price list', does: 'Read a price list' },
  listings: { every: NEVER, name: 'listings', does: 'Bring in listings' },
  drift: { every: 6 * 60 * MINUTE, name: 'edits on the site', does: 'Look for edits on the site' },
  orders: { every: MINUTE, name: 'orders', does: 'Read orders' },
  shipments: { every: 2 * MINUTE, name: 'shipments', does: 'Read shipments' },
  site: { every: 24 * 60 * MINUTE, name: 'fees and rules', does: 'Read fees and rules' },
  statements: { every: 24 * 60 * MINUTE, name: 'statements', does: 'Read account statements' },
  prices: { every: 60 * MINUTE, name: 'prices', does: 'Let prices follow the calendar' },
  forwarding: { every: MINUTE, name: 'forwarding', does: 'Buy what its rule says' },
  feed: { every: 24 * 60 * MINUTE, name: 'feed', does: 'Make a feed' },
  tidy: { every: 24 * 60 * MINUTE, name: 'tidying up', does: 'Tidy up' },
};

export function newJob(subject: string, task: Job['task'], at: number): Job {
  return {
    id: jobId(subject, task),
    subject,
    task,
    every: TASKS[task].every,
    nextAt: at,
    lastAt: null,
    lastSays: null,
    lastOk: true,
    running: null,
    stop: false,
    stopped: false,
    progress: null,
  };
}

/**
 * A running job keeps the due time it started by, so that it goes on at once after a reload, and waits only
 * where trouble moved that time.
 */
export const isDue = (job: Job, at: number) =>
  (job.nextAt <= at && !job.paused) || (job.stop && job.running !== null);

/** When a job runs next by itself after a time. @param zone that of its connection */
export const dueAfter = (
  { timetable, every }: Pick<Job, 'timetable' | 'every'>,
  at: number,
  zone: string,
): number => (timetable ? nextTime(timetable, at, zone) : at + every);

/** The zone whose clocks a subject's jobs go by: a marketplace's own, otherwise the shop's. */
export async function zoneOf({ db }: Pick<Work, 'db'>, subject: string): Promise<string> {
  const c = await connectionById(db, subject);
  return c?.role === 'marketplace' ? c.site.zone : ((await db.settings.get('shop'))?.zone ?? 'UTC');
}

/** Milliseconds for which listings wait while orders come in. */
const WAITS = 2 * MINUTE;

/**
 * Whether a marketplace has more orders than one page, and they are being read. Storage does one thing at a time, and what
 * is told of listings afterwards knows of all of them.
 * @param atMost milliseconds after their beginning from which on nothing waits for them
 */
export async function ordersComeIn(
  { db, clock }: Pick<Work, 'db' | 'clock'>,
  atMost = WAITS,
): Promise<boolean> {
  const at = clock();
  const coming = ({ task, running }: Job) =>
    task === 'orders' && running !== null && running.done > 0 && at - running.startedAt < atMost;
  return (await db.jobs.toArray()).some((job) => coming(job) && isDue(job, at));
}

/** The subject of jobs that are about the shop itself. */
export const SHOP = 'shop';

/** The job that reads a price list dropped for a supplier. */
export const listJob = (supplier: string) => `${supplier}:list`;

type Stored = Pick<Work, 'db'>;

export const allJobs = ({ db }: Stored): Promise<Job[]> => db.jobs.toArray();

/** Jobs by id; those that are not there are left out. */
export const jobsById = async ({ db }: Stored, ids: readonly string[]): Promise<Job[]> =>
  (await db.jobs.bulkGet([...ids])).filter((j) => j !== undefined);
