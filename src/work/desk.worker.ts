import { expose } from 'comlink';
import { liveQuery } from 'dexie';
import { work } from './browser';
import { CatalogueDesk } from './catalogue';
import { type Course, readCourse } from './needs';
import { whatIf } from './whatif';

/** What a tab asks of its worker: everything that looks at many items at once. */
const desk = new CatalogueDesk(work);

/** Changes come in bursts; the course is drawn again at most this often. */
const CALM = 400;

const api = {
  search: desk.search.bind(desk),
  look: desk.look.bind(desk),
  take: desk.take.bind(desk),
  whatIf: (...args: Parameters<typeof whatIf> extends [unknown, ...infer Rest] ? Rest : never) => whatIf(work, ...args),
  /** Tells the counts and needs along the course, now and whenever they may have changed, and at least each half minute as time passes. */
  watchCourse: (tell: (course: Course) => void) => {
    let planned = false;
    const read = async () => {
      planned = false;
      tell(await readCourse(work.db, work.clock()));
    };
    const soon = () => {
      if (planned) return;
      planned = true;
      setTimeout(read, CALM);
    };
    const { db } = work;
    liveQuery(async () => [
      await db.changes.count(),
      await db.orders.where('open').equals(1).count(),
      await db.connections.toArray(),
      await db.jobs.toArray(),
      await db.plans.toArray(),
    ]).subscribe({ next: soon, error: (error) => console.error(error) });
    setInterval(soon, 30_000);
  },
};
export type DeskApi = typeof api;
expose(api);
