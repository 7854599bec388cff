import { useEffect, useState } from 'react';
import { useFeedOrWhy } from '../../ui/asked';

/**
 * How this browser holds the shop: for good, or so that it may be cleared when room runs out; and how much
 * that is.
 */
export interface Storage {
  readonly kept: boolean;
  readonly bytes: number | null;
}

const LOOK_AGAIN = 60_000;

/**
 * Follows how storage stands, and asks for it to be kept once there is something to keep. Nothing waits for
 * the answer: some browsers ask their owner first.
 * @returns how it stands, null where the browser does not tell; and a way to ask again
 */
export function useStorage(): [Storage | null, () => void] {
  const [storage, setStorage] = useState<Storage | null>(null);
  const shop = useFeedOrWhy('terms').told;
  const look = async () => {
    const { storage: held } = navigator;
    if (!held?.persisted) return;
    const kept = await held.persisted();
    const bytes = (await held.estimate?.())?.usage ?? null;
    setStorage((before) => (before?.kept === kept && before.bytes === bytes ? before : { kept, bytes }));
  };
  const ask = () => {
    navigator.storage?.persist?.().then(look, () => {});
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: both look at the browser alone
  useEffect(() => {
    look();
    const timer = setInterval(look, LOOK_AGAIN);
    return () => clearInterval(timer);
  }, []);
  const something = (shop?.connections.size ?? 0) > 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked once, when there is something to keep
  useEffect(() => {
    if (something) ask();
  }, [something]);
  return [storage, ask];
}
