'use client';
import { useSyncExternalStore } from 'react';

type Tell<T> = (next: T) => void;

/**
 * What is told again and again, followed by all that show it: watched once for the tab, from the first who asks on.
 * @param nothing what stands there until it was told for the first time
 * @param watch begins to tell; what goes wrong later is thrown where it is shown
 */
export function followed<T>(nothing: T, watch: (tell: Tell<T>, fail: Tell<unknown>) => unknown): () => T {
  let now = nothing;
  let failed: { readonly error: unknown } | null = null;
  let watching = false;
  const listeners = new Set<() => void>();
  const tellAll = () => {
    for (const one of listeners) one();
  };
  const subscribe = (listener: () => void) => {
    listeners.add(listener);
    if (!watching) {
      watching = true;
      watch(
        (next) => {
          now = next;
          tellAll();
        },
        (error) => {
          failed = { error };
          tellAll();
        },
      );
    }
    return () => listeners.delete(listener);
  };
  return () => {
    const shown = useSyncExternalStore(
      subscribe,
      () => failed ?? now,
      () => nothing,
    );
    if (shown !== null && shown === failed) throw failed.error;
    return shown as T;
  };
}
