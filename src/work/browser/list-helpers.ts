import { transfer } from 'comlink';
import type { FoundText } from '../../connect/lists';
import type { ListHelpers } from '../context/list-helpers';
import type { HelperApi } from '../readings/one-helper';
import type { WorkerPool } from './worker-pool';

/**
 * Blocks of a text that are found ahead: all that comes while the catalogue before is opened from storage.
 */
const FOUND_AHEAD = 50;

/** Reads parts of lists, and finds records, in workers of a pool, each part by the worker with the least to do. */
export function listHelpers(pool: WorkerPool<HelperApi>): ListHelpers {
  let texts = 0;
  return {
    readItems(match, part, lines, marks) {
      const sent = part.kind === 'text' ? transfer(part, [part.bytes.buffer]) : part;
      return pool.run((api) => api.read(match, sent, lines, marks));
    },
    findText(list, from) {
      const id = ++texts;
      let place: string | null = from;
      let helper = pool.choose();
      let ahead: Promise<FoundText | null>[] = [];
      const look = () => {
        // A helper that was let go in a long pause is replaced, and the new one goes on at the place reached.
        if (!pool.has(helper)) {
          helper = pool.choose();
          ahead = [];
        }
        while (ahead.length < FOUND_AHEAD) {
          const begin = ahead.length ? null : { list, place: place! };
          const next: Promise<FoundText | null> = pool.run((api) => api.find(id, begin), helper);
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
