'use client';
import { hashKey, QueryClient, type UseQueryResult, useQuery } from '@tanstack/react-query';
import { noteFailure } from '../work/context/failure';
import { follow, whenLost } from '../work/desk/client';
import type { ArgsOf, FeedName, ToldBy } from '../work/desk/desk.worker';

/** Milliseconds that a feed nobody shows any more is followed still: one comes back to a view. */
const KEPT = 30_000;

/** The questions that this tab asked its worker, with their answers. */
export const asked = new QueryClient({
  defaultOptions: {
    queries: {
      // The worker tells when something became another; there is no network between it and the page.
      staleTime: Number.POSITIVE_INFINITY,
      networkMode: 'always',
      refetchOnReconnect: false,
      refetchOnWindowFocus: false,
      gcTime: KEPT,
      retry: 1,
      retryDelay: 500,
      // What was shown before stays; where nothing was, the reason stands in its place, with a way to try again.
      throwOnError: (_, query) => query.state.data === undefined,
    },
  },
});

/** What tells the lists and the frame that something moved: followed for as long as the tab is open. */
const ALWAYS: ReadonlySet<FeedName> = new Set<FeedName>([
  'terms',
  'course',
  'sourceVersion',
  'listingsVersion',
  'ordersVersion',
]);

/** Milliseconds after which what failed in the frame is asked again. */
const ASKED_AGAIN = 10_000;

/** What ends the feeds that are followed. */
const leaving = new Map<string, () => void>();

asked.getQueryCache().subscribe(({ type, query }) => {
  if (type !== 'removed') return;
  leaving.get(query.queryHash)?.();
  leaving.delete(query.queryHash);
});
// A worker that takes the place of one that was lost is asked everything that is shown.
whenLost(() => void asked.refetchQueries({ type: 'active' }));

/** Follows a feed anew. @returns what it tells first; what it tells later takes its place */
function begin<N extends FeedName>(key: readonly [N, ...ArgsOf<N>]): Promise<ToldBy<N>> {
  const [name, ...args] = key;
  const hash = hashKey(key);
  leaving.get(hash)?.();
  return new Promise((resolve, reject) => {
    let first = true;
    const leave = follow(
      name,
      args as ArgsOf<N>,
      (next) => {
        if (!first) asked.setQueryData<ToldBy<N>>(key, () => next);
        first = false;
        resolve(next);
      },
      (error) => {
        if (first) return reject(error);
        noteFailure(error);
        void asked.refetchQueries({ queryKey: key, exact: true });
      },
    );
    leaving.set(hash, leave);
  });
}

function useFollowed<N extends FeedName>(name: N, args: ArgsOf<N>, throwing: boolean) {
  const key = [name, ...args] as const;
  const options = {
    queryKey: key,
    queryFn: () => begin(key),
    ...(ALWAYS.has(name) && { gcTime: Number.POSITIVE_INFINITY }),
    // The frame is never drawn anew: what failed in it is asked again by itself.
    ...(!throwing && {
      throwOnError: false,
      refetchInterval: ({ state }: { readonly state: { readonly status: string } }) =>
        state.status === 'error' && ASKED_AGAIN,
    }),
  };
  return useQuery(options, asked) as UseQueryResult<ToldBy<N>>;
}

/** What a feed told last; undefined until it told something. Followed for as long as it is shown somewhere. */
export const useFeed = <N extends FeedName>(name: N, ...args: ArgsOf<N>): ToldBy<N> | undefined =>
  useFollowed(name, args, true).data;

/** As {@link useFeed}, for the frame around the views, which stands whatever fails; with the reason. */
export function useFeedOrWhy<N extends FeedName>(
  name: N,
  ...args: ArgsOf<N>
): { readonly told: ToldBy<N> | undefined; readonly error: Error | null } {
  const { data, error } = useFollowed(name, args, false);
  return { told: data, error: data === undefined ? error : null };
}

/** Asks anew what failed: before a view is drawn again. */
export const askAgain = (): Promise<void> =>
  asked.resetQueries({ predicate: ({ state }) => state.status === 'error' });
