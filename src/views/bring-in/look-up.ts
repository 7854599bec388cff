'use client';
import { useCallback, useRef, useState } from 'react';
import { countOf, formatCount } from '../../core/units';
import { say } from '../../ui/said';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';

/** Looks up supplier items for all that is not linked, once at a time; `doing` says what goes on. */
export function useLookUp() {
  const [doing, setDoing] = useState<string | null>(null);
  const busy = useRef(false);
  const findAll = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    setDoing('Looking for the supplier items …');
    try {
      const { looked, sure, took } = await theShop().findLinks();
      setDoing(null);
      await say(
        `${countOf(looked, 'listing')} looked up in ${(took / 1000).toFixed(1)} s: ${formatCount(sure)} sure.`,
      );
    } catch (error) {
      setDoing(null);
      await say(`The look-up failed: ${failureInWords(error)}`, {
        wrong: true,
      });
    }
    busy.current = false;
  }, []);
  return { doing, setDoing, findAll };
}
