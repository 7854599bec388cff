'use client';
import { useEffect, useRef } from 'react';

/** Something that can be done on the page, found by typing its name. */
export interface PageCommand {
  readonly name: string;
  readonly run: () => void;
}

const pages = new Set<() => readonly PageCommand[]>();

/** What can be done on the page that is shown now. */
export const pageCommands = (): readonly PageCommand[] => [...pages].flatMap((commands) => commands());

/** Offers what a view can do in the command palette for as long as the view is there; null for what cannot be done now. */
export function PageCommands({ commands }: { commands: readonly (PageCommand | null | false)[] }): null {
  const now = useRef(commands);
  useEffect(() => {
    now.current = commands;
  });
  useEffect(() => {
    const own = () => now.current.filter((c) => c !== null && c !== false);
    pages.add(own);
    return () => {
      pages.delete(own);
    };
  }, []);
  return null;
}
