import { proxy, type Remote, wrap } from 'comlink';
import { liveQuery } from 'dexie';
import { letGo } from '../store';
import { work } from './browser';
import { noteFailure } from './failure';
import type { MadeMessage } from './made';
import type { ListsApi } from './readings/dropped-lists.worker';
import type { RehearsalAnswer, RehearsalQuestion } from './shop/rehearsal';
import type { ShopApi } from './shop.worker';

let shop: { readonly worker: Worker; readonly api: Remote<ShopApi> } | null = null;

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

// What the page itself changes.
work.made = (change) => {
  if (change.by === 'person') lastMade = change.undoable ? change.id : null;
};

/** This tab's worker for everything that looks at many items. */
export function theShop(): Remote<ShopApi> {
  if (!shop) {
    const worker = new Worker(new URL('./shop.worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<Partial<MadeMessage> | null>) => {
      if (data && typeof data === 'object' && data.made !== undefined) lastMade = data.made;
    });
    shop = { worker, api: wrap<ShopApi>(worker) };
  }
  return shop.api;
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
    const worker = new Worker(new URL('./readings/dropped-lists.worker.ts', import.meta.url), {
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

/** Starts this tab's runner; it works only while it holds the lock. */
export function startRunner(): void {
  if (runner) return;
  const start = () => {
    runner?.terminate();
    runner = new Worker(new URL('./jobs/runner.worker.ts', import.meta.url), { type: 'module' });
  };
  start();
  let waits: ReturnType<typeof setTimeout> | undefined;
  liveQuery(() => work.db.jobs.toArray()).subscribe({
    next: (jobs) => {
      clearTimeout(waits);
      if (jobs.some((j) => j.stop && j.running !== null)) waits = setTimeout(start, HEARS_WITHIN);
    },
    error: noteFailure,
  });
}

/**
 * Lets go of storage when the page is left: a page that a browser keeps for “back” stands still, with transactions that
 * never end, and the next page would wait for them. One that comes back is loaded anew.
 */
export function letGoWhenLeft(): void {
  window.addEventListener('pagehide', (event) => {
    for (const worker of [shop?.worker, lists?.worker, runner]) worker?.terminate();
    // One that is not kept ends its transactions itself, and what was asked of them last is stored.
    if (event.persisted) letGo(work.db);
  });
  window.addEventListener('pageshow', (event) => {
    if (event.persisted) window.location.reload();
  });
}
