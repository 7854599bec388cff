'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import { whenOf } from '../core/units';
import { db } from '../store';

const LONGEST = 40;

async function editsOf(subject: string) {
  const between = (of: string) =>
    db.edits.where('[subject+at]').between([of, 0], [of, Number.MAX_SAFE_INTEGER]);
  const rows = await between(subject).reverse().limit(LONGEST).toArray();
  // What was added together with many others stands in one edit for all of them.
  const [kind, ...rest] = subject.split(':');
  const id = rest.join(':');
  for (const edit of await between(`${kind}s:`).toArray())
    if ((edit.after?.ids as readonly string[] | undefined)?.includes(id)) rows.push(edit);
  return rows;
}

/**
 * What happened to a row, newest first: what, when, by which rule or person. With what it is made of: of a listing its
 * product, its variant and its item.
 */
export function History({ of, now, zone }: { of: readonly string[]; now: number; zone: string }) {
  const key = of.join(' ');
  const edits = useLiveQuery(async () => {
    const found = await Promise.all(key.split(' ').map(editsOf));
    const rows = found.flat().sort((a, b) => b.at - a.at);
    rows.length = Math.min(rows.length, LONGEST);
    const changes = new Map(
      (await db.changes.bulkGet([...new Set(rows.map((r) => r.change))])).flatMap((c) =>
        c ? [[c.id, c] as const] : [],
      ),
    );
    return rows.map((row) => ({ ...row, head: changes.get(row.change) }));
  }, [key]);
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
