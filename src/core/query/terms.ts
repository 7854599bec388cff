import { parseQuery, type Term } from './query';

/** A term as it is typed: quoted where the value has blanks. */
export const termFor = (field: string, value: string): string =>
  `${field}:${/[\s"]/.test(value) ? `"${value.replaceAll('"', '')}"` : value}`;

const names = (t: Term, field: string, value: string): boolean =>
  t.kind === 'field' && !t.not && t.field === field && t.value === value.replaceAll('"', '');

/** Whether the terms of a query name this value of a field. */
export const hasTerm = (terms: readonly Term[], field: string, value: string): boolean =>
  terms.some((t) => names(t, field, value));

/** The query with a value of a field added, or taken out if it is in it. */
export function toggleTerm(query: string, field: string, value: string): string {
  const terms = parseQuery(query);
  const kept = terms.filter((t) => !names(t, field, value)).map((t) => t.raw);
  return (kept.length < terms.length ? kept : [...kept, termFor(field, value)]).join(' ');
}
