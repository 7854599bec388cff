import type { FetchAddress } from '../../connect/address';
import type { FeedServer } from '../../connect/feed-server';
import type { Reach } from '../../connect/reach';
import type { Slip } from '../../core/slip';
import type { Instant } from '../../core/units';
import type { Change, Now, SampanDatabase } from '../../store';
import type { Draw, SlipsDrawn } from './draw';
import type { ListHelpers } from './list-helpers';

/** What work is done with: handed in, so that tests and replays can hand in their own. */
export interface Work {
  readonly db: SampanDatabase;
  readonly reach: Reach;
  /** Fetches a list at an address; in the browser through Sampan's own server. */
  readonly fetchAddress: FetchAddress;
  /** Draws pictures; in Node there is nothing to draw with. */
  readonly fitPicture: FitPicture;
  /** Draws designs and what is printed with them; missing where nothing can be drawn. */
  readonly draw?: Draw;
  /** Draws packing slips into one PDF; missing where it cannot be drawn. @param goesOn told how many are done; ends it where it says no */
  readonly slips?: (
    slips: readonly Slip[],
    goesOn: (done: number) => boolean | Promise<boolean>,
  ) => Promise<SlipsDrawn | null>;
  /** Where feeds are served from; missing where nothing serves them. */
  readonly feedServer?: FeedServer;
  /** Find records of price lists and read their items; in the browser workers side by side. */
  readonly helpers: ListHelpers;
  readonly clock: () => Instant;
  readonly newId: () => string;
  /** The tab in which a person works; missing where there is none. */
  readonly tab?: string;
  /** Hears of each change that is made; missing where nobody asks. */
  readonly made?: (change: Change) => void;
  /** At least 0, under 1: jitter of backoff. */
  readonly chance: () => number;
  /** Does something while nobody else, in no other tab, does what has the same name. */
  readonly alone: <T>(name: string, run: () => Promise<T>) => Promise<T>;
}

/** {@link Work.alone} where there is one process: one after the other. */
export function queued(): Work['alone'] {
  const last = new Map<string, Promise<unknown>>();
  return (name, run) => {
    const own = (last.get(name) ?? Promise.resolve()).then(run, run);
    last.set(
      name,
      own.catch(() => {}),
    );
    return own;
  };
}

/** Makes a picture as large as it fits into so many pixels, with white around it. @returns a JPEG */
export type FitPicture = (file: Blob, width: number, height: number) => Promise<Blob>;

export const nowOf = (work: Work): Now => ({
  at: work.clock(),
  newId: work.newId,
  ...(work.tab && { tab: work.tab }),
  ...(work.made && { made: work.made }),
});
