import { readBuyersDay } from './days';
import { type BuyerField, SCRIPTS, type Script, type TextField } from './fields';
import type { Values } from './reading';
import { charactersOf, comparable, settable } from './words';

/** A place of the gazetteer. */
export interface Place {
  readonly name: string;
  /** What tells it from others of its name. */
  readonly region: string;
  /** ISO 3166-1 alpha-2. */
  readonly country: string;
  /** Degrees, north and east. */
  readonly latitude: number;
  readonly longitude: number;
  /** IANA. */
  readonly zone: string;
  readonly people: number;
}

/** What stands against making something of a buyer's words. */
export type Problem = { readonly field: string } & ProblemOfField;

type ProblemOfField =
  | { readonly kind: 'missing' }
  | { readonly kind: 'long'; readonly has: number; readonly most: number }
  | { readonly kind: 'lines'; readonly has: number; readonly most: number }
  | { readonly kind: 'script'; readonly scripts: readonly string[] }
  | { readonly kind: 'lacking'; readonly letters: readonly string[]; readonly font: string }
  | { readonly kind: 'does not fit'; readonly size: number; readonly least: number }
  | { readonly kind: 'no such choice'; readonly value: string; readonly choices: readonly string[] }
  | { readonly kind: 'no such day'; readonly value: string }
  | { readonly kind: 'which day'; readonly days: readonly [string, string] }
  | { readonly kind: 'no such place'; readonly value: string }
  | { readonly kind: 'which place'; readonly places: readonly string[] }
  | { readonly kind: 'no day for the sky' }
  | { readonly kind: 'no picture' }
  | { readonly kind: 'soft'; readonly dpi: number }
  | { readonly kind: 'forbidden'; readonly words: readonly string[] }
  /** The buyer wrote what was read into no field. */
  | { readonly kind: 'left'; readonly text: string };

/** Whether it can be made all the same, once a person has looked: it is said, and not in the way. */
export const isWarning = ({ kind }: Problem): boolean =>
  kind === 'forbidden' || kind === 'left' || kind === 'soft';

const SCRIPT_SIGNS = new Map(SCRIPTS.map((s) => [s, new RegExp(`^\\p{Script=${s}}`, 'u')]));
const NO_SCRIPT = /^[\p{Script=Common}\p{Script=Inherited}]/u;

/** Scripts of a text that a field does not take; what has no script (digits, signs) is not counted. */
function strangeScripts(text: string, allowed: readonly Script[]): string[] {
  const strange = new Set<string>();
  for (const letter of text) {
    if (NO_SCRIPT.test(letter)) continue;
    const own = SCRIPTS.find((s) => SCRIPT_SIGNS.get(s)!.test(letter));
    if (!own) strange.add('another script');
    else if (!allowed.includes(own)) strange.add(own);
  }
  return [...strange];
}

/** Words of a list that a text holds, whole words only. */
export function forbiddenIn(text: string, words: readonly string[]): string[] {
  const own = ` ${comparable(text)} `;
  return words.filter((w) => comparable(w) !== '' && own.includes(` ${comparable(w)} `));
}

function ofText(field: TextField, text: string): Problem[] {
  const found: Problem[] = [];
  const has = charactersOf(text.replaceAll('\n', '')).length;
  if (has > field.most) found.push({ field: field.id, kind: 'long', has, most: field.most });
  const lines = text.split('\n').length;
  if (lines > field.lines) found.push({ field: field.id, kind: 'lines', has: lines, most: field.lines });
  const scripts = strangeScripts(text, field.scripts);
  if (scripts.length) found.push({ field: field.id, kind: 'script', scripts });
  return found;
}

/** Places of a name, the largest first; one that was named with its region or country alone. */
export type FindPlaces = (typed: string) => readonly Place[];

/** Says which place is meant, so that {@link FindPlaces} finds it alone. */
export const placeInFull = (p: Place): string =>
  `${p.name}, ${[p.region, p.country].filter(Boolean).join(', ')}`;

/**
 * What is wrong with a buyer's words before they are set. What the font lacks, or does not fit, is found out by setting them.
 * @param forbidden words that the seller does not print
 */
export const problemsOf = (
  fields: readonly BuyerField[],
  values: Values,
  forbidden: readonly string[],
  places: FindPlaces,
): Problem[] =>
  fields.flatMap((f) => {
    const text = settable(values[f.id] ?? '');
    if (!text)
      return f.required ? [{ field: f.id, kind: f.kind === 'picture' ? 'no picture' : 'missing' }] : [];
    const bad = f.kind === 'picture' ? [] : forbiddenIn(text, forbidden);
    const found: Problem[] = bad.length ? [{ field: f.id, kind: 'forbidden', words: bad }] : [];
    return [...found, ...ofValue(f, text, fields, values, places)];
  });

function ofValue(
  f: BuyerField,
  text: string,
  fields: readonly BuyerField[],
  values: Values,
  places: FindPlaces,
): Problem[] {
  const one = (problem: ProblemOfField): Problem[] => [{ field: f.id, ...problem }];
  switch (f.kind) {
    case 'text':
      return ofText(f, text);
    case 'choice':
      return f.choices.some((c) => comparable(c.name) === comparable(text))
        ? []
        : one({ kind: 'no such choice', value: text, choices: f.choices.map((c) => c.name) });
    case 'date': {
      const day = readBuyersDay(text);
      if (!day) return one({ kind: 'no such day', value: text });
      return 'either' in day ? one({ kind: 'which day', days: day.either }) : [];
    }
    case 'place': {
      if (f.as === 'name') return [];
      const some = places(text);
      if (!some.length) return one({ kind: 'no such place', value: text });
      if (!isClear(some)) return one({ kind: 'which place', places: some.slice(0, 6).map(placeInFull) });
      const date = fields.find((other) => other.kind === 'date');
      const day = date ? readBuyersDay(settable(values[date.id] ?? '')) : null;
      return day && 'day' in day ? [] : one({ kind: 'no day for the sky' });
    }
    case 'picture':
      return [];
  }
}

/** Whether the largest place of a name is meant without asking: it has twenty times the people of the next. */
export const isClear = ([first, second]: readonly Place[]): boolean =>
  first !== undefined && (second === undefined || first.people >= 20 * second.people);

const quoted = (some: readonly string[]): string => some.map((s) => `“${s}”`).join(', ');

/** A problem in a sentence. @param name of its field; '' where that is said already */
export function problemInWords(p: Problem, name = ''): string {
  const says = saidOf(p);
  return name && p.kind !== 'left' ? `${name}: ${says[0]!.toLowerCase()}${says.slice(1)}` : says;
}

function saidOf(p: ProblemOfField): string {
  switch (p.kind) {
    case 'missing':
      return `The buyer gave none.`;
    case 'long':
      return `${p.has} characters, at most ${p.most} are taken.`;
    case 'lines':
      return `${p.has} lines, at most ${p.most} are taken.`;
    case 'script':
      return `Letters of ${p.scripts.join(' and ')} are not taken here.`;
    case 'lacking':
      return `The font ${p.font} has no ${quoted(p.letters.slice(0, 8))}. Leave them out, or choose another font.`;
    case 'does not fit':
      return `It fits at ${p.size.toFixed(1)} mm only; the smallest letters here have ${p.least.toFixed(1)} mm. Shorten it, or let it have more lines.`;
    case 'no such choice':
      return `“${p.value}” is none of ${p.choices.join(', ')}.`;
    case 'no such day':
      return `The calendar has no “${p.value}”.`;
    case 'which day':
      return `It may be ${p.days[0]} or ${p.days[1]}. Write the one that is meant.`;
    case 'no such place':
      return `No place “${p.value}” is known. Name the nearest larger town.`;
    case 'which place':
      return `There are several: ${p.places.join('; ')}. Write the one that is meant.`;
    case 'no day for the sky':
      return `A sky needs its day.`;
    case 'no picture':
      return `The buyer’s picture is missing.`;
    case 'soft':
      return `The picture has ${p.dpi} DPI here and prints soft.`;
    case 'forbidden':
      return `${quoted(p.words)} is on your list of words that are not printed.`;
    case 'left':
      return `Not read into any field: “${p.text.length > 200 ? `${p.text.slice(0, 200)}…` : p.text}”`;
  }
}
