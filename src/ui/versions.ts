'use client';
import { proxy } from 'comlink';
import { useSyncExternalStore } from 'react';
import { theShop } from '../work/clients';

type Tell<T> = (next: T) => void;

/** What the worker tells again and again, followed by whoever shows it: asked for once, however many do. */
export function followed<T>(nothing: T, watch: (tell: Tell<T>) => unknown): () => T {
  let now = nothing;
  let watching = false;
  const listeners = new Set<() => void>();
  const subscribe = (listener: () => void) => {
    listeners.add(listener);
    if (!watching) {
      watching = true;
      watch(
        proxy((next: T) => {
          now = next;
          for (const one of listeners) one();
        }),
      );
    }
    return () => listeners.delete(listener);
  };
  return () =>
    useSyncExternalStore(
      subscribe,
      () => now,
      () => nothing,
    );
}

/** Grows whenever what Source shows may have changed; 0 until the worker looked for the first time. */
export const useSourceVersion = followed(0, (tell) => theShop().watchSource(tell));

/** Grows whenever a listing, or what one is made of, changed; 0 until the shop was read. */
export const useListingsVersion = followed(0, (tell) => theShop().watchListings(tell));

/** Grows whenever an order or its account changed; 0 until the orders were read. */
export const useOrdersVersion = followed(0, (tell) => theShop().watchOrders(tell));
