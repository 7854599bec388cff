import { fold } from '../copy';
import type { SiteCategory } from './site';

const stem = (word: string) => word.replace(/(ies|es|s)$/, '');
const wordsOf = (text: string) =>
  fold(text)
    .split(/[^a-z0-9]+/)
    .filter((w) => w.length > 2)
    .map(stem);

/** The site's category that shares most words with a supplier's category, else with the title; null where neither shares any. */
export function guessCategory(supplierCategory: string, title: string, categories: readonly SiteCategory[]): string | null {
  return closest(wordsOf(supplierCategory), categories) ?? closest(wordsOf(title), categories);
}

function closest(words: readonly string[], categories: readonly SiteCategory[]): string | null {
  let best: string | null = null;
  let most = 0;
  for (const category of categories) {
    const known = new Set([...wordsOf(category.name), ...category.words.flatMap(wordsOf)]);
    const shared = words.filter((w) => known.has(w)).length;
    if (shared > most) {
      most = shared;
      best = category.id;
    }
  }
  return best;
}
