import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** Milliseconds after a change until it is written: changes come in bursts. */
const SOON = 1_000;
/** A large state takes long to write: at most this share of the time goes to it, so that requests are answered. */
const SHARE = 1 / 20;

/**
 * State in one JSON file, replaced whole and at once, so that a crash leaves the old or the new one. What changed is
 * written a moment later, and when the process ends.
 */
export function keeper<T>(
  file: string | null,
  fresh: () => T,
): { readonly state: T; readonly save: () => void; readonly flush: () => void } {
  const state = file && existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as T) : fresh();
  let waiting: NodeJS.Timeout | null = null;
  let took = 0;
  const flush = () => {
    if (!waiting || !file) return;
    clearTimeout(waiting);
    waiting = null;
    const begun = performance.now();
    mkdirSync(dirname(file), { recursive: true });
    writeFileSync(`${file}.new`, JSON.stringify(state));
    renameSync(`${file}.new`, file);
    took = performance.now() - begun;
  };
  if (file) process.once('exit', flush);
  return {
    state,
    save: () => {
      if (file) waiting ??= setTimeout(flush, Math.max(SOON, took / SHARE));
    },
    flush,
  };
}
