import type { FetchAddress } from '../connect/address';
import type { Reach } from '../connect/reach';
import type { Instant } from '../core/units';
import type { Now, SampanDatabase } from '../store';
import type { ReadItems } from './items';

/** What work is done with: handed in, so that tests and replays can hand in their own. */
export interface Work {
  readonly db: SampanDatabase;
  readonly reach: Reach;
  /** Fetches a list at an address; in the browser through Sampan's own server. */
  readonly fetchAddress: FetchAddress;
  /** Reads the items of a part of a price list; in the browser by helpers side by side. */
  readonly readItems: ReadItems;
  readonly clock: () => Instant;
  readonly newId: () => string;
  /** At least 0, under 1: jitter of backoff. */
  readonly chance: () => number;
}

export const nowOf = (work: Work): Now => ({ at: work.clock(), newId: work.newId });
