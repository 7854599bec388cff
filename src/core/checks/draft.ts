import { fold, hasActiveMarkup, shortenAtWord } from '../copy';
import { isGtin } from '../units';
import { attributeProblems } from './attribute';
import { pictureProblems } from './picture';
import type { Site } from './site';

/** What is checked before a listing is sent. */
export interface Draft {
  readonly title: string;
  readonly description: string;
  readonly brand: string;
  readonly gtin: string | null;
  readonly category: string | null;
  readonly pictures: readonly string[];
  readonly tags: readonly string[];
  /** Why its copy template does not give what it should, or null. */
  readonly copy: string | null;
  /** What the site asks besides, by the attribute's id. */
  readonly attributes: Readonly<Record<string, string>>;
  /** Why it has no price, or null. */
  readonly priceProblem: string | null;
}

/**
 * One thing a marketplace would refuse. `fix` is a value that a machine can put there, to be shown before it
 * is kept.
 */
export interface Missing {
  readonly field:
    | 'title'
    | 'description'
    | 'brand'
    | 'gtin'
    | 'category'
    | 'pictures'
    | 'tags'
    | 'copy'
    | 'attributes'
    | 'site'
    | 'price';
  readonly reason: string;
  readonly fix?: string;
}

/** Everything the site would refuse about a draft; an empty list means it is fit to sell. */
export function missingFor(draft: Draft, site: Site): Missing[] {
  const missing: Missing[] = [];
  const length = [...draft.title].length;
  if (!draft.title) missing.push({ field: 'title', reason: 'A title is missing.' });
  else if (length > site.titleLimit) {
    missing.push({
      field: 'title',
      reason: `The title has ${length} characters, ${site.name} takes ${site.titleLimit}.`,
      fix: shortenAtWord(draft.title, site.titleLimit),
    });
  }
  const banned = site.bannedWords.find((word) => ` ${fold(draft.title)} `.includes(` ${fold(word)} `));
  if (banned)
    missing.push({ field: 'title', reason: `${site.name} does not take the word “${banned}” in a title.` });
  if (!draft.description && site.needsDescription)
    missing.push({ field: 'description', reason: 'A description is missing.' });
  else if (hasActiveMarkup(draft.description))
    missing.push({ field: 'description', reason: 'The description has links, pictures or scripts in it.' });
  else if (draft.description.length > site.descriptionLimit) {
    missing.push({
      field: 'description',
      reason: `The description has ${draft.description.length} characters, ${site.name} takes ${site.descriptionLimit}.`,
    });
  }
  const category = site.categories.find((c) => c.id === draft.category);
  if (!category)
    missing.push({
      field: 'category',
      reason: draft.category ? `${site.name} has no category “${draft.category}”.` : 'A category is missing.',
    });
  if (category?.needsBrand && !draft.brand)
    missing.push({ field: 'brand', reason: `“${category.name}” needs a brand.` });
  if (draft.gtin !== null && !isGtin(draft.gtin))
    missing.push({ field: 'gtin', reason: `Barcode ${draft.gtin} has a wrong check digit.` });
  else if (category?.needsGtin && !draft.gtin)
    missing.push({ field: 'gtin', reason: `“${category.name}” needs a barcode.` });
  for (const reason of pictureProblems(draft.pictures, site.pictures, site.name))
    missing.push({ field: 'pictures', reason });
  const { most, longest } = site.tags ?? { most: 0, longest: 0 };
  if (draft.tags.length > most)
    missing.push({ field: 'tags', reason: `It has ${draft.tags.length} tags, ${site.name} takes ${most}.` });
  const long = draft.tags.find((tag) => [...tag].length > longest);
  if (long && most)
    missing.push({ field: 'tags', reason: `The tag “${long}” is longer than ${longest} characters.` });
  for (const reason of attributeProblems(site.attributes, category, draft.attributes, site.currency))
    missing.push({ field: 'attributes', reason });
  if (draft.copy) missing.push({ field: 'copy', reason: draft.copy });
  if (draft.priceProblem) missing.push({ field: 'price', reason: draft.priceProblem });
  return missing;
}
