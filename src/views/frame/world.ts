'use client';
import { proxy } from 'comlink';
import { useEffect, useState } from 'react';
import { useFeed, useFeedOrWhy } from '../../ui/asked';
import type { Service } from '../../work/connections/connections';
import { failureInWords } from '../../work/context/failure';
import { letGoWhenLeft, openShop, startRunner, theShop } from '../../work/desk/client';
import type { Course } from '../../work/overview/course';

export interface World {
  readonly services: readonly Service[];
  readonly standIns: boolean;
}

export type Opening =
  | { state: 'opening'; says: string }
  /** `world` is null until the server has said what can be connected. */
  | { state: 'open'; world: World | null }
  | { state: 'failed' | 'lost'; says: string };

let listening = false;

/** This tab's own name: it stays when the page is loaded anew. */
function tabOf(): string {
  const known = sessionStorage.getItem('sampan-tab');
  const tab = known ?? crypto.randomUUID();
  sessionStorage.setItem('sampan-tab', tab);
  return tab;
}

/**
 * Opens the shop in this browser: what can be connected, the demo's past where there is one and nothing
 * stands yet, then the workers.
 */
export function useOpening(): Opening {
  const [opening, setOpening] = useState<Opening>({ state: 'opening', says: 'Opening the shop …' });
  useEffect(() => {
    let left = false;
    if (!listening) letGoWhenLeft();
    listening = true;
    const open = async () => {
      const tab = tabOf();
      // Today shows the counts themselves.
      const rows = !/^\/(today)?$/.test(window.location.pathname);
      const known = await theShop().hasShop();
      if (known) {
        await openShop(tab, rows);
        if (!left) setOpening({ state: 'open', world: null });
      }
      const answer = await fetch('/api/services');
      if (!answer.ok) throw new Error(`Sampan’s server answered ${answer.status}.`);
      const { services, recorded, standIns } = (await answer.json()) as World & { recorded: number };
      if (recorded && !known) {
        const says = (share: number) => {
          const far = share > 0 ? `, ${share} %` : '';
          if (!left) setOpening({ state: 'opening', says: `Loading the demo’s history${far} …` });
        };
        says(0);
        await theShop().loadPast(recorded, proxy(says));
      }
      await openShop(tab, rows, Intl.DateTimeFormat().resolvedOptions().timeZone);
      void startRunner();
      if (left) return;
      setOpening({ state: 'open', world: { services, standIns } });
      await theShop().watchForLoss(proxy((says: string) => !left && setOpening({ state: 'lost', says })));
    };
    open().catch((error) => {
      if (!left) setOpening({ state: 'failed', says: failureInWords(error) });
    });
    return () => {
      left = true;
    };
  }, []);
  return opening;
}

/** Counts and needs along the course, told by the worker; null until the first are there. */
export const useCourse = (): Course | null => useFeed('course') ?? null;

/** As {@link useCourse}, for the frame around the views; with the reason where it cannot be told. */
export function useCourseOrWhy(): { readonly course: Course | null; readonly why: string | null } {
  const { told, error } = useFeedOrWhy('course');
  return { course: told ?? null, why: error && failureInWords(error) };
}
