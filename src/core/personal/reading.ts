import type { BuyerField } from './fields';
import { comparable, settable } from './words';

/** What a buyer said, by the field's id. Days as ISO 8601 writes them or as they came, pictures as ids of their files. */
export type Values = Readonly<Record<string, string>>;

/** A buyer's words, read into fields. */
export interface ReadWords {
  readonly values: Values;
  /** What belongs to no field; '' for nothing. */
  readonly left: string;
}

type Named = Pick<BuyerField, 'id' | 'name'> & {
  readonly kind?: BuyerField['kind'];
  readonly required?: boolean;
};

const NAME_AND_VALUE = /^([^:=]{1,60})[:=]\s*(.*)$/;

/** Rows such as `Name: Ida`; one that begins with a space goes on with the one before. */
function byName(text: string, fields: readonly Named[]): ReadWords | null {
  const names = new Map(fields.map((f) => [comparable(f.name), f.id]));
  const values: Record<string, string> = {};
  const left: string[] = [];
  let open: string | null = null;
  for (const row of text.split('\n')) {
    const found = /^\s/.test(row) ? null : NAME_AND_VALUE.exec(row.trim());
    const id = found && names.get(comparable(found[1]!));
    if (found && id !== undefined && id !== null && values[id] === undefined) {
      values[id] = found[2]!.trim();
      open = id;
    } else if (/^\s/.test(row) && open) values[open] = `${values[open]}\n${row.trim()}`.trim();
    else if (row.trim()) {
      left.push(row.trim());
      open = null;
    }
  }
  return Object.keys(values).length ? { values, left: left.join('\n') } : null;
}

const HOLE = /\{([^{}]{1,60})\}/g;

/** A pattern in pieces: what stands between the fields, and the names of those; see {@link readWords}. */
export function piecesOf(pattern: string): { readonly between: string[]; readonly names: string[] } {
  const between: string[] = [];
  const names: string[] = [];
  let from = 0;
  for (const hole of pattern.matchAll(HOLE)) {
    between.push(pattern.slice(from, hole.index));
    names.push(hole[1]!.trim());
    from = hole.index + hole[0].length;
  }
  between.push(pattern.slice(from));
  return { between, names };
}

/** By what stands between the fields: each goes on to the first place of what follows it. Linear in the text. */
function byPattern(text: string, pattern: string, fields: readonly Named[]): ReadWords | null {
  const { between, names } = piecesOf(pattern);
  const ids = new Map(fields.map((f) => [comparable(f.name), f.id]));
  const lower = text.toLowerCase();
  const values: Record<string, string> = {};
  const first = between[0]!.trim().toLowerCase();
  let at = first ? lower.indexOf(first) : 0;
  if (at < 0) return null;
  const left = [text.slice(0, at)];
  at += first.length;
  for (const [k, name] of names.entries()) {
    // Blanks alone between two fields stand for themselves.
    const next = (between[k + 1]!.trim() || between[k + 1]!).toLowerCase();
    const to = next ? lower.indexOf(next, at) : k === names.length - 1 ? text.length : at;
    if (to < 0) return null;
    const id = ids.get(comparable(name));
    const value = text.slice(at, to).trim();
    if (id === undefined) left.push(value);
    else if (value) values[id] = value;
    at = to + next.length;
  }
  left.push(text.slice(at));
  return {
    values,
    left: left
      .map((s) => s.trim())
      .filter(Boolean)
      .join('\n'),
  };
}

/**
 * Reads what a buyer wrote into fields: by the site's pattern where there is one and it fits (`For {Name}, on {Date}`), by
 * rows that begin with a field's name, else row by row where there are as many rows, or all of it into the only field, or
 * the only one that is needed.
 * What fits nowhere is left and said.
 */
export function readWords(text: string, fields: readonly Named[], pattern = ''): ReadWords {
  const { pictures, rest } = picturesIn(text.replace(/\r\n?/g, '\n').trim(), fields);
  const asked = fields.filter((f) => f.kind !== 'picture');
  const { values, left } = rest ? readRest(rest, asked, pattern) : { values: {}, left: '' };
  return { values: { ...values, ...pictures }, left };
}

/** Takes rows out that name a picture of the buyer's: they were not written by hand. */
function picturesIn(text: string, fields: readonly Named[]) {
  const names = new Map(
    fields.flatMap((f) => (f.kind === 'picture' ? [[comparable(f.name), f.id] as const] : [])),
  );
  const pictures: Record<string, string> = {};
  const rest = text.split('\n').filter((row) => {
    const [, name = '', value = ''] = /^([^:]{1,60}): (\S+)$/.exec(row) ?? [];
    const id = names.get(comparable(name));
    if (id === undefined || pictures[id] !== undefined) return true;
    pictures[id] = value;
    return false;
  });
  return { pictures, rest: rest.join('\n').trim() };
}

function readRest(written: string, asked: readonly Named[], pattern: string): ReadWords {
  const found = (pattern.trim() && byPattern(written, pattern, asked)) || byName(written, asked);
  if (found) return found;
  const rows = written
    .split(/\n|;|\|/)
    .map((r) => r.trim())
    .filter(Boolean);
  if (asked.length && rows.length === asked.length)
    return { values: Object.fromEntries(asked.map((f, k) => [f.id, rows[k]!])), left: '' };
  const needed = asked.filter((f) => f.required !== false);
  const only = asked.length === 1 ? asked[0] : needed.length === 1 ? needed[0] : undefined;
  if (only) return { values: { [only.id]: written }, left: '' };
  return { values: {}, left: written };
}

/** Values as rows that {@link readWords} reads back as they were, for the record and for a person. */
export const writeValues = (values: Values, fields: readonly Named[]): string =>
  fields
    .flatMap(({ id, name }) => {
      const value = settable(values[id] ?? '');
      return value ? [`${name}: ${value.replaceAll('\n', '\n  ')}`] : [];
    })
    .join('\n');
