import { type Remote, transfer, wrap } from 'comlink';
import type { ReadItems } from './items';
import type { ItemsApi } from './items.worker';

/** Helpers side by side: as many as two cores keep busy beside the one that writes. */
const HELPERS = 2;
/** Milliseconds after the last part when the helpers are let go: another list often follows soon. */
const IDLE = 60_000;

/** Reads parts of lists in workers of their own, each part by the helper with the least to do. @param start makes a worker */
export function readInHelpers(start: () => Worker): ReadItems {
  let helpers: { worker: Worker; api: Remote<ItemsApi>; busy: number }[] = [];
  let idle: ReturnType<typeof setTimeout> | undefined;
  return async (match, part, lines, marks) => {
    clearTimeout(idle);
    let helper = [...helpers].sort((a, b) => a.busy - b.busy)[0];
    if ((!helper || helper.busy > 0) && helpers.length < HELPERS) {
      const worker = start();
      helper = { worker, api: wrap<ItemsApi>(worker), busy: 0 };
      helpers.push(helper);
    }
    const own = helper!;
    own.busy++;
    try {
      const sent = part.kind === 'text' ? transfer(part, [part.bytes.buffer]) : part;
      return await own.api.read(match, sent, lines, marks);
    } finally {
      own.busy--;
      clearTimeout(idle);
      if (helpers.every((h) => h.busy === 0))
        idle = setTimeout(() => {
          for (const h of helpers) h.worker.terminate();
          helpers = [];
        }, IDLE);
    }
  };
}
