/** A possible value of a field, with its meaning. */
export interface Completable {
  readonly example: string;
  readonly means: string;
}

export interface Completion {
  /** Replaces the typed text. */
  readonly typed: string;
  readonly means: string;
  /** Nothing is left to type: it is a flag, not a field that waits for its value. */
  readonly whole: boolean;
}

const MOST = 8;

/** What a field, or a flag of one, is typed as. */
const FIELD = /^([\p{L}][\p{L}\d-]*:)(.*)$/u;

/**
 * What the beginning of a term may become: fields whose names begin so, and flags once their field stands there.
 * @param typed the term so far; signs before it, such as `-` or a bracket, stay
 * @param fields each with an example: `cost:5..20`, `is:live`
 */
export function completionsOf(typed: string, fields: readonly Completable[]): Completion[] {
  const [, before = '', begun = ''] = /^([-(]*)(\S*)$/.exec(typed) ?? [];
  const low = begun.toLowerCase();
  if (low.length < 2) return [];
  const found = new Map<string, Completion>();
  const names = new Map<string, number>();
  for (const { example } of fields) {
    const name = FIELD.exec(example)?.[1];
    if (name) names.set(name, (names.get(name) ?? 0) + 1);
  }
  for (const { example, means } of fields) {
    const [, name, value] = FIELD.exec(example) ?? [];
    if (!name || !value) continue;
    // A field of several examples has flags: its name first, then each of them.
    const isFlag = names.get(name)! > 1;
    if (isFlag && low.startsWith(name) && example.startsWith(low) && example !== low)
      found.set(example, { typed: before + example, means, whole: true });
    else if (name.startsWith(low) && name !== low && !found.has(name))
      found.set(name, { typed: before + name, means: isFlag ? 'one of several' : means, whole: false });
  }
  return [...found.values()].slice(0, MOST);
}
