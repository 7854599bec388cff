import { type Remote, wrap } from 'comlink';
import type { DeskApi } from './desk.worker';

let desk: Remote<DeskApi> | null = null;

/** This tab's worker for everything that looks at many items. */
export function theDesk(): Remote<DeskApi> {
  desk ??= wrap<DeskApi>(new Worker(new URL('./desk.worker.ts', import.meta.url), { type: 'module' }));
  return desk;
}

let started = false;

/** Starts this tab's runner; it works only while it holds the lock. */
export function startRunner(): void {
  if (started) return;
  started = true;
  new Worker(new URL('./runner.worker.ts', import.meta.url), { type: 'module' });
}
