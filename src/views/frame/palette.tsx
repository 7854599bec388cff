'use client';
import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogPanel,
} from '@headlessui/react';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { fold } from '../../core/copy';
import { useFeedOrWhy } from '../../ui/asked';
import { pageCommands } from '../../ui/commands';
import { redoLast, say, undoLast } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import { TASKS } from '../../work/schedule/job';
import { STOPS } from './course';
import { setTheme } from './theme';

interface Command {
  readonly name: string;
  readonly keys?: string;
  readonly run: () => void;
}

/** Everything that can be done from anywhere, found by typing. Orders and SKUs are found too. */
export function Palette({
  open,
  onClose,
  onHelp,
}: {
  open: boolean;
  onClose: () => void;
  onHelp: () => void;
}) {
  const router = useRouter();
  const [query, setQuery] = useState('');
  const running = useFeedOrWhy('running').told;
  const last = useFeedOrWhy('undoNext').told;
  const commands: Command[] = [
    ...(open ? pageCommands() : []),
    ...STOPS.map((s) => ({ name: `Go to ${s.name}`, keys: `g ${s.key}`, run: () => router.push(s.path) })),
    { name: 'Go to Settings', keys: 'g ,', run: () => router.push('/settings') },
    { name: 'Go to Connections', keys: 'g c', run: () => router.push('/connections') },
    { name: 'Go to Price lists', run: () => router.push('/source/lists') },
    { name: 'Go to Groups', run: () => router.push('/listings/groups') },
    { name: 'Go to Feeds', run: () => router.push('/listings/feeds') },
    { name: 'Bring in a shop', run: () => router.push('/listings/bring-in') },
    ...(running?.jobs ?? []).map((j) => {
      const of = running?.connections.get(j.subject)?.name ?? running?.feeds.get(j.subject);
      const name = `${TASKS[j.task].does}${of ? `, ${of}` : ''}`;
      return {
        name,
        run: async () => {
          await theShop().runNow(j.id);
          await say(`Begun: ${name}.`);
        },
      };
    }),
    {
      name: last?.undoable ? `Undo “${last.name}”` : 'Undo the last change',
      keys: 'Ctrl Z',
      run: () => undoLast(),
    },
    { name: 'Redo what was undone', keys: 'Ctrl Shift Z', run: () => redoLast() },
    { name: 'Light theme', run: () => setTheme('light') },
    { name: 'Dark theme', run: () => setTheme('dark') },
    { name: 'Theme of the system', run: () => setTheme('system') },
    { name: 'Keys and help', keys: '?', run: onHelp },
  ];
  const words = fold(query).split(/\s+/).filter(Boolean);
  const found = commands.filter((c) => words.every((w) => fold(c.name).includes(w)));
  const term = query.trim();
  if (term) {
    for (const [name, path] of [
      ['orders', '/orders'],
      ['listings', '/listings'],
      ['the catalogue', '/source'],
    ] as const) {
      found.push({
        name: `Search ${name} for “${term}”`,
        run: () => router.push(`${path}?q=${encodeURIComponent(term)}`),
      });
    }
  }
  const close = () => {
    setQuery('');
    onClose();
  };
  const choose = (command: Command) => {
    close();
    command.run();
  };
  return (
    <Dialog open={open} onClose={close} className="relative z-50">
      <div aria-hidden className="fixed inset-0 bg-black/30" />
      <DialogPanel className="fixed top-[12vh] left-1/2 w-[560px] max-w-[94vw] -translate-x-1/2 rounded-sm border border-rule bg-surface shadow-lg">
        <h2 className="sr-only">Commands</h2>
        <Combobox<Command> immediate onChange={(command) => command && choose(command)}>
          {({ activeOption }) => (
            <>
              <ComboboxInput
                autoFocus
                aria-label="Command"
                placeholder="Type a command, an order or a SKU"
                className="w-full border-b border-rule bg-transparent px-4 py-3 outline-none placeholder:text-muted"
                onChange={(e) => setQuery(e.target.value)}
                onKeyDown={(e) => {
                  if (e.key !== 'Enter' || e.nativeEvent.isComposing) return;
                  // Who types fast is ahead of the list: what was marked before may not be found any more.
                  e.preventDefault();
                  const marked = found.find((c) => c.name === activeOption?.name);
                  // Where nothing was typed nothing is meant but what is marked.
                  const chosen = marked ?? (term ? found[0] : undefined);
                  if (chosen) choose(chosen);
                }}
              />
              <ComboboxOptions static className="max-h-[50vh] overflow-auto p-1.5">
                {found.map((command) => (
                  <ComboboxOption
                    key={command.name}
                    value={command}
                    className="flex cursor-default rounded-sm px-2.5 py-1.5 data-focus:bg-river-soft"
                  >
                    <span className="grow">{command.name}</span>
                    {command.keys && <kbd className="font-mono text-xs text-muted">{command.keys}</kbd>}
                  </ComboboxOption>
                ))}
              </ComboboxOptions>
            </>
          )}
        </Combobox>
      </DialogPanel>
    </Dialog>
  );
}
