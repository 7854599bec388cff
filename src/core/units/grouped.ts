/** Things by a key of theirs, in their order. */
export function grouped<T, K>(all: Iterable<T>, keyOf: (one: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const one of all) {
    const key = keyOf(one);
    const own = groups.get(key);
    if (own) own.push(one);
    else groups.set(key, [one]);
  }
  return groups;
}
