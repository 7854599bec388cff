import { type Remote, transfer, wrap } from 'comlink';
import type { ReadItems } from './items';
import type { ItemsApi } from './items.worker';

/** Helpers side by side: as many as two cores keep busy beside the one that writes. */
const HELPERS = 2;
/** Milliseconds after the last part when the helpers are let go: another list often follows soon. */
const IDLE = 60_000;

interface Helper {
  readonly worker: Worker;
  readonly api: Remote<ItemsApi>;
  /** Fails when the worker dies or cannot start; never comes to anything else. */
  readonly lost: Promise<never>;
  busy: number;
}

/** Reads parts of lists in workers of their own, each part by the helper with the least to do. @param start makes a worker; rest: milliseconds without a part after which they are let go */
export function readInHelpers(start: () => Worker, rest = IDLE): ReadItems {
  let helpers: Helper[] = [];
  let idle: ReturnType<typeof setTimeout> | undefined;
  const add = (): Helper => {
    const worker = start();
    const lost = new Promise<never>((_, reject) => {
      worker.addEventListener('error', (event) => {
        worker.terminate();
        helpers = helpers.filter((h) => h.worker !== worker);
        reject(new Error(`A helper that reads the list was lost${event.message ? `: ${event.message}` : '.'}`));
      });
    });
    // It is heard where a part waits for it.
    lost.catch(() => {});
    const helper = { worker, api: wrap<ItemsApi>(worker), lost, busy: 0 };
    helpers.push(helper);
    return helper;
  };
  return async (match, part, lines, marks) => {
    clearTimeout(idle);
    const [free] = [...helpers].sort((a, b) => a.busy - b.busy);
    const helper = free && (free.busy === 0 || helpers.length >= HELPERS) ? free : add();
    helper.busy++;
    try {
      const sent = part.kind === 'text' ? transfer(part, [part.bytes.buffer]) : part;
      return await Promise.race([helper.api.read(match, sent, lines, marks), helper.lost]);
    } finally {
      helper.busy--;
      clearTimeout(idle);
      if (helpers.every((h) => h.busy === 0))
        idle = setTimeout(() => {
          for (const h of helpers) h.worker.terminate();
          helpers = [];
        }, rest);
    }
  };
}
