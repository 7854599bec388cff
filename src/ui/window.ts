'use client';
import { startTransition, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useFailing } from './failing';

/** Rows fetched at once: about two screens. */
const WINDOW = 50;

interface Window {
  readonly offset: number;
  readonly limit: number;
}

export interface Answer {
  readonly matches: number;
  readonly rows: readonly unknown[];
}

type RowOf<F extends Answer> = F['rows'][number];

/** A list of which only some rows are here. */
export interface Windowed<Q, F extends Answer> {
  /** The newest answer; null before the first. */
  readonly found: F | null;
  readonly count: number;
  readonly rowAt: (i: number) => RowOf<F> | undefined;
  /** The rows that are here. */
  readonly shown: readonly RowOf<F>[];
  readonly onRange: (from: number, to: number) => void;
  /** Asks before the page is drawn with the question. */
  readonly ask: (question: Q) => void;
  /** What is asked now. */
  readonly asked: () => Q;
}

/**
 * Follows a list that a worker holds: fetches the rows in view and a little around them, again whenever the version or
 * the question changes. Old rows stay until new ones are there. One question at a time: after an answer only the newest
 * is asked.
 * @param version 0 while there is nothing to ask
 * @param question the same object while it asks the same
 */
export function useWindow<Q, F extends Answer>(
  version: number,
  question: Q,
  search: (question: Q & Window) => Promise<F>,
): Windowed<Q, F> {
  const [found, setFound] = useState<F | null>(null);
  const [table, setTable] = useState<{
    readonly count: number;
    readonly rows: ReadonlyMap<number, RowOf<F>>;
  }>({
    count: 0,
    rows: new Map(),
  });
  const asking = useRef({ version: 0, question });
  const waiting = useRef<Promise<void> | null>(null);
  const pages = useRef(new Set<number>());
  const view = useRef({ from: 0, to: 0 });
  /** What the rows that are here answer. */
  const answered = useRef<Q | null>(null);
  const searchNow = useRef(search);
  useEffect(() => {
    searchNow.current = search;
  }, [search]);

  const answer = useCallback(async () => {
    for (let asked: typeof asking.current | null = null; asked !== asking.current; ) {
      asked = asking.current;
      // Another question begins at the top; with news of the same one stays where one is.
      if (!sameShown(answered.current, asked.question)) view.current = { from: 0, to: 0 };
      const first = Math.floor(Math.max(0, view.current.from - WINDOW / 2) / WINDOW);
      const last = Math.floor((view.current.to + WINDOW / 2) / WINDOW);
      pages.current = new Set(Array.from({ length: last - first + 1 }, (_, k) => first + k));
      const offset = first * WINDOW;
      const got = await searchNow.current({ ...asked.question, offset, limit: (last - first + 1) * WINDOW });
      if (asking.current !== asked) continue;
      const show = () => {
        setFound(got);
        if (got.matches)
          setTable({ count: got.matches, rows: new Map(got.rows.map((row, i) => [offset + i, row])) });
      };
      // The first answer draws the whole view: in slices, between which the page hears. Later ones are few writes into
      // what stands, and are not put off.
      if (answered.current) show();
      else startTransition(show);
      answered.current = asked.question;
    }
  }, []);
  const askFor = useCallback(
    async (next: number, wanted: Q): Promise<void> => {
      const now = asking.current;
      if (next === 0) {
        // Asked once there is something to ask.
        asking.current = { version: 0, question: wanted };
        return;
      }
      if (now.version === next && sameShown(now.question, wanted)) return waiting.current ?? undefined;
      asking.current = { version: next, question: wanted };
      waiting.current ??= answer().finally(() => {
        waiting.current = null;
      });
      await waiting.current;
    },
    [answer],
  );
  const fail = useFailing();
  const failed = useCallback(
    (error: unknown) => {
      const { version: at, question: wanted } = asking.current;
      // Asked anew though it is the same.
      asking.current = { version: 0, question: wanted };
      fail(error, answered.current !== null, () => void askFor(at, wanted).catch(failed));
    },
    [askFor, fail],
  );
  const given = useRef(question);
  useEffect(() => {
    // News does not ask the older question again while a newer one, just typed, is on its way here.
    const wanted = given.current === question ? asking.current.question : question;
    given.current = question;
    askFor(version, wanted).catch(failed);
  }, [askFor, failed, version, question]);

  const ask = useCallback(
    (wanted: Q) => {
      askFor(version, wanted).catch(failed);
    },
    [askFor, failed, version],
  );
  const { count } = table;
  const onRange = useCallback(
    (from: number, to: number) => {
      view.current = { from, to };
      // Half a window ahead either way, so that scrolling seldom meets a row that is still coming.
      const first = Math.max(0, from - WINDOW / 2);
      const last = Math.min(to + WINDOW / 2, count - 1);
      for (let page = Math.floor(first / WINDOW); page <= Math.floor(last / WINDOW); page++) {
        if (pages.current.has(page)) continue;
        pages.current.add(page);
        const asked = asking.current;
        const offset = page * WINDOW;
        searchNow.current({ ...asked.question, offset, limit: WINDOW }).then((got) => {
          if (asking.current !== asked) return;
          setTable((now) => ({
            count: now.count,
            rows: new Map([...now.rows, ...got.rows.map((row, i) => [offset + i, row] as const)]),
          }));
        }, failed);
      }
    },
    [count, failed],
  );
  const rowAt = useCallback((i: number) => table.rows.get(i), [table]);
  const shown = useMemo(() => [...table.rows.values()], [table]);
  const asked = useCallback(() => asking.current.question, []);
  return { found, count, rowAt, shown, onRange, ask, asked };
}

const sameShown = (a: unknown, b: unknown) => a === b || JSON.stringify(a) === JSON.stringify(b);
