import { calm, escapeText, fold, withoutWords } from '../copy';
import { isSmall, languageOf, phrasesIn, stemOf, withoutNoise, wordsIn } from './words';

/** What is known of goods for writing about them. */
export interface Goods {
  /** What buyers search for; '' where the seller has not said. */
  readonly keyword: string;
  /** The title as it is. */
  readonly title: string;
  readonly brand: string;
  /** The supplier's category, widest first. */
  readonly category: string;
  /** Name and value: colour, size, material. */
  readonly attributes: readonly (readonly [string, string])[];
}

/** A text that is proposed, and why it is as it is. */
export interface Written<T> {
  readonly value: T;
  readonly reasons: readonly string[];
}

/** What a site takes of a text. */
export interface Limits {
  readonly site: string;
  readonly titleLimit: number;
  readonly banned: readonly string[];
  readonly tags: { readonly most: number; readonly longest: number } | null;
}

const lengthOf = (text: string) => [...text].length;

/** A title that grows phrase by phrase, within a limit, saying nothing twice. */
class Title {
  private text = '';
  private readonly said = new Set<string>();
  readonly repeats: string[] = [];
  full = false;

  constructor(private readonly limit: number) {}

  /** Whether all that a text tells was said. */
  says = (text: string): boolean => tellingIn(text).every((w) => this.said.has(stemOf(w)));

  /**
   * Adds a phrase without the words that were said, or nothing where most of it was, or the word that it ends in and is
   * about. Small words stand only before another word. @returns whether anything was added
   */
  add(phrase: string, separator: string): boolean {
    const telling = tellingIn(phrase);
    const fresh = telling.filter((w) => !this.said.has(stemOf(w)));
    if (fresh.at(-1) !== telling.at(-1) || fresh.length * 2 < telling.length || !fresh.length) {
      this.repeats.push(...telling.filter((w) => !fresh.includes(w)));
      return false;
    }
    let small: string[] = [];
    let next = '';
    for (const word of wordsIn(phrase)) {
      const stem = stemOf(word);
      if (isSmall(word)) small.push(word);
      else if (this.said.has(stem)) this.repeats.push(word);
      else {
        const more = `${next ? ' ' : this.text && separator}${[...small, word].join(' ')}`;
        if (lengthOf(this.text + next + more) > this.limit) {
          this.full = true;
          break;
        }
        next += more;
        this.said.add(stem);
        small = [];
      }
    }
    this.text += next;
    return next !== '';
  }

  get value(): string {
    return this.text && this.text[0]!.toUpperCase() + this.text.slice(1);
  }
}

/** The words of a text that somebody may search for. */
const tellingIn = (text: string) => wordsIn(text).filter((w) => !isSmall(w));

/**
 * A title within the site's limit: what is searched for first, then the brand, then what the supplier's title says beyond
 * that, then attributes while there is room. Nothing twice, nothing that the site does not take, cut between words.
 */
export function proposeTitle(goods: Goods, limits: Limits): Written<string> {
  const reasons: string[] = [];
  const quiet = withoutNoise(goods.title);
  const allowed = withoutWords(quiet.text, limits.banned);
  const keyword = withoutWords(goods.keyword, limits.banned);
  const brand = withoutWords(goods.brand, limits.banned).text;
  const title = new Title(limits.titleLimit);
  if (title.add(keyword.text, ''))
    reasons.push(`“${keyword.text}” stands first: it is what buyers search for.`);
  if (keyword.text && !title.says(brand)) title.add(brand, ' ');
  for (const [i, phrase] of phrasesIn(calm(allowed.text)).entries()) title.add(phrase, i ? ', ' : ' ');
  if (!title.says(brand) && title.add(brand, ', ')) reasons.push(`The brand ${brand} was added.`);
  for (const [name, value] of goods.attributes) {
    const clean = withoutWords(value, limits.banned).text;
    if (!title.says(clean) && title.add(clean, ', ')) reasons.push(`${name} was added.`);
  }
  if (quiet.noise.length) reasons.push(`Left out, because nobody searches for it: ${inQuotes(quiet.noise)}.`);
  const banned = [...keyword.found, ...allowed.found];
  if (banned.length) reasons.push(`Left out, because ${limits.site} does not take it: ${inQuotes(banned)}.`);
  if (title.repeats.length) reasons.push(`Said once: ${inQuotes(title.repeats)}.`);
  if (calm(allowed.text) !== allowed.text) reasons.push('Capitals became small letters.');
  if (title.full) reasons.push(`Cut between words: ${limits.site} takes ${limits.titleLimit} characters.`);
  // Leaving repeats out may have brought words together that are not taken.
  return { value: withoutWords(title.value, limits.banned).text, reasons };
}

/** Each of some words once, whatever its case. */
const inQuotes = (words: readonly string[]) =>
  [...new Map(words.map((w) => [fold(w), w])).values()].map((w) => `“${w}”`).join(', ');

/**
 * Search words within the site's number and length: the keyword whole, what it and the title say two by two, attributes
 * with the thing itself, the category. No two of the same words.
 */
export function proposeTags(goods: Goods, limits: Limits): Written<readonly string[]> {
  if (!limits.tags) return { value: [], reasons: [`${limits.site} has no tags.`] };
  const { most, longest } = limits.tags;
  const quiet = (text: string) => withoutWords(withoutNoise(text).text, limits.banned).text;
  const title = phrasesIn(quiet(goods.title));
  const keyword = wordsIn(quiet(goods.keyword));
  const thing = thingIn(keyword.length ? goods.keyword : (title[0] ?? ''));
  const candidates: (readonly string[])[] = [
    keyword,
    ...pairsIn(keyword),
    ...goods.attributes.flatMap(([, value]) =>
      thing && !/\d/.test(value) ? [[...wordsIn(value), thing]] : [],
    ),
    ...title.flatMap((phrase) => pairsIn(wordsIn(phrase))),
    ...(thing ? [[thing]] : []),
    ...goods.category.split(/[/>]/).reverse().map(wordsIn),
    ...(goods.brand && thing ? [[...wordsIn(goods.brand), thing]] : []),
    ...title.flatMap(tellingIn).map((w) => [w]),
  ];
  const tags: string[] = [];
  const known = new Set<string>();
  let tooLong = 0;
  for (const words of candidates) {
    const tag = words.join(' ').toLowerCase();
    const stems = [...new Set(tellingIn(words.join(' ')).map(stemOf))].sort().join(' ');
    if (!stems || /^\d+$/.test(tag) || known.has(stems) || new Set(words.map(stemOf)).size < words.length)
      continue;
    if (lengthOf(tag) > longest) {
      tooLong++;
      continue;
    }
    if (tags.length === most) break;
    known.add(stems);
    tags.push(tag);
  }
  const reasons = [
    goods.keyword
      ? 'From the keyword, the attributes and the title.'
      : 'From the attributes and the title: it has no keyword.',
    ...(tooLong ? [`Left out because they are longer than ${longest} characters: ${tooLong}.`] : []),
  ];
  return { value: tags, reasons };
}

/**
 * The thing that a phrase names: in English the last word before anything is said about it, in German the last noun, which
 * has a capital.
 */
function thingIn(phrase: string): string | undefined {
  const words = wordsIn(phrase);
  const end = words.findIndex((w, i) => i > 0 && isSmall(w));
  const head = tellingIn((end < 0 ? words : words.slice(0, end)).join(' ')).filter((w) => !/\d/.test(w));
  return (languageOf(phrase) === 'de' && head.findLast((w) => /^\p{Lu}/u.test(w))) || head.at(-1);
}

/** Words that stand beside each other, both telling something, without numbers. */
function pairsIn(words: readonly string[]): string[][] {
  const tells = (w: string) => !isSmall(w) && !/\d/.test(w);
  return words.slice(1).flatMap((word, i) => (tells(words[i]!) && tells(word) ? [[words[i]!, word]] : []));
}

const LEAD = {
  en: (what: string, by: string) => `${what}${by ? ` by ${by}` : ''}.`,
  de: (what: string, by: string) => `${what}${by ? ` von ${by}` : ''}.`,
} as const;

/**
 * A description to start from: what it is, in a sentence; its attributes as a list; behind them what there was. Where the
 * attributes are in it already nothing is added.
 * @param now the description as it is, in HTML
 */
export function proposeDescription(goods: Goods, now: string): Written<string> {
  const language = languageOf(`${goods.title} ${now}`);
  const has = fold(now);
  const fresh = goods.attributes.filter(([, value]) => value && !has.includes(fold(value)));
  if (now && !fresh.length) return { value: now, reasons: ['It says all attributes already.'] };
  const what = phrasesIn(calm(withoutNoise(goods.title).text)).join(', ');
  const by = goods.brand && !fold(what).includes(fold(goods.brand)) ? goods.brand : '';
  const list = fresh.map(([name, value]) => `<li>${escapeText(name)}: ${escapeText(value)}</li>`).join('');
  const lead = now ? '' : `<p>${escapeText(LEAD[language](what, by))}</p>`;
  return {
    value: `${lead}${now}${list && `<ul>${list}</ul>`}`,
    reasons: [
      ...(now ? [] : ['It had no description.']),
      ...(fresh.length ? [`Added: ${fresh.map(([name]) => name).join(', ')}.`] : []),
    ],
  };
}
