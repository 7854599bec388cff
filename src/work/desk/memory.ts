import { onWrites, type Watched } from '../../store';
import { work } from '../browser/browser';
import { SourceSearcher } from '../catalogue/source-search';
import { noteFailure } from '../context/failure';
import { assortmentOf } from '../memory/assortment';
import { benchOf } from '../memory/bench-list';
import { ListingList, type Meant } from '../memory/listing-list';
import { OrderBook } from '../order-book/order-book';

/** The parts of the shop that this tab’s worker holds in memory. */
export const source = new SourceSearcher(work);
export const assortment = assortmentOf(work);
export const listings = new ListingList(assortment);
export const bench = benchOf(assortment);
export const book = new OrderBook(work);

/** The first question waits for what is held in memory to be read; later ones are answered with what is known. */
function readOnce(held: { catchUp(): Promise<boolean> }): () => Promise<void> {
  let reading: Promise<unknown> | null = null;
  return async () => {
    reading ??= held.catchUp().catch((error) => {
      reading = null;
      throw error;
    });
    await reading;
  };
}
export const built = readOnce(assortment);
export const builtBook = readOnce(book);

/** Settled once what was looked at first stands: reading for others begins after it, on the same two or four cores. */
export const stands = Promise.withResolvers<void>();
/** Milliseconds after which it begins all the same: some views ask for no rows. */
const MOST_WAITED = 2_500;

/** Says that the shop is open. @param first whether a view with rows is looked at: it is answered before all else */
export function beginWith(first: boolean): void {
  if (first) setTimeout(stands.resolve, MOST_WAITED);
  else stands.resolve();
}

/** Rows of a list that something is wanted of. */
export interface Where {
  readonly view: 'bench' | 'listings';
  readonly rows: Meant;
  /** On the Bench the marketplace that is looked at; null for all. */
  readonly market?: string | null;
}

export const meantBy = ({ view, rows, market = null }: Where): string[] =>
  view === 'bench' ? bench.meant(rows, market) : listings.meant(rows, work.clock());

/** Rows gone through before others are heard. */
export const AT_ONCE = 1_000;

/** Lets others be heard. */
export const rest = () => new Promise((rested) => setTimeout(rested));

/** A change that comes alone is shown after this time: its own rows may come in several writes. */
export const SOON = 30;
/** While changes go on coming, lists are brought up at most this often, and for a large shop in a quarter of the time. */
export const OFTEN = 300;
const SHARE = 3;

/** The tables that lists depend on: rows by the journal, and the inputs of prices. */
export const OF_LISTS = [
  'journal',
  'plans',
  'settings',
  'rates',
  'templates',
  'groups',
  'connections',
  'stated',
];

/** How often something is looked at again. */
interface Pace {
  /** Milliseconds between a change and its run, at least. */
  readonly calm: number;
  /** Milliseconds between two runs, at least. */
  readonly often: number;
  /** Milliseconds after which it is run though nothing changed, as time passes; missing for never. */
  readonly atLeast?: number;
}

/**
 * Told now and after changes to what is watched, one run at a time and never more than a share of the time.
 * @param run what is told; undefined where nothing is to be
 */
export const changing =
  <T>(watched: readonly Watched[], { calm, often, atLeast }: Pace, run: () => Promise<T | undefined>) =>
  (tell: (next: T) => void, fail: (error: unknown) => void): (() => void) => {
    let planned = false;
    let free = 0;
    let over = false;
    const soon = () => {
      if (planned || over) return;
      planned = true;
      setTimeout(
        async () => {
          const begun = performance.now();
          planned = false;
          try {
            const next = await run();
            if (next !== undefined && !over) tell(next);
          } catch (error) {
            noteFailure(error);
            if (!over) fail(error);
          }
          const ended = performance.now();
          free = ended + Math.max(often, (ended - begun) * SHARE);
        },
        Math.max(calm, free - performance.now()),
      );
    };
    const deaf = onWrites(work.db, watched, soon);
    const timer = atLeast === undefined ? undefined : setInterval(soon, atLeast);
    soon();
    return () => {
      over = true;
      deaf();
      clearInterval(timer);
    };
  };
