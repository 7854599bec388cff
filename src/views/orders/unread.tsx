'use client';
import { useSearchParams } from 'next/navigation';
import { useState } from 'react';
import { whenOf } from '../../core/units';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { UnreadRow } from '../../work/model';
import type { Said } from '../../work/orders/actions';

/** What a feed told and could not be read, each as it came, to be put right, read again or set aside. */
export function Unread({
  version,
  now,
  zone,
  nameOf,
}: {
  version: unknown;
  now: number;
  zone: string;
  nameOf: (connection: string) => string;
}) {
  const [done, setDone] = useState(0);
  const asked = useSearchParams().get('unread');
  const rows = useAnswer(() => theShop().unreadRows(), [version, done]);
  if (!rows?.length) return null;
  return (
    <section
      aria-label="Could not be read"
      className="mx-4 mb-2 rounded-sm border border-lamp p-2 text-[13.5px]"
    >
      <h2 className="font-semibold">
        <span aria-hidden className="text-lamp">
          ◆{' '}
        </span>
        Could not be read
      </h2>
      {rows.map((row) => (
        <Entry
          key={row.id}
          row={row}
          opened={row.id === asked}
          title={`${nameOf(row.connection)}${now > 0 ? `, ${whenOf(row.at, now, zone)}` : ''}`}
          onDone={() => setDone((n) => n + 1)}
        />
      ))}
    </section>
  );
}

function Entry({
  row,
  title,
  opened,
  onDone,
}: {
  row: UnreadRow;
  title: string;
  opened: boolean;
  onDone: () => void;
}) {
  const came = JSON.stringify(row.plain, null, 2);
  const [text, setText] = useState(came);
  const [wrong, setWrong] = useState<string | null>(null);
  const after = async (doing: Promise<Said>, done: string) => {
    const said = await doing;
    if (!said.ok) return setWrong(said.reason);
    await say(done);
    onDone();
  };
  return (
    <details open={opened} className="mt-1 border-t border-rule-soft pt-1">
      <summary>
        {title}: {wrong ?? row.reason}
      </summary>
      <label className="mt-1 block text-xs text-muted">
        As it came; put right what is wrong
        <textarea
          value={text}
          onChange={(e) => setText(e.target.value)}
          rows={12}
          spellCheck={false}
          className="block w-full rounded-sm border border-edge bg-surface p-1.5 font-mono text-xs text-ink"
        />
      </label>
      <div className="mt-1 flex gap-2">
        <Button
          kind="main"
          onClick={() =>
            after(theShop().readAgain(row.id, text === came ? null : text), 'It was read and came in.')
          }
        >
          Read it again
        </Button>
        {text !== came && (
          <Button kind="text" onClick={() => setText(came)}>
            As it came
          </Button>
        )}
        <Button kind="text" onClick={() => after(theShop().setAside(row.id), 'Set aside.')}>
          Set aside
        </Button>
      </div>
    </details>
  );
}
