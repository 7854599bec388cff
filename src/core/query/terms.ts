import { parseQuery } from './query';

/** A term as it is typed: quoted where the value has blanks. */
export const termFor = (field: string, value: string): string => `${field}:${/[\s"]/.test(value) ? `"${value.replaceAll('"', '')}"` : value}`;

/** Whether a query names this value of a field. */
export function hasTerm(query: string, field: string, value: string): boolean {
  return parseQuery(query).some((t) => t.kind === 'field' && !t.not && t.field === field && t.value === value.replaceAll('"', ''));
}

/** The query with a value of a field added, or taken out if it is in it. */
export function toggleTerm(query: string, field: string, value: string): string {
  const terms = parseQuery(query);
  const plain = value.replaceAll('"', '');
  const is = (t: (typeof terms)[number]) => t.kind === 'field' && !t.not && t.field === field && t.value === plain;
  const kept = terms.filter((t) => !is(t)).map((t) => t.raw);
  return (kept.length < terms.length ? kept : [...kept, termFor(field, value)]).join(' ');
}
