'use client';
import { useLiveQuery } from 'dexie-react-hooks';
import { whenOf } from '../core/units';
import { db } from '../store';

const LONGEST = 40;

/** What happened to a listing or an order, newest first: what, when, by which rule or person. */
export function History({ subject, now, zone }: { subject: string; now: number; zone: string }) {
  const edits = useLiveQuery(async () => {
    const rows = await db.edits
      .where('[subject+at]')
      .between([subject, 0], [subject, Number.MAX_SAFE_INTEGER])
      .reverse()
      .limit(LONGEST)
      .toArray();
    // What was added together with many others stands in one edit for all of them.
    const [kind, ...rest] = subject.split(':');
    const id = rest.join(':');
    const many = await db.edits
      .where('[subject+at]')
      .between([`${kind}s:`, 0], [`${kind}s:`, Number.MAX_SAFE_INTEGER])
      .toArray();
    for (const edit of many)
      if ((edit.after?.ids as readonly string[] | undefined)?.includes(id)) rows.push(edit);
    const changes = new Map(
      (await db.changes.bulkGet([...new Set(rows.map((r) => r.change))])).flatMap((c) =>
        c ? [[c.id, c] as const] : [],
      ),
    );
    return rows.map((row) => ({ ...row, head: changes.get(row.change) }));
  }, [subject]);
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
            {whenOf(e.at, now, zone)} · {e.head?.by === 'person' ? 'by hand' : 'by rule'}
            {e.head && ` · ${e.head.name}`}
          </span>
          {e.says && <div>{e.says}</div>}
        </li>
      ))}
    </ol>
  );
}
