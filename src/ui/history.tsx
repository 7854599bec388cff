'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import { whenOf } from '../core/units';
import { work } from '../work/browser';
import { theShop } from '../work/clients';
import { countChanges, type PastEdit } from '../work/shop/history';
import { useAnswer } from './answer';

/**
 * What happened to a row, newest first: what, when, by which rule or person. With what it is made of: of a listing its
 * product, its variant and its item.
 */
export function History({
  of,
  laidAway = null,
  now,
  zone,
}: {
  of: readonly string[];
  /** The history itself where the row was laid away with it. */
  laidAway?: readonly PastEdit[] | null;
  now: number;
  zone: string;
}) {
  const key = of.join(' ');
  const changes = useLiveQuery(() => countChanges(work), []);
  const found = useAnswer(() => theShop().editsOf(key.split(' ')), [key, changes]);
  const edits = laidAway ? [...laidAway].sort((a, b) => b.at - a.at) : found;
  if (!edits) return null;
  if (!edits.length) return <p className="text-[13px] text-muted">Nothing yet.</p>;
  return (
    <ol className="ml-1 text-[13px]">
      {edits.map((e) => (
        <li
          key={e.id}
          className="relative border-l-2 border-rule py-1 pl-3.5 before:absolute before:top-2.5 before:-left-[5px] before:size-2 before:rounded-full before:border-2 before:border-edge before:bg-surface"
        >
          <span className="text-xs text-muted">
            {whenOf(e.at, now, zone)} · {e.head?.by === 'person' ? 'you' : 'by rule'}
            {e.head && ` · ${e.head.name}`}
          </span>
          {e.says && <div>{e.says}</div>}
        </li>
      ))}
    </ol>
  );
}
