import { proxy, type Remote, wrap } from 'comlink';
import { noteFailure } from '../context/failure';
import type { RehearsalAnswer, RehearsalQuestion } from '../pricing/rehearsed';
import type { ArgsOf, DeskApi, FeedName, ToldBy } from './desk.worker';
import type { ListsApi } from './dropped-lists.worker';
import type { MadeMessage } from './made';

/** The worker that answers this tab, from its beginning to its end. */
interface Held {
  readonly worker: Worker;
  readonly api: Remote<DeskApi>;
  /** Questions without an answer yet; they fail when the worker is lost. */
  readonly waiting: Set<(error: unknown) => void>;
}

/** Something was asked of a worker that is not there any more. */
export class WorkerLost extends Error {
  override name = 'WorkerLost';
}

let held: Held | null = null;
/** The tab that the worker serves, once the shop was opened: a worker that takes its place begins with it. */
let served: string | null = null;
const onLoss = new Set<() => void>();

/** Hears that the worker was lost; what is asked from then on is asked of a new one. */
export const whenLost = (heard: () => void): void => {
  onLoss.add(heard);
};

/** Milliseconds between two questions whether the worker is there. */
const PULSE = 5_000;
/** Questions without an answer after which it is lost. What takes longest in it takes a few seconds. */
const MISSED = 8;

let lastMade: string | null = null;

/**
 * The change that the act made which was answered last; null where it made none. Only right after an answer was awaited:
 * the next one takes its place, and it is told once.
 */
export function madeLast(): string | null {
  const made = lastMade;
  lastMade = null;
  return made;
}

function start(): Held {
  const worker = new Worker(new URL('./desk.worker.ts', import.meta.url), { type: 'module' });
  const waiting: Held['waiting'] = new Set();
  const api = wrap<DeskApi>(worker);
  let missed = 0;
  const lose = (says: string) => {
    worker.terminate();
    clearInterval(pulse);
    if (held?.worker !== worker) return;
    held = null;
    for (const fail of waiting) fail(new WorkerLost(says));
    for (const heard of onLoss) heard();
  };
  const pulse = setInterval(() => {
    if (missed++ >= MISSED)
      lose(
        'The part of Sampan that answers stopped. It is started again: look whether it was done, then try again.',
      );
    api.ping().then(
      () => {
        missed = 0;
      },
      () => {},
    );
  }, PULSE);
  let ready = false;
  worker.addEventListener(
    'message',
    ({ data }: MessageEvent<Partial<MadeMessage & { ready: true }> | null>) => {
      if (!data || typeof data !== 'object') return;
      if (data.made !== undefined) lastMade = data.made;
      if (data.ready) ready = true;
    },
  );
  worker.addEventListener('error', () => {
    // Later errors end what was asked, not the worker.
    if (!ready) lose('A part of Sampan could not be loaded. Is its server running? It is tried again.');
  });
  if (served) void api.open(served, null, true);
  return { worker, api, waiting };
}

/** The questions and acts of the worker. A question fails when the worker is lost. */
const asked = new Proxy({} as Remote<DeskApi>, {
  get: (_, name: string) => {
    return (...args: unknown[]) => {
      held ??= start();
      const { api, waiting } = held;
      const ask = api[name as keyof DeskApi] as unknown as (...args: unknown[]) => Promise<unknown>;
      // Not a race with one promise for all: that would hold every answer for as long as the worker lives.
      return new Promise((resolve, reject) => {
        waiting.add(reject);
        ask(...args)
          .then(resolve, reject)
          .finally(() => waiting.delete(reject));
      });
    };
  },
});

/** This tab's worker: everything that looks at many items, and every change. */
export const theShop = (): Remote<DeskApi> => asked;

/** Says that the shop is whole. @param zone where nothing stands yet @param rows whether a view with rows is looked at first */
export async function openShop(tab: string, rows: boolean, zone: string | null = null): Promise<void> {
  await asked.open(tab, zone, rows);
  served = tab;
}

// It takes as long to load as the page does: both begin at once.
if (typeof window !== 'undefined') held = start();

let feeds = 0;

/** Follows what the worker tells again and again. @param fail hears, at most once, that it ended so @returns leaves it */
export function follow<N extends FeedName>(
  name: N,
  args: ArgsOf<N>,
  tell: (next: ToldBy<N>) => void,
  fail: (error: unknown) => void,
): () => void {
  const id = ++feeds;
  let over = false;
  const end = (error: unknown) => {
    if (!over) fail(error);
    over = true;
  };
  const of = theShop();
  of.follow(
    id,
    name as never,
    args as never,
    proxy((next: never) => !over && tell(next)) as never,
    proxy(end),
  ).then(() => over && void of.leave(id).catch(() => {}), end);
  return () => {
    over = true;
    if (held) void of.leave(id).catch(() => {});
  };
}

/** Tries plans on recorded days. @param tell hears how far it is @returns null where it was stopped */
export const runRehearsal = (
  question: RehearsalQuestion,
  tell: (done: number, total: number) => void,
): Promise<RehearsalAnswer | null> => theShop().rehearse(question, proxy(tell));

let lists: { readonly worker: Worker; readonly api: Remote<ListsApi> } | null = null;

/**
 * Asks this tab's worker that looks at files. An end of it is an answer, too: a file may be unreadable, or
 * take more than there is.
 * @param stop ends the worker at once; what is asked then is answered as stopped
 */
export async function askLists<T>(
  ask: (api: Remote<ListsApi>) => T,
  stop?: AbortSignal,
): Promise<Awaited<T> | { ok: false; reason: string }> {
  if (!lists) {
    const worker = new Worker(new URL('./dropped-lists.worker.ts', import.meta.url), {
      type: 'module',
    });
    lists = { worker, api: wrap<ListsApi>(worker) };
  }
  const { worker, api } = lists;
  const end = (reason: string) => {
    worker.terminate();
    if (lists?.worker === worker) lists = null;
    return { ok: false, reason } as const;
  };
  const ended = new Promise<{ ok: false; reason: string }>((resolve) => {
    stop?.addEventListener('abort', () => resolve(end('Stopped.')));
    worker.addEventListener('error', (event) =>
      resolve(end(`The file cannot be read: ${event.message || 'its reader was lost'}.`)),
    );
  });
  try {
    return await Promise.race([ask(api), ended]);
  } catch (error) {
    const gone = error instanceof Error && /^Not(Readable|Found)Error/.test(error.name);
    return {
      ok: false,
      reason: gone
        ? 'The file cannot be read: it was moved or changed, it is a folder, or it may not be opened.'
        : `The file cannot be read: ${String(error).slice(0, 200)}`,
    };
  }
}

/**
 * Milliseconds in which a runner hears that a job is to stop; one that is deep in a step is replaced, and the
 * new one goes on from the database.
 */
const HEARS_WITHIN = 1_500;

let runner: Worker | null = null;

/** Milliseconds after which a runner that could not be loaded is loaded again. */
const LOADED_AGAIN = 5_000;

/** Milliseconds after which the runner begins though the page has not all that it asked for. */
const MOST_WAITED = 10_000;

/** Starts this tab's runner, once the page has what it began with; it works only while it holds the lock. */
export async function startRunner(): Promise<void> {
  await Promise.race([theShop().settled(), new Promise((waited) => setTimeout(waited, MOST_WAITED))]).catch(
    noteFailure,
  );
  if (runner) return;
  const start = () => {
    runner?.terminate();
    const own = new Worker(new URL('../jobs/runner.worker.ts', import.meta.url), { type: 'module' });
    runner = own;
    let ready = false;
    own.addEventListener('message', () => {
      ready = true;
    });
    // One that could not be loaded is loaded again: the server may have been away for a moment.
    own.addEventListener('error', () => {
      if (!ready && runner === own) setTimeout(start, LOADED_AGAIN);
    });
  };
  start();
  let waits: ReturnType<typeof setTimeout> | undefined;
  const listen = () => {
    follow(
      'stopping',
      [],
      (stopping) => {
        clearTimeout(waits);
        if (stopping) waits = setTimeout(start, HEARS_WITHIN);
      },
      () => setTimeout(listen, HEARS_WITHIN),
    );
  };
  listen();
}

/**
 * Lets go of storage when the page is left: a page that a browser keeps for “back” stands still, with transactions that
 * never end, and the next page would wait for them. One that comes back is loaded anew.
 */
export function letGoWhenLeft(): void {
  window.addEventListener('pagehide', () => {
    for (const worker of [held?.worker, lists?.worker, runner]) worker?.terminate();
  });
  window.addEventListener('pageshow', (event) => {
    if (event.persisted) window.location.reload();
  });
}
