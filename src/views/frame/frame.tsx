'use client';
import dynamic from 'next/dynamic';
import { usePathname, useRouter } from 'next/navigation';
import { createContext, type ReactNode, useContext, useEffect, useRef, useState } from 'react';
import { Button } from '../../ui/button';
import { Loading } from '../../ui/loading';
import { redoLast, Said, undoLast } from '../../ui/said';
import { Alerts } from './alerts';
import { Course, STOPS } from './course';
import { StatusLine } from './status-line';
import { useTheme } from './theme';
import { useOpening, type World } from './world';

// The first view does not need them: they are loaded soon after it.
const Palette = dynamic(() => import('./palette').then((m) => m.Palette), { ssr: false });
const Help = dynamic(() => import('./help').then((m) => m.Help), { ssr: false });

/** Milliseconds after opening in which only what is seen is loaded. */
const SETTLED = 1_500;

const WorldContext = createContext<World | null>(null);
/** What can be connected; null until the server has said. */
export const useWorld = () => useContext(WorldContext);

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** Keys that work everywhere. In a field only those with Ctrl, and there undo belongs to the field. */
function useKeys(act: { commands: () => void; help: () => void }): void {
  const router = useRouter();
  const going = useRef(0);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const control = e.ctrlKey || e.metaKey;
      if (control && e.key.toLowerCase() === 'k') {
        e.preventDefault();
        act.commands();
      } else if (isTyping(e.target) && (e.target as HTMLInputElement).type !== 'checkbox') return;
      else if (control && e.key.toLowerCase() === 'z') {
        e.preventDefault();
        if (e.shiftKey) redoLast();
        else undoLast();
      } else if (control || e.altKey) return;
      else if (Date.now() - going.current < 1500 && (e.key === 'c' || STOPS.some((s) => s.key === e.key))) {
        going.current = 0;
        e.preventDefault();
        e.stopPropagation();
        router.push(e.key === 'c' ? '/connections' : STOPS.find((s) => s.key === e.key)!.path);
      } else if (e.key === 'g') going.current = Date.now();
      else if (e.key === '?') act.help();
      else if (e.key === '/') {
        const search = document.querySelector<HTMLInputElement>('[data-search]');
        if (!search) return;
        e.preventDefault();
        search.focus();
      }
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [act, router]);
}

/** What a view is called that is not there yet, by its address. */
function nameOfView(path: string): string {
  const stop = STOPS.find((s) => path.startsWith(s.path))?.name;
  return stop ?? (path.startsWith('/settings') ? 'Settings' : 'Connections');
}

/** The frame around every view: course, status line, commands, keys, messages. */
export function Frame({ children }: { children: ReactNode }) {
  const opening = useOpening();
  const path = usePathname();
  const [shown, setShown] = useState<'commands' | 'help' | null>(null);
  const act = useRef({ commands: () => setShown('commands'), help: () => setShown('help') });
  const [settled, setSettled] = useState(false);
  useEffect(() => {
    if (opening.state !== 'open') return;
    const timer = setTimeout(() => setSettled(true), SETTLED);
    return () => clearTimeout(timer);
  }, [opening.state]);
  useTheme();
  useKeys(act.current);
  return (
    <div className="flex h-screen flex-col overflow-hidden">
      <a href="#work" className="sr-only focus:not-sr-only">
        Skip to content
      </a>
      <Course onCommands={act.current.commands} onHelp={act.current.help} />
      <main id="work" tabIndex={-1} className="relative flex min-h-0 grow outline-none">
        {opening.state === 'open' ? (
          <WorldContext value={opening.world}>{children}</WorldContext>
        ) : opening.state === 'opening' ? (
          <Loading name={nameOfView(path)} what={opening.says} />
        ) : (
          <div className="m-auto max-w-md p-6 text-center">
            <p role="alert">
              {opening.state === 'failed'
                ? `The shop cannot be opened: ${opening.says} Reload to try again; nothing is lost.`
                : opening.says}
            </p>
            {opening.state === 'lost' && (
              <p className="mt-3">
                <Button kind="main" onClick={() => window.location.reload()}>
                  Reload
                </Button>
              </p>
            )}
          </div>
        )}
      </main>
      <StatusLine />
      <Alerts />
      {(settled || shown !== null) && (
        <>
          <Palette open={shown === 'commands'} onClose={() => setShown(null)} onHelp={act.current.help} />
          <Help open={shown === 'help'} onClose={() => setShown(null)} />
        </>
      )}
      <Said />
    </div>
  );
}
