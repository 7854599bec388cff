import { fold } from '../copy';
import type { SiteCategory } from './site';

const stem = (word: string) => word.replace(/(ies|es|s)$/, '');

const wordsOf = (text: string) =>
  fold(text)
    .split(/[^a-z0-9]+/)
    .filter((w) => w.length > 2)
    .map(stem);

/** Which categories use a word, by its stem; made once for a site. */
const known = new WeakMap<readonly SiteCategory[], Map<string, number[]>>();

function categoriesByWord(categories: readonly SiteCategory[]): Map<string, number[]> {
  let byWord = known.get(categories);
  if (!byWord) {
    byWord = new Map();
    for (const [i, category] of categories.entries())
      for (const word of new Set([...wordsOf(category.name), ...category.words.flatMap(wordsOf)]))
        byWord.set(word, [...(byWord.get(word) ?? []), i]);
    known.set(categories, byWord);
  }
  return byWord;
}

/**
 * The site's category that shares most words with a supplier's category, else with the title; null where
 * neither shares any.
 */
export function guessCategory(
  supplierCategory: string,
  title: string,
  categories: readonly SiteCategory[],
): string | null {
  // Where there is one category alone, all goods belong to it.
  if (categories.length === 1) return categories[0]!.id;
  return closestOf(supplierCategory, categories, found) ?? closestOf(title, categories, byTitle);
}

/** Site categories by the supplier's, as the seller confirmed them. */
export type CategoryTable = Readonly<Record<string, string>>;

/** The site's category for a supplier's: as the seller confirmed it, where the site still has it; else guessed. */
export function categoryFor(
  table: CategoryTable | undefined,
  supplierCategory: string,
  title: string,
  categories: readonly SiteCategory[],
): string | null {
  const said = table && Object.hasOwn(table, supplierCategory) ? table[supplierCategory] : undefined;
  if (said !== undefined && categories.some((c) => c.id === said)) return said;
  return guessCategory(supplierCategory, title, categories);
}

type Found = WeakMap<readonly SiteCategory[], Map<string, string | null>>;

/** Suppliers have few categories, and many items in each. */
const found: Found = new WeakMap();
/** By titles: listings are looked at again and again, items of a whole catalogue once. */
const byTitle: Found = new WeakMap();
/** Size of that cache. */
const MOST_KEPT = 40_000;

function closestOf(text: string, categories: readonly SiteCategory[], kept: Found): string | null {
  let by = kept.get(categories);
  if (!by || by.size >= MOST_KEPT) {
    by = new Map();
    kept.set(categories, by);
  }
  let id = by.get(text);
  if (id === undefined) {
    id = closest(text, categories);
    by.set(text, id);
  }
  return id;
}

function closest(text: string, categories: readonly SiteCategory[]): string | null {
  const byWord = categoriesByWord(categories);
  const shared = new Int32Array(categories.length);
  let best = -1;
  for (const word of wordsOf(text)) for (const i of byWord.get(word) ?? []) shared[i]!++;
  for (let i = 0; i < shared.length; i++) if (shared[i]! > (best < 0 ? 0 : shared[best]!)) best = i;
  return best < 0 ? null : categories[best]!.id;
}
