'use client';
import { proxy } from 'comlink';
import { useSyncExternalStore } from 'react';
import { theShop } from '../work/clients';

let version = 0;
let watching = false;
const listeners = new Set<() => void>();

/**
 * A number that grows whenever what Source shows may have changed; 0 until the worker looked for the first
 * time.
 */
export function useSourceVersion(): number {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      if (!watching) {
        watching = true;
        theShop().watchSource(
          proxy((next: number) => {
            version = next;
            for (const one of listeners) one();
          }),
        );
      }
      return () => listeners.delete(tell);
    },
    () => version,
    () => 0,
  );
}
