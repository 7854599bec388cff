'use client';
import { whenOf } from '../core/units';
import { theShop } from '../work/desk/client';
import type { PastEdit, TextEdit } from '../work/memory/history';
import { useAnswer } from './answer';
import { useFeed } from './asked';

/**
 * The history of a row, newest first: each event, its time, and the rule or person behind it. Includes the parts of the row: of a listing its
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
  const changes = useFeed('countChanges');
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
          {e.texts?.map((text) => (
            <TextMoved key={text.name} {...text} />
          ))}
        </li>
      ))}
    </ol>
  );
}

/** Characters of a text that are shown on either side of what moved. */
const AROUND = 40;
const LONGEST = 160;

/** The changed middle of a text, before and after; the parts that are equal at both ends are cut away. */
function TextMoved({ name, from, to }: TextEdit) {
  let begin = 0;
  while (begin < from.length && from[begin] === to[begin]) begin++;
  let end = 0;
  while (end < Math.min(from.length, to.length) - begin && from.at(-1 - end) === to.at(-1 - end)) end++;
  const cut = (text: string) => {
    const first = Math.max(0, begin - AROUND);
    const last = Math.min(text.length, text.length - end + AROUND);
    const part = text.slice(first, Math.min(last, first + LONGEST));
    return `${first ? '…' : ''}${part}${first + part.length < text.length ? '…' : ''}`;
  };
  return (
    <div className="text-xs wrap-anywhere">
      <span className="text-muted">{name}: </span>
      {from ? (
        <s className="text-muted">{cut(from)}</s>
      ) : (
        <span className="text-muted">nothing of one’s own</span>
      )}
      {' → '}
      {to ? cut(to) : <span className="text-muted">nothing of one’s own</span>}
    </div>
  );
}
