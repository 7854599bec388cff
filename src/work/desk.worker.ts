import { expose } from 'comlink';
import { liveQuery } from 'dexie';
import { undo } from './bench';
import { work } from './browser';
import { CatalogueDesk } from './catalogue';
import { type Course, readCourse } from './needs';
import { whatIf } from './whatif';

/** What a tab asks of its worker: everything that looks at many items at once. */
const desk = new CatalogueDesk(work);

/** Changes come in bursts; the course is drawn again at most this often. */
const CALM = 400;

/** After an answer, while nothing else is asked. */
const prepare = () => {
  if (desk.prepare()) setTimeout(prepare);
};

const api = {
  search: async (...of: Parameters<CatalogueDesk['search']>) => {
    const found = await desk.search(...of);
    setTimeout(prepare);
    return found;
  },
  look: desk.look.bind(desk),
  take: desk.take.bind(desk),
  range: desk.range.bind(desk),
  weigh: desk.weigh.bind(desk),
  findLines: desk.findLines.bind(desk),
  matchesOf: desk.matchesOf.bind(desk),
  findLinks: desk.findLinks.bind(desk),
  link: desk.link.bind(desk),
  undo: (id: string) => undo(work, id),
  /** Tells, now and after each change that matters to a search, a number that grows. */
  watchSource: (tell: (version: number) => void) => {
    let version = 0;
    let known = '';
    // As text: it is asked again with each poll of a service, and most of those change nothing that a search
    // sees.
    const seen = async () => [
      await work.db.notes.where('id').startsWith('catalogue:').toArray(),
      await work.db.listings.count(),
      await work.db.plans.toArray(),
      await work.db.settings.toArray(),
      (await work.db.connections.toArray()).map((c) => [
        c.id,
        c.name,
        c.role === 'supplier' ? c.shipping : c.site,
      ]),
    ];
    liveQuery(async () => JSON.stringify(await seen())).subscribe({
      next: (now) => {
        if (now === known) return;
        known = now;
        desk.stale();
        tell(++version);
      },
      error: (error) => console.error(error),
    });
  },
  whatIf: (...args: Parameters<typeof whatIf> extends [unknown, ...infer Rest] ? Rest : never) =>
    whatIf(work, ...args),
  /**
   * Tells the counts and needs along the course, now and whenever they may have changed, and at least each
   * half minute as time passes.
   */
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
      await db.doubts.toArray(),
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
