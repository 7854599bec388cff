'use client';
import { useState } from 'react';
import type { Watched } from '../../../core/forwarding';
import { Button } from '../../../ui/button';

const FIELD = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5';

/** Buyers to whom nothing is sold unseen, by their mail addresses. */
export function WatchList({
  watched,
  onChange,
}: {
  watched: readonly Watched[];
  onChange: (watched: readonly Watched[]) => void;
}) {
  const [email, setEmail] = useState('');
  const [why, setWhy] = useState('');
  const mail = email.trim().toLowerCase();
  const wrong = mail !== '' && !/^[^\s@]+@[^\s@]+$/.test(mail);
  return (
    <details className="mt-2 text-[13.5px]">
      <summary className="text-muted">Buyers on the watch list: {watched.length}</summary>
      <ul className="mt-1">
        {watched.map((one) => (
          <li key={one.email} className="flex items-center gap-2">
            <span className="grow">
              {one.email} <span className="text-muted">{one.why}</span>
            </span>
            <Button kind="text" onClick={() => onChange(watched.filter((w) => w !== one))}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="mt-1 flex flex-wrap gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (!mail || wrong) return;
          onChange([...watched.filter((w) => w.email !== mail), { email: mail, why: why.trim() }]);
          setEmail('');
          setWhy('');
        }}
      >
        <input
          aria-label="Mail address of the buyer"
          aria-invalid={wrong}
          placeholder="mail address"
          value={email}
          onChange={(e) => setEmail(e.target.value)}
          className={`${FIELD} w-56`}
        />
        <input
          aria-label="Why"
          placeholder="why"
          value={why}
          onChange={(e) => setWhy(e.target.value.slice(0, 200))}
          className={`${FIELD} w-56`}
        />
        <Button type="submit" disabled={!mail || wrong}>
          Add
        </Button>
        {wrong && <span className="text-xs text-loss">This is not a mail address.</span>}
      </form>
    </details>
  );
}
