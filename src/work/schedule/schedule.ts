import { STARTING_PLAN } from '../../core/pricing';
import type { Timetable } from '../../core/units';
import { EVERYWHERE, type Job, STARTING_SETTINGS } from '../../store';
import type { Work } from '../context/work';
import { noteHealth } from '../outbox/circuit';
import { dueAfter, jobId, NEVER, newJob, SHOP, zoneOf } from './job';

/** Rows every shop starts with: its settings and its first plan. */
export async function startShop(work: Work, zone = STARTING_SETTINGS.zone): Promise<void> {
  const { db } = work;
  // A shop that is there needs no writing to be opened.
  if (
    (await db.settings.get('shop')) &&
    (await db.plans.count()) &&
    (await db.jobs.get(jobId(SHOP, 'forwarding')))
  )
    return;
  await db.transaction('rw', [db.settings, db.plans, db.jobs], async () => {
    for (const task of ['tidy', 'prices', 'forwarding'] as const)
      if (!(await db.jobs.get(jobId(SHOP, task)))) await db.jobs.add(newJob(SHOP, task, work.clock()));
    if (!(await db.settings.get('shop'))) await db.settings.add({ ...STARTING_SETTINGS, zone });
    if (!(await db.plans.count()))
      await db.plans.add({ id: 'everything', name: 'Everything', ...EVERYWHERE, ...STARTING_PLAN });
  });
}

/** Due at once, circuit or not. */
export async function runNow(work: Work, job: string): Promise<void> {
  const { db } = work;
  const at = work.clock();
  await db.transaction('rw', [db.jobs, db.connections, db.health], async () => {
    const found = await db.jobs.get(job);
    if (!found) return;
    await bringForward(work, job, at);
    await db.jobs.update(job, { stop: false });
    await noteHealth(work, found.subject, { openUntil: null });
  });
}

/**
 * Lets a job run no later than at a time. One that runs may have passed by what it is asked to look at, and runs
 * once more; one that waits for the other side goes on.
 */
export const bringForward = (work: Work, job: string, at: number) =>
  work.db.jobs
    .where('id')
    .equals(job)
    .modify((j: { -readonly [K in keyof Job]: Job[K] }) => {
      if (j.running && j.nextAt <= work.clock()) j.askedFor = Math.min(j.askedFor ?? NEVER, at);
      else j.nextAt = Math.min(j.nextAt, at);
    });

export const stopJob = (work: Work, job: string) => work.db.jobs.update(job, { stop: true });

/** Sets when a job runs by itself: by an interval in milliseconds, or by the clocks of its connection's zone. */
export async function setTiming(
  work: Work,
  { id, subject }: Pick<Job, 'id' | 'subject'>,
  timing: { readonly every: number } | { readonly timetable: Timetable },
): Promise<void> {
  const zone = await zoneOf(work, subject);
  await work.db.jobs
    .where('id')
    .equals(id)
    .modify((j: { -readonly [K in keyof Job]: Job[K] }) => {
      Object.assign(j, { timetable: null, ...timing });
      // What runs keeps the time it was due at, and goes on.
      if (!j.running) j.nextAt = dueAfter(j, work.clock(), zone);
    });
}

/** Pauses one job, or lets it go on; what it was in the middle of goes on from there. */
export const setPaused = (work: Work, job: string, paused: boolean) => work.db.jobs.update(job, { paused });
