import Mustache from 'mustache';
import { fold } from './text';

/**
 * Copy templates in Mustache, the open logic-less format (mustache(5)): `{{field}}`, `{{{field}}}`, sections
 * `{{#field}} … {{/field}}` for what is there only with the field and `{{^field}} … {{/field}}` for what stands in its
 * place. The library splits a template into tokens; they are walked here, with limits, and never compiled.
 */

/** Characters of a template, of what comes of it, and sections inside each other. */
export const TEMPLATE_LIMITS = { length: 20_000, output: 100_000, depth: 20 } as const;

type Node =
  | { readonly is: 'text'; readonly text: string }
  | { readonly is: 'field'; readonly field: string; readonly plain: boolean }
  | { readonly is: 'with' | 'without'; readonly field: string; readonly inside: readonly Node[] };

/** A template that can be filled in. */
export interface Template {
  readonly nodes: readonly Node[];
  /** Fields that it names, as {@link fieldKey} writes them, in order. */
  readonly fields: readonly string[];
}

/** What is wrong with a template, and where: counted in characters from its start. */
export interface TemplateProblem {
  readonly at: number;
  readonly reason: string;
}

export type ParsedTemplate =
  | { readonly ok: true; readonly template: Template }
  | { readonly ok: false; readonly problem: TemplateProblem };

/** The name of a field as templates mean it: case, accents and blanks around it do not matter. */
export function fieldKey(name: string): string {
  let key = keys.get(name);
  if (key === undefined) {
    key = fold(name.trim()).replace(/\s+/g, ' ');
    if (keys.size < MOST_KEYS) keys.set(name, key);
  }
  return key;
}

/** Names are few and come once for each product. */
const keys = new Map<string, string>();
const MOST_KEYS = 2_000;

/** A writer of its own: the library's keeps every template it was ever given. */
const writer = new Mustache.Writer();
(writer as unknown as { templateCache: unknown }).templateCache = undefined;

/** Reads a template. Never throws. */
export function parseTemplate(text: string): ParsedTemplate {
  if (text.length > TEMPLATE_LIMITS.length)
    return wrong(TEMPLATE_LIMITS.length, `A template has at most ${TEMPLATE_LIMITS.length} characters.`);
  let tokens: readonly Token[];
  try {
    tokens = writer.parse(text) as readonly Token[];
  } catch (error) {
    return wrong(...inWords((error as Error).message, text));
  }
  const fields = new Set<string>();
  try {
    return { ok: true, template: { nodes: nodesOf(tokens, fields, 1), fields: [...fields] } };
  } catch (error) {
    if (error instanceof Unreadable) return wrong(error.at, error.message);
    throw error;
  }
}

/** Kind, name or text, start, end, what is inside. */
type Token = readonly [string, string, number, number, (readonly Token[])?];

class Unreadable extends Error {
  constructor(
    readonly at: number,
    reason: string,
  ) {
    super(reason);
  }
}

const wrong = (at: number, reason: string): ParsedTemplate => ({ ok: false, problem: { at, reason } });

function nodesOf(tokens: readonly Token[], fields: Set<string>, depth: number): Node[] {
  return tokens.flatMap(([kind, name, at, , inside]): Node[] => {
    if (kind === 'text') return [{ is: 'text', text: name }];
    if (kind === '!') return [];
    const field = fieldKey(name);
    if (kind === '>') throw new Unreadable(at, `“{{>${name}}}”: a template cannot contain another one.`);
    if (kind === '=') throw new Unreadable(at, 'The braces of a template cannot be changed.');
    if (!field || field === '.') throw new Unreadable(at, 'Two braces without the name of a field.');
    fields.add(field);
    if (kind === '#' || kind === '^') {
      if (depth >= TEMPLATE_LIMITS.depth)
        throw new Unreadable(at, `Sections stand at most ${TEMPLATE_LIMITS.depth} deep.`);
      return [
        { is: kind === '#' ? 'with' : 'without', field, inside: nodesOf(inside ?? [], fields, depth + 1) },
      ];
    }
    return [{ is: 'field', field, plain: kind === '&' }];
  });
}

/** The library's complaints in our words. */
function inWords(message: string, text: string): [number, string] {
  const at = Math.min(Number(/at (\d+)$/.exec(message)?.[1] ?? text.length), text.length);
  const section = /section "([^"]*)"/.exec(message)?.[1] ?? '';
  if (message.startsWith('Unclosed section'))
    return [at, `“{{#${section}}}” has no “{{/${section}}}” behind it.`];
  if (message.startsWith('Unopened section')) return [at, `“{{/${section}}}” closes what was never opened.`];
  if (message.startsWith('Unclosed tag')) return [at, 'Two braces that open a field and are never closed.'];
  return [at, 'This cannot be read as a template.'];
}

/** A template filled in. */
export interface Filled {
  readonly text: string;
  /** Fields that were to be printed and have nothing, each once. */
  readonly empty: readonly string[];
  /** Whether it was cut at the limit of what a template may give. */
  readonly cut: boolean;
}

/**
 * Fills a template in.
 * @param textOf the text of a field by its {@link fieldKey}; '' where it has none
 * @param write how a value is written: as it is, or with markup escaped. `{{{field}}}` and `{{&field}}` are written as they are
 */
export function fillTemplate(
  { nodes }: Template,
  textOf: (field: string) => string,
  write: (value: string) => string = (value) => value,
): Filled {
  const parts: string[] = [];
  const empty = new Set<string>();
  let length = 0;
  const put = (text: string) => {
    if (length < TEMPLATE_LIMITS.output) parts.push(text);
    length += text.length;
  };
  const walk = (some: readonly Node[]) => {
    for (const node of some) {
      if (node.is === 'text') put(node.text);
      else if (node.is === 'field') {
        const value = textOf(node.field);
        if (value) put(node.plain ? value : write(value));
        else empty.add(node.field);
      } else if ((textOf(node.field) !== '') === (node.is === 'with')) walk(node.inside);
    }
  };
  walk(nodes);
  const text = parts.join('');
  return {
    text: text.slice(0, TEMPLATE_LIMITS.output),
    empty: [...empty],
    cut: length > TEMPLATE_LIMITS.output,
  };
}
