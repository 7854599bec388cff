import { fold } from '../copy';

/** Languages whose small words are known. */
export type Language = 'en' | 'de';

/** Words that nobody searches for: articles, prepositions, conjunctions. */
const SMALL: Readonly<Record<Language, ReadonlySet<string>>> = {
  en: new Set(
    '& a an and are as at be by for from in into is it its of on or our that the their this to up with your you'.split(
      ' ',
    ),
  ),
  de: new Set(
    'am auf aus bei das dem den der des die ein eine einem einen einer eines fur im ist mit nach oder und vom von zu zum zur ihr ihre sich'.split(
      ' ',
    ),
  ),
};

/** Advertising words of suppliers that no buyer searches for, folded; phrases as they stand. */
const NOISE: readonly string[] = [
  'hot sale',
  'best price',
  'best seller',
  'bestseller',
  'brand new',
  'free shipping',
  'free delivery',
  'high quality',
  'top quality',
  'wholesale',
  'dropshipping',
  'new arrival',
  'limited offer',
  'versandkostenfrei',
  'kostenloser versand',
  'sonderangebot',
  'top angebot',
  'hohe qualitat',
  'neuheit',
  'gunstig',
];

/** The language that a text is in, by its small words; English where that cannot be told. */
export function languageOf(text: string): Language {
  const words = fold(text).match(/\p{L}+/gu) ?? [];
  let lead = 0;
  for (const word of words) {
    if (SMALL.de.has(word)) lead++;
    if (SMALL.en.has(word)) lead--;
  }
  return lead > 0 ? 'de' : 'en';
}

/** Whether nobody searches for a word, in any language that is known. */
export const isSmall = (word: string): boolean => SMALL.en.has(fold(word)) || SMALL.de.has(fold(word));

const SIGNS = /[^\p{L}\p{N}]/gu;
const DIGIT = /\p{N}/u;

/**
 * What a word and its plural have in common, for telling repeats in English and German: `torches` and `torch`,
 * `Lampen` and `Lampe`. It is no word and never shown.
 */
export function stemOf(word: string): string {
  const folded = fold(word).replace(SIGNS, '');
  if (folded.length < 4 || DIGIT.test(folded)) return folded;
  const single = /[^s]s$/.test(folded) ? folded.slice(0, -1) : folded;
  const bare = single.replace(/(?:e|en|er|n)$/, '').replace(/y$/, 'i');
  return bare.length < 3 ? folded : bare;
}

/** What ends a phrase: a comma, a bracket, a dash between blanks, a sign that decorates. */
const ENDS = /[,;:|·•★☆✓✔!?“”„()[\]{}]+|\s[–—-]+\s|(?<!\d)"/u;

const TELLS = /[\p{L}\p{N}]/u;
/** Signs that stand on a word and are none of it: percent, degrees and inches behind a number are. */
const AROUND = /^[^\p{L}\p{N}]+|[^\p{L}\p{N}%°²³″"']+$/gu;

/** The phrases of a title, in order, without the signs between them. */
export const phrasesIn = (text: string): string[] =>
  text
    .split(ENDS)
    .map((phrase) => phrase.trim())
    .filter((phrase) => TELLS.test(phrase));

/** The words of a text with the signs that stand on them taken off; inches, numbers with units and hyphened words stay whole. */
export const wordsIn = (text: string): string[] =>
  phrasesIn(text).flatMap((phrase) =>
    phrase.split(/[\s/]+/).flatMap((part) => {
      const word = part === '&' ? part : part.replace(AROUND, '');
      return word ? [word] : [];
    }),
  );

/** A folded word as a pattern that also finds it with its German letters. */
const spelled = (word: string) =>
  word.replace(/[aou]/g, (v) => `[${v}${{ a: 'ä', o: 'ö', u: 'ü' }[v as 'a']}]`);

const CRIES = new RegExp(
  `(?<![\\p{L}\\p{N}])(?:${NOISE.map((cry) => cry.split(' ').map(spelled).join('\\s+')).join('|')})(?![\\p{L}\\p{N}])`,
  'giu',
);

/** The advertising words in a text, and the text without them. */
export function withoutNoise(text: string): { readonly text: string; readonly noise: readonly string[] } {
  const noise: string[] = [];
  const rest = text.replace(CRIES, (said) => {
    noise.push(said);
    return ' ';
  });
  return { text: rest, noise };
}
