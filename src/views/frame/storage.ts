import { useEffect, useState } from 'react';
import { work } from '../../work/browser';

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
    work.db.connections.count().then((n) => n && ask());
    const timer = setInterval(look, LOOK_AGAIN);
    return () => clearInterval(timer);
  }, []);
  return [storage, ask];
}

const WATCH = 5_000;
const TRIES = 4;

/**
 * Tells when the shop is no longer there under an open tab: storage was cleared, or another version of Sampan
 * took it over.
 */
export function watchForLoss(tell: (says: string) => void): () => void {
  const { db } = work;
  let over = false;
  const lost = (says: string) => {
    if (over) return;
    over = true;
    clearInterval(timer);
    tell(says);
  };
  const look = async (tries = TRIES) => {
    if (over) return;
    try {
      if (!(await db.settings.get('shop')))
        lost(
          'The storage of this browser was cleared while Sampan was open: what the shop held is gone from here.',
        );
    } catch (error) {
      // A database that is being closed may open again, and then shows what became of it.
      if (tries > 1) setTimeout(() => look(tries - 1), 500);
      else
        lost(
          `The storage of this browser cannot be read any more: ${error instanceof Error ? error.message : String(error)}`,
        );
    }
  };
  const onClose = () => {
    look();
  };
  const onVersion = () => lost('Another tab opened the shop with a newer version of Sampan, or deleted it.');
  db.on('close', onClose);
  db.on('versionchange', onVersion);
  const timer = setInterval(onClose, WATCH);
  return () => {
    over = true;
    clearInterval(timer);
    db.on('close').unsubscribe(onClose);
    db.on('versionchange').unsubscribe(onVersion);
  };
}
