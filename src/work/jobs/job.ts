import type { Job } from '../../store';

export const jobId = (connection: string, task: Job['task']) => `${connection}:${task}`;

const MINUTE = 60_000;
/** How often each task runs until the seller says otherwise. */
export const USUAL: Readonly<Record<Job['task'], number>> = {
  catalogue: 15 * MINUTE,
  list: 60 * MINUTE,
  listings: 60 * MINUTE,
  orders: MINUTE,
  shipments: 2 * MINUTE,
};

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

/** A job that runs when it is asked for has no next time of its own. */
export const NEVER = 3_200_000_000_000;

/** The job that reads a price list dropped for a supplier. */
export const listJob = (supplier: string) => `${supplier}:list`;
