import type { FullListing } from '../quoting/full-listing';
import { FLAG, STATES } from './columns';

/**
 * What of a listing needs a person: its marketplace refused it, it was edited there, a step of its price waits, it is held at
 * its price, it sells below cost, its cost leapt.
 */
export type ListingNeed = 'refused' | 'edited' | 'step' | 'held' | 'loss' | 'leap';

const [LIVE, PAUSED, REFUSED] = [STATES.indexOf('live'), STATES.indexOf('paused'), STATES.indexOf('refused')];

/**
 * The one thing of a listing that a person is asked for first; null where nothing is. Today, the counts of the course and of
 * the list, and `is:needing` all go by it.
 * @param state place of its state among {@link STATES} @param flags its {@link FLAG}s
 */
export function needOf({ listing, item }: FullListing, state: number, flags: number): ListingNeed | null {
  if (state === REFUSED) return 'refused';
  if (!listing.published || (state !== LIVE && state !== PAUSED)) return null;
  if (listing.drift) return 'edited';
  if (listing.held) return 'step';
  if (flags & FLAG.problem) return 'held';
  if (flags & FLAG.loss && state === LIVE) return 'loss';
  return item?.leap ? 'leap' : null;
}
