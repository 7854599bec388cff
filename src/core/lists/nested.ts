/** Nested records (JSON, XML) made flat: one column for each path that leads to a value. */

/** Levels that are followed; deeper ones are left out. */
const DEEPEST = 12;
/** One more than a list may have, so that a wider one is seen to be so. */
const MOST_COLUMNS = 501;
const HOSTILE = new Set(['__proto__', 'constructor', 'prototype']);

/** Plain text of a value that is not a list or an object. */
const textOf = (value: unknown): string =>
  value === null || value === undefined ? '' : typeof value === 'string' ? value : String(value);

/**
 * Adds the values of one record to `into`, by path: `price/net`, `images/0` of a list; a list of plain texts
 * stands joined in one column. Names that could reach into an object's making are left out.
 */
export function flatten(record: unknown, into: Map<string, string>, path = '', depth = 0): void {
  if (depth > DEEPEST || into.size >= MOST_COLUMNS) return;
  if (Array.isArray(record)) {
    if (record.every((v) => typeof v !== 'object' || v === null))
      into.set(path, record.map(textOf).join('|'));
    else
      for (const [i, v] of record.slice(0, 6).entries())
        flatten(v, into, path ? `${path}/${i + 1}` : String(i + 1), depth + 1);
  } else if (typeof record === 'object' && record !== null) {
    for (const name of Object.keys(record)) {
      if (HOSTILE.has(name)) continue;
      flatten((record as Record<string, unknown>)[name], into, path ? `${path}/${name}` : name, depth + 1);
    }
  } else into.set(path || 'value', textOf(record));
}

/** A list of records inside nested data: where it is, how many there are, and the first of them. */
export interface Repeating {
  readonly path: string;
  readonly count: number;
}

/** Every list of objects within nested data, the longest first. */
export function repeatingIn(data: unknown): Repeating[] {
  const found: Repeating[] = [];
  const look = (value: unknown, path: string, depth: number) => {
    if (depth > DEEPEST || found.length > 50) return;
    if (Array.isArray(value)) {
      if (value.some((v) => typeof v === 'object' && v !== null && !Array.isArray(v)))
        found.push({ path, count: value.length });
      const first = value.find((v) => typeof v === 'object' && v !== null);
      if (first) look(first, path ? `${path}/1` : '1', depth + 1);
    } else if (typeof value === 'object' && value !== null) {
      for (const name of Object.keys(value))
        if (!HOSTILE.has(name))
          look((value as Record<string, unknown>)[name], path ? `${path}/${name}` : name, depth + 1);
    }
  };
  look(data, '', 0);
  return found.filter((r) => !/(^|\/)1(\/|$)/.test(r.path)).sort((a, b) => b.count - a.count);
}

/** The list at a path, or null where there is none. */
export function listAt(data: unknown, path: string): unknown[] | null {
  let at = data;
  for (const name of path ? path.split('/') : []) {
    if (typeof at !== 'object' || at === null || HOSTILE.has(name) || !Object.hasOwn(at, name)) return null;
    at = (at as Record<string, unknown>)[name];
  }
  return Array.isArray(at) ? at : null;
}

/** Records as rows under one header: the paths of the first `sample` records, in the order they came. */
export function headerOf(records: readonly ReadonlyMap<string, string>[]): string[] {
  const names = new Set<string>();
  for (const record of records)
    for (const name of record.keys()) if (names.size < MOST_COLUMNS) names.add(name);
  return [...names];
}

export const cellsOf = (record: ReadonlyMap<string, string>, header: readonly string[]): string[] =>
  header.map((name) => record.get(name) ?? '');
