'use client';
import * as Toast from '@radix-ui/react-toast';
import { useSyncExternalStore } from 'react';
import { work } from '../work/browser';
import { theShop } from '../work/clients';
import { lastUndoable } from '../work/shop/history';
import { Button } from './button';

interface Message {
  readonly id: number;
  readonly text: string;
  readonly tone: 'well' | 'wrong';
  readonly change: string | null;
}

let messages: readonly Message[] = [];
let count = 0;
const listeners = new Set<() => void>();
const set = (next: readonly Message[]) => {
  messages = next;
  for (const tell of listeners) tell();
};

/**
 * Says in the corner what was done, with Undo beside it when the last change can be taken back. Errors stay
 * until they are closed.
 */
export async function say(text: string, options: { undo?: boolean; wrong?: boolean } = {}): Promise<void> {
  const change = options.undo ? ((await lastUndoable(work.db))?.id ?? null) : null;
  const id = ++count;
  set([...messages.slice(-2), { id, text, tone: options.wrong ? 'wrong' : 'well', change }]);
}

/** Takes the last change back that a person made. */
export async function undoLast(id?: string): Promise<void> {
  const change = id ? { id } : await lastUndoable(work.db);
  if (!change) return say('Nothing to undo.');
  const undone = await theShop().undo(change.id);
  set(messages.filter((m) => m.change !== change.id));
  if (undone.ok)
    await say(`Undone: ${undone.name}${undone.kept ? `. ${undone.kept} rows changed since then stay` : ''}.`);
  else await say(undone.reason, { wrong: true });
}

/** Milliseconds that a message stays; one that something went wrong stays until it is closed. */
const STAYS = 8_000;

export function Said() {
  const now = useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => messages,
    () => messages,
  );
  return (
    <Toast.Provider label="Message" duration={STAYS} swipeDirection="down">
      {now.map((m) => (
        <Toast.Root
          key={m.id}
          type={m.tone === 'wrong' ? 'foreground' : 'background'}
          duration={m.tone === 'wrong' ? Number.POSITIVE_INFINITY : STAYS}
          onOpenChange={(open) => !open && set(messages.filter((one) => one.id !== m.id))}
          className={`flex items-center gap-3 rounded-sm border px-3 py-2 text-[13.5px] shadow-md ${m.tone === 'wrong' ? 'border-loss bg-loss-soft' : 'border-rule bg-surface'}`}
        >
          <Toast.Description>{m.text}</Toast.Description>
          {m.change && (
            <Toast.Action asChild altText="Undo with Ctrl Z">
              <Button kind="text" onClick={() => undoLast(m.change ?? undefined)}>
                Undo
              </Button>
            </Toast.Action>
          )}
          <Toast.Close asChild>
            <Button kind="text" aria-label="Close message">
              Close
            </Button>
          </Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport
        label="Messages ({hotkey})"
        className="fixed bottom-9 left-1/2 z-50 flex -translate-x-1/2 flex-col gap-2"
      />
    </Toast.Provider>
  );
}
