'use client';
import { useMemo } from 'react';
import { KINDS } from '../../core/fields';
import { lineOf } from '../../core/query';
import { useAddress } from '../../ui/address';
import { useAnswer } from '../../ui/answer';
import { say } from '../../ui/said';
import { type ReadyView, ViewsStrip } from '../../ui/views-strip';
import { theShop } from '../../work/desk/client';
import type { SavedView } from '../../work/model';

/** Views that every shop has. */
const USUAL: readonly ReadyView[] = [
  ['All', ''],
  ['Needing you', 'is:needing'],
  ['Held', 'is:held'],
  ['Ready', 'is:ready'],
  ['To place', 'is:place'],
  ['Late', 'is:late'],
  ['Overdue', 'is:overdue'],
  ['Under way', 'is:open -is:needing'],
].map(([name, query]) => ({ name: name!, query: query!, sort: '', own: false }));

const NONE: readonly SavedView[] = [];

interface Props {
  readonly own: readonly SavedView[] | undefined;
  readonly version: string;
  readonly query: string;
  readonly sort: string;
  readonly onQuery: (query: string) => void;
}

/** The views of Orders, with the seller's own. */
export function OrderViews({ own = NONE, version, query, sort, onQuery }: Props) {
  const { set } = useAddress();
  const views = useMemo(
    () => [
      ...USUAL,
      ...own.map((v) => ({ name: v.name, query: lineOf(v.when, KINDS.order), sort: v.sort, own: true })),
    ],
    [own],
  );
  const counts = useAnswer(() => theShop().orderCounts(views.map((v) => v.query)), [views, version], 250);
  const keep = async (name: string) => {
    const kept = await theShop().saveOrderView({ name, query, sort });
    await say(kept.ok ? `The view “${name}” is kept.` : kept.reason, { undo: kept.ok, wrong: !kept.ok });
    return kept.ok;
  };
  const forget = async (name: string) => {
    await theShop().forgetOrderView(name);
    await say(`The view “${name}” is forgotten.`, { undo: true });
  };
  return (
    <ViewsStrip
      label="Views of orders"
      views={views}
      counts={counts ?? null}
      query={query}
      sort={sort}
      onOpen={(v) => {
        set({ sort: v.sort, row: '' });
        onQuery(v.query);
      }}
      onKeep={keep}
      onForget={forget}
    />
  );
}
