import { liveQuery } from 'dexie';
import { work } from '../browser/browser';
import type { Work } from '../context/work';

type Tell<T> = (next: T) => void;

/** Something that is told now, and again whenever it became another. @returns ends it */
export type Feed<Args extends readonly unknown[], T> = (
  tell: Tell<T>,
  fail: Tell<unknown>,
  ...args: Args
) => () => void;

/** Told again whenever what is read for it was written, in whatever tab. @param ask only reads */
export const stored =
  <Args extends readonly unknown[], T>(ask: (work: Work, ...args: Args) => Promise<T> | T): Feed<Args, T> =>
  (tell, fail, ...args) => {
    const told = liveQuery(() => ask(work, ...args)).subscribe({ next: tell, error: fail });
    return () => told.unsubscribe();
  };

/** As another feed, but told only of what is another by a mark. */
export const distinct =
  <Args extends readonly unknown[], T>(feed: Feed<Args, T>, markOf: (value: T) => string): Feed<Args, T> =>
  (tell, fail, ...args) => {
    let known: string | null = null;
    return feed(
      (next) => {
        const mark = markOf(next);
        if (mark !== known) tell(next);
        known = mark;
      },
      fail,
      ...args,
    );
  };

/** The arguments of a feed, and the values it tells. */
export type FeedArgs<F> = F extends Feed<infer Args, unknown> ? Args : never;
export type FeedTells<F> = F extends (tell: Tell<infer T>, ...rest: never[]) => unknown ? T : never;
