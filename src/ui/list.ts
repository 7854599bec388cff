'use client';
import { startTransition, useCallback, useMemo } from 'react';
import type { ListQuestion } from '../work/memory/listing-list';
import { useAddress, useTyped } from './address';
import { type Answer, useWindow, type Windowed } from './window';

/** A question without the rows that are in view. */
type Asked<Sort extends string, More> = Omit<ListQuestion<Sort>, 'offset' | 'limit'> & More;

const NONE: readonly never[] = [];

interface ListOf<Sort extends string, More, F extends Answer> {
  /** 0 while there is nothing to ask. */
  readonly version: number;
  readonly sorts: readonly Sort[];
  /** The sort without one in the address; `-` before it turns it round. */
  readonly first: Sort | `-${Sort}`;
  /** Columns that begin with A when they are sorted by; others begin with the largest. */
  readonly texts?: readonly Sort[];
  /** What else is asked; the same object while it is the same. */
  readonly more?: More;
  readonly search: (question: ListQuestion<Sort> & More) => Promise<F>;
}

/** A list that is searched, sorted and opened row by row. */
export interface List<Sort extends string, More, F extends Answer>
  extends Pick<Windowed<Asked<Sort, More>, F>, 'found' | 'shown' | 'asked'> {
  readonly query: string;
  readonly setQuery: (query: string) => void;
  /** As it stands in the address. */
  readonly order: string;
  /** Key of the row that is open; '' for none. */
  readonly row: string;
  readonly close: () => void;
  /** For the line above the table. */
  readonly line: { readonly value: string; readonly onChange: (typed: string) => void };
  /** For the table. */
  readonly table: Pick<Windowed<unknown, F>, 'count' | 'rowAt' | 'onRange'> & {
    readonly chosen: string;
    readonly onChoose: (key: string) => void;
    readonly sort: { readonly by: Sort; readonly descending: boolean };
    readonly onSort: (by: string) => void;
  };
}

/** A worker's list, of which search line, sort and open row stand in the address. */
export function useList<Sort extends string, F extends Answer, More extends object = object>({
  version,
  sorts,
  first,
  texts = NONE,
  more,
  search,
}: ListOf<Sort, More, F>): List<Sort, More, F> {
  const { get, set } = useAddress();
  const [query, setQuery] = useTyped('q');
  const named = get('sort');
  const known = (sorts as readonly string[]).includes(named.replace('-', ''));
  const order = known ? named : first;
  const sort = order.replace('-', '') as Sort;
  const descending = order.startsWith('-');
  const question = useMemo(
    () => ({ ...(more as More), query, sort, descending }),
    [more, query, sort, descending],
  );
  const { found, count, rowAt, onRange, ask, asked, shown } = useWindow(version, question, search);
  const onChange = useCallback(
    (typed: string) => {
      // Asked before the view is drawn with it: the line itself holds what is typed.
      ask({ ...question, query: typed });
      startTransition(() => setQuery(typed));
    },
    [ask, question, setQuery],
  );
  // A second click turns the order round, a third goes back to the first order.
  const onSort = useCallback(
    (by: string) => {
      const natural = (texts as readonly string[]).includes(by) ? by : `-${by}`;
      const turned = natural === by ? `-${by}` : by;
      set({ sort: by !== sort ? natural : order === natural ? turned : order === first ? natural : '' });
    },
    [set, sort, order, first, texts],
  );
  const sorting = useMemo(() => ({ by: sort, descending }), [sort, descending]);
  const onChoose = useCallback((key: string) => set({ row: key }), [set]);
  const close = useCallback(() => set({ row: '' }), [set]);
  const row = get('row');
  return {
    found,
    shown,
    asked,
    query,
    setQuery,
    order: known ? named : '',
    row,
    close,
    line: { value: query, onChange },
    table: { count, rowAt, onRange, chosen: row, onChoose, sort: sorting, onSort },
  };
}
