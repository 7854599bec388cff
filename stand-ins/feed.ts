import type { Faults } from './faults';

const USUAL = 50;
const MOST = 200;

/**
 * Reads a list of changes by cursor (`after`) and `limit`, oldest first, the same change perhaps more than once.
 * A cursor is `c` and a position; anything else starts from the beginning.
 */
export function readFeed(
  feed: readonly string[],
  query: URLSearchParams,
  faults: Faults,
): { keys: string[]; next: string; more: boolean } {
  const asked = /^c(\d+)$/.exec(query.get('after') ?? '');
  const limit = Math.min(Math.max(Number(query.get('limit')) || USUAL, 1), MOST);
  const from = Math.min(asked ? Number(asked[1]) : 0, feed.length);
  if (faults.settings.late > 0 && from < feed.length) {
    faults.settings.late--;
    return { keys: [], next: `c${from}`, more: false };
  }
  const to = Math.min(from + limit, feed.length);
  const keys = feed.slice(from, to);
  const before = faults.settings.duplicate ? feed.slice(Math.max(0, from - 5), from) : [];
  return {
    keys: faults.settings.duplicate ? [...before, ...keys, ...keys] : keys,
    next: `c${to}`,
    more: to < feed.length,
  };
}
