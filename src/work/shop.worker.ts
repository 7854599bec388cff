import { expose } from 'comlink';
import { liveQuery } from 'dexie';
import { work } from './browser';
import { SourceSearcher } from './catalogue/source-search';
import { undo } from './listings/bench';
import { linesOf, loadRecorded } from './recorded';
import { type Course, readCourse } from './shop/needs';
import { whatIf, whatIfSite } from './shop/what-if';

/** What a tab asks of its worker: everything that looks at many items at once. */
const source = new SourceSearcher(work);

/** Changes come in bursts; the course is drawn again at most this often, and for a large shop in a quarter of the time. */
const CALM = 400;
const SHARE = 3;

/** After an answer, while nothing else is asked. */
const prepare = () => {
  if (source.prepare()) setTimeout(prepare);
};

/** While a past is loaded nothing else reads what is there so far. */
let loading = false;

/**
 * Loads the recorded past that the server has; tabs that open at the same time wait for each other.
 * @param size of it, in bytes
 * @param tell hears how many percent are read
 */
async function loadPast(size: number, tell: (share: number) => void): Promise<void> {
  await navigator.locks.request('sampan-past', async () => {
    if (await work.db.connections.count()) return;
    loading = true;
    try {
      const past = await fetch('/api/recorded');
      if (!past.ok || !past.body) throw new Error(`The recorded past did not come: ${past.status}.`);
      const text = past.body.pipeThrough(new TextDecoderStream());
      let said = 0;
      await loadRecorded(work.db, linesOf(piecesOf(text)), (characters) => {
        const share = Math.min(99, Math.floor((characters / size) * 100));
        if (share > said) tell(share);
        said = Math.max(said, share);
      });
    } finally {
      loading = false;
    }
  });
}

/** A stream as pieces: not every browser can go through one by itself. */
async function* piecesOf(stream: ReadableStream<string>): AsyncGenerator<string> {
  const reader = stream.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    yield value;
  }
}

const api = {
  loadPast,
  search: async (...of: Parameters<SourceSearcher['search']>) => {
    const found = await source.search(...of);
    setTimeout(prepare);
    return found;
  },
  look: source.look.bind(source),
  take: source.take.bind(source),
  range: source.range.bind(source),
  weigh: source.weigh.bind(source),
  findLines: source.findLines.bind(source),
  matchesOf: source.matchesOf.bind(source),
  findLinks: source.findLinks.bind(source),
  link: source.link.bind(source),
  undo: (id: string) => undo(work, id),
  /** Tells, now and after each change that matters to a search, a number that grows. */
  watchSource: (tell: (version: number) => void) => {
    let version = 0;
    let known = '';
    // As text: it is asked again with each poll of a service, and most of those change nothing that a search
    // sees.
    const seen = async () => [
      await work.db.notes.where('id').startsWith('catalogue:').toArray(),
      await work.db.variants.count(),
      await work.db.plans.toArray(),
      await work.db.settings.toArray(),
      (await work.db.connections.toArray()).map((c) => [
        c.id,
        c.name,
        c.role === 'supplier' ? c.shipping : [c.site, c.optedIn],
      ]),
    ];
    liveQuery(async () => JSON.stringify(await seen())).subscribe({
      next: (now) => {
        if (now === known) return;
        known = now;
        source.stale();
        tell(++version);
      },
      error: (error) => console.error(error),
    });
  },
  whatIf: (...args: Parameters<typeof whatIf> extends [unknown, ...infer Rest] ? Rest : never) =>
    whatIf(work, ...args),
  whatIfSite: (...args: Parameters<typeof whatIfSite> extends [unknown, ...infer Rest] ? Rest : never) =>
    whatIfSite(work, ...args),
  /**
   * Tells the counts and needs along the course, now and whenever they may have changed, and at least each
   * half minute as time passes.
   */
  watchCourse: (tell: (course: Course) => void) => {
    let planned = false;
    let calm = CALM;
    const read = async () => {
      planned = false;
      const begun = performance.now();
      tell(await readCourse(work.db, work.clock()));
      calm = Math.max(CALM, (performance.now() - begun) * SHARE);
    };
    const soon = () => {
      if (planned || loading) return;
      planned = true;
      setTimeout(read, calm);
    };
    const { db } = work;
    liveQuery(async () => [
      await db.doubts.toArray(),
      await db.changes.count(),
      await db.outbox
        .where('[state+nextAt]')
        .between(['waiting', 0], ['waiting', Number.MAX_SAFE_INTEGER])
        .count(),
      await db.orders.where('open').equals(1).count(),
      await db.connections.toArray(),
      await db.jobs.toArray(),
      await db.plans.toArray(),
    ]).subscribe({ next: soon, error: (error) => console.error(error) });
    setInterval(soon, 30_000);
  },
};
export type ShopApi = typeof api;
expose(api);
