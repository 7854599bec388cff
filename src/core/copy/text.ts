const ACCENTS = /\p{M}+/gu;
const BEYOND_ASCII = /[^\0-\x7f]/;

/** Lower case without accents, so that “Café” is found by “cafe”. */
export function fold(text: string): string {
  return BEYOND_ASCII.test(text)
    ? text.normalize('NFD').replace(ACCENTS, '').toLowerCase()
    : text.toLowerCase();
}

/**
 * Cuts at the end of a word so that no more than `limit` characters stay, with trailing punctuation dropped.
 */
export function shortenAtWord(text: string, limit: number): string {
  if (text.length <= limit || [...text].length <= limit) return text;
  const cut = [...text].slice(0, limit + 1).join('');
  const at = cut.lastIndexOf(' ');
  return (at > 0 ? cut.slice(0, at) : [...text].slice(0, limit).join('')).replace(/[\s,;:–-]+$/, '');
}

/** Four and more capitals that are a word by themselves. */
const CAPITALS = /(?<![\p{L}\p{N}])\p{Lu}{4,}(?![\p{L}\p{N}])/gu;

/** Words of four and more capitals with only their first letter large; abbreviations and codes stay. */
export const calm = (text: string): string =>
  text.replace(CAPITALS, (word) => word[0] + word.slice(1).toLowerCase());

/** What stands before the first and behind the last letter or digit of a word. */
const AROUND = /^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu;

/** Unwanted words as runs of folded ones; a site has few of them, each asked for with every title. */
const runs = new Map<string, readonly string[]>();
function runOf(words: string): readonly string[] {
  let run = runs.get(words);
  if (!run) {
    run = fold(words).split(/\s+/).filter(Boolean);
    if (runs.size >= 1_000) runs.clear();
    runs.set(words, run);
  }
  return run;
}

/** A text without some words, or runs of words, whatever their case; and those that were found, as they stood. */
export function withoutWords(
  text: string,
  unwanted: readonly string[],
): { readonly text: string; readonly found: readonly string[] } {
  const found: string[] = [];
  let words = text.split(/\s+/).filter(Boolean);
  let bare = words.map((w) => fold(w).replace(AROUND, ''));
  for (const one of unwanted) {
    const run = runOf(one);
    // Of most titles nothing is unwanted: that is seen at once.
    if (!run.length || !bare.includes(run[0]!)) continue;
    const kept: number[] = [];
    for (let at = 0; at < words.length; at++) {
      if (!run.every((w, k) => bare[at + k] === w)) kept.push(at);
      else {
        found.push(words.slice(at, at + run.length).join(' '));
        at += run.length - 1;
      }
    }
    [words, bare] = [kept.map((at) => words[at]!), kept.map((at) => bare[at]!)];
  }
  return { text: found.length ? words.join(' ') : text, found };
}
