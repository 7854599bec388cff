import type { Job } from '../../store';
import type { Work } from '../context';

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
  prices: { every: 60 * MINUTE, name: 'prices', does: 'Let prices follow the calendar' },
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

/** The subject of jobs that are about the shop itself. */
export const SHOP = 'shop';

/** The job that reads a price list dropped for a supplier. */
export const listJob = (supplier: string) => `${supplier}:list`;

type Stored = Pick<Work, 'db'>;

export const allJobs = ({ db }: Stored): Promise<Job[]> => db.jobs.toArray();

/** Jobs by id; those that are not there are left out. */
export const jobsById = async ({ db }: Stored, ids: readonly string[]): Promise<Job[]> =>
  (await db.jobs.bulkGet([...ids])).filter((j) => j !== undefined);
