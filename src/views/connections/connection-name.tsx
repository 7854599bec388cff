'use client';
import { useState } from 'react';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { Connection } from '../../work/model';

/** What a connection is called here; one by a service can be given a name of the seller's own. */
export function ConnectionName({ connection: { id, name, role, service } }: { connection: Connection }) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState('');
  const close = () => {
    setTyped(null);
    setWrong('');
  };
  const save = async () => {
    const done = await theShop().renameConnection(id, typed ?? '');
    if (!done.ok) return setWrong(done.reason);
    close();
    await say(`It is called ${done.name} from now on.`, { undo: true });
  };
  if (typed === null)
    return (
      <h2 className="font-semibold">
        {name} <span className="text-xs font-normal text-muted">{role}</span>
        {service && (
          <Button
            kind="text"
            className="-my-1 text-xs"
            aria-label={`Rename ${name}`}
            onClick={() => setTyped(name)}
          >
            Rename
          </Button>
        )}
      </h2>
    );
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
      onKeyDown={(e) => e.key === 'Escape' && close()}
    >
      <input
        aria-label={`Name of ${name}`}
        // biome-ignore lint/a11y/noAutofocus: it was asked for
        autoFocus
        value={typed}
        maxLength={80}
        aria-invalid={wrong !== ''}
        onChange={(e) => setTyped(e.target.value)}
        className="w-56 rounded-sm border border-edge bg-surface px-1.5 py-0.5 font-semibold"
      />
      <Button kind="main" type="submit">
        Save
      </Button>
      <Button onClick={close}>Cancel</Button>
      {wrong && (
        <p role="alert" className="w-full text-[13px] text-loss">
          {wrong}
        </p>
      )}
    </form>
  );
}
