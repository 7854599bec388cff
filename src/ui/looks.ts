import { useCallback, useRef, useState } from 'react';
import type { ListKind } from '../core/lists';
import { askLists } from '../work/desk/client';
import type { Inspected } from '../work/readings/dropped-lists';

/** A file that waits to be looked at, and for whom. */
export interface Waiting<Owner> {
  readonly owner: Owner;
  readonly file: Blob;
  readonly name: string;
}

interface Looks<Owner> {
  /** What is being looked at. */
  readonly looking: Waiting<Owner> | null;
  /** What of the last file was wrong. */
  readonly wrong: { readonly owner: Owner; readonly says: string } | null;
  add(files: readonly Waiting<Owner>[]): void;
  /** Goes on with the next file: the one before is done with. */
  next(): void;
  stop(): void;
  tell(owner: Owner, says: string): void;
}

/**
 * Looks at dropped files one after the other; each look can be stopped at once.
 * @param onSeen hears of each file that can be read; gives back whether it is done with, so that the next
 *   one follows
 */
export function useLooks<Owner extends { readonly id: string; readonly currency: string }>(
  onSeen: (owner: Owner, seen: Inspected) => Promise<boolean>,
  kind?: ListKind,
): Looks<Owner> {
  const [looking, setLooking] = useState<Waiting<Owner> | null>(null);
  const [wrong, setWrong] = useState<Looks<Owner>['wrong']>(null);
  const queue = useRef<Waiting<Owner>[]>([]);
  const busy = useRef<AbortController | null>(null);
  const seen = useRef(onSeen);
  seen.current = onSeen;
  const next = useCallback(async () => {
    if (busy.current) return;
    for (let first = queue.current.shift(); first; first = queue.current.shift()) {
      const { owner, file, name } = first;
      busy.current = new AbortController();
      setLooking(first);
      const of = { id: owner.id, currency: owner.currency };
      const found = await askLists((lists) => lists.inspect(of, file, name, kind), busy.current.signal);
      busy.current = null;
      setLooking(null);
      if (!found.ok) setWrong({ owner, says: `${name}: ${found.reason}` });
      else if (!(await seen.current(owner, found.value))) return;
    }
  }, [kind]);
  return {
    looking,
    wrong,
    add: (files) => {
      setWrong(null);
      queue.current.push(...files);
      next();
    },
    next,
    stop: () => {
      queue.current = [];
      busy.current?.abort();
    },
    tell: (owner, says) => setWrong({ owner, says }),
  };
}
