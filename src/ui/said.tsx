'use client';
import * as Toast from '@radix-ui/react-toast';
import { useEffect, useSyncExternalStore } from 'react';
import { countOf, whenOf } from '../core/units';
import { failureInWords } from '../work/context/failure';
import { madeLast, theShop } from '../work/desk/client';
import type { Change } from '../work/model';
import { Button } from './button';
import { localZone } from './local-zone';

interface Message {
  readonly id: number;
  readonly text: string;
  readonly tone: 'well' | 'wrong';
  /** The change that a button beside it takes back, and what the button says. */
  readonly change: string | null;
  readonly verb: string;
  /** Something else that can be done about it. */
  readonly act?: { readonly verb: string; readonly run: () => void };
}

let messages: readonly Message[] = [];
let count = 0;
const listeners = new Set<() => void>();
const set = (next: readonly Message[]) => {
  messages = next;
  for (const tell of listeners) tell();
};

/**
 * Says in the corner what was done. Errors stay until they are closed.
 * @param options.undo offers to take back the change of the act that was answered right before; nothing where it made none
 */
export async function say(text: string, options: { undo?: boolean; wrong?: boolean } = {}): Promise<void> {
  show(text, options.wrong ? 'wrong' : 'well', options.undo ? madeLast() : null);
}

function show(text: string, tone: Message['tone'], change: string | null = null, verb = 'Undo'): void {
  set([...messages.slice(-2), { id: ++count, text, tone, change, verb }]);
}

/** Asks before something is done: it is done by the button beside the question alone. */
export function ask(question: string, verb: string, run: () => void): void {
  set([
    ...messages.slice(-2),
    { id: ++count, text: question, tone: 'wrong', change: null, verb: '', act: { verb, run } },
  ]);
}

/** A change older than this is named before it is taken back: one may have forgotten it. */
const FRESH = 120_000;

/** The change that was asked about: asked for once more, it is taken back. */
let asked: string | null = null;

/** Takes the last change back that was made in this tab; an older one is named first, and taken back when asked again. */
export async function undoLast(): Promise<void> {
  const change = await theShop().lastUndoable();
  if (!change) return show('Nothing to undo: nothing was changed in this tab.', 'well');
  if (!change.undoable)
    return show(
      `“${change.name}” cannot be undone: it was told to the outside. What you did before it can be undone from the history on Today.`,
      'wrong',
    );
  if (Date.now() - change.at > FRESH && asked !== change.id) {
    asked = change.id;
    return show(
      `Undo “${change.name}”, ${when(change)}? Press Ctrl Z once more.`,
      'well',
      change.id,
      'Undo it',
    );
  }
  await takeBack(change.id);
}

const when = ({ at }: Change) => whenOf(at, Date.now(), localZone());

/** Does again what was undone last in this tab. */
export async function redoLast(): Promise<void> {
  const change = await theShop().lastRedoable();
  if (!change) return show('Nothing to redo.', 'well');
  await takeBack(change.id);
}

/** Takes a change back, wherever it was made, and says what was taken back; of an undo, does it again. */
export async function takeBack(id: string): Promise<void> {
  asked = null;
  const undone = await theShop().undo(id);
  set(messages.filter((m) => m.change !== id));
  if (!undone.ok) return show(undone.reason, 'wrong');
  const kept = undone.kept
    ? ` ${countOf(undone.kept, 'row')} changed since then ${undone.kept === 1 ? 'stays' : 'stay'}.`
    : '';
  const next = undone.redone ? undefined : await theShop().lastRedoable();
  show(
    `${undone.redone ? 'Done again' : 'Undone'}: ${undone.name}.${kept}`,
    'well',
    next?.id ?? null,
    'Redo',
  );
}

/** Milliseconds that a message stays; one that something went wrong stays until it is closed. */
const STAYS = 8_000;

export function Said() {
  // What an act was asked for and nobody waited for is told here: nothing fails without a word.
  useEffect(() => {
    const onFailure = (event: PromiseRejectionEvent) => show(failureInWords(event.reason), 'wrong');
    window.addEventListener('unhandledrejection', onFailure);
    return () => window.removeEventListener('unhandledrejection', onFailure);
  }, []);
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
            <Toast.Action asChild altText={m.verb === 'Redo' ? 'Redo with Ctrl Shift Z' : 'Undo with Ctrl Z'}>
              <Button kind="text" onClick={() => m.change && takeBack(m.change)}>
                {m.verb}
              </Button>
            </Toast.Action>
          )}
          {m.act && (
            <Toast.Action asChild altText={m.act.verb}>
              <Button onClick={m.act.run}>{m.act.verb}</Button>
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
