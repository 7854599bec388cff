import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** State in one JSON file, replaced whole and at once, so that a crash leaves the old or the new one. */
export function keeper<T>(file: string | null, fresh: () => T): { state: T; save: () => void } {
  const state = file && existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as T) : fresh();
  return {
    state,
    save: () => {
      if (!file) return;
      mkdirSync(dirname(file), { recursive: true });
      writeFileSync(`${file}.new`, JSON.stringify(state));
      renameSync(`${file}.new`, file);
    },
  };
}
