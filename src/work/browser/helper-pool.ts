import { type Remote, transfer, wrap } from 'comlink';
import type { FoundText } from '../../connect/lists';
import type { ListHelpers } from '../context/list-helpers';
import type { HelperApi } from '../readings/one-helper';

/** Helpers side by side: as many as two cores keep busy beside the one that writes. */
const HELPERS = 2;
/** Milliseconds after the last part when the helpers are let go: another list often follows soon. */
const IDLE = 60_000;

interface Helper {
  readonly worker: Worker;
  readonly api: Remote<HelperApi>;
  /** Fails when the worker dies or cannot start; never comes to anything else. */
  readonly lost: Promise<never>;
  busy: number;
}

/**
 * Blocks of a text that are found ahead: all that comes while the catalogue before is opened from storage.
 */
const FOUND_AHEAD = 50;

/**
 * Reads parts of lists, and finds records, in workers of their own, each part by the helper with the least to
 * do.
 * @param start makes a worker; rest: milliseconds without a part after which they are let go
 */
export function listHelpers(start: () => Worker, rest = IDLE): ListHelpers {
  let helpers: Helper[] = [];
  let idle: ReturnType<typeof setTimeout> | undefined;
  const add = (): Helper => {
    const worker = start();
    const lost = new Promise<never>((_, reject) => {
      worker.addEventListener('error', (event) => {
        worker.terminate();
        helpers = helpers.filter((h) => h.worker !== worker);
        reject(
          new Error(`A helper that reads the list was lost${event.message ? `: ${event.message}` : '.'}`),
        );
      });
    });
    // It is heard where a part waits for it.
    lost.catch(() => {});
    const helper = { worker, api: wrap<HelperApi>(worker), lost, busy: 0 };
    helpers.push(helper);
    return helper;
  };
  const leastBusy = (): Helper => {
    const [free] = [...helpers].sort((a, b) => a.busy - b.busy);
    return free && (free.busy === 0 || helpers.length >= HELPERS) ? free : add();
  };
  const asked = async <T>(helper: Helper, answer: Promise<T>): Promise<T> => {
    clearTimeout(idle);
    helper.busy++;
    try {
      return await Promise.race([answer, helper.lost]);
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
  let texts = 0;
  return {
    readItems(match, part, lines, marks) {
      const helper = leastBusy();
      const sent = part.kind === 'text' ? transfer(part, [part.bytes.buffer]) : part;
      return asked(helper, helper.api.read(match, sent, lines, marks));
    },
    findText(list, from) {
      const id = ++texts;
      let place: string | null = from;
      let helper = leastBusy();
      let ahead: Promise<FoundText | null>[] = [];
      const look = () => {
        // A helper that was let go in a long pause is replaced, and the new one goes on at the place reached.
        if (!helpers.includes(helper)) {
          helper = leastBusy();
          ahead = [];
        }
        while (ahead.length < FOUND_AHEAD) {
          const next: Promise<FoundText | null> = asked(
            helper,
            helper.api.find(id, ahead.length ? null : { list, place: place! }),
          );
          // A failure shows when its turn comes.
          next.catch(() => {});
          ahead.push(next);
        }
      };
      look();
      return {
        async next() {
          if (place === null) return null;
          look();
          const found = await ahead.shift()!;
          place = found?.next ?? null;
          return found;
        },
      };
    },
  };
}
