import { calm, cleanHtml, fold, hasActiveMarkup, shortenAtWord, shortenHtml, withoutWords } from '../copy';
import { isSmall } from '../writing';
import type { Draft, Missing } from './draft';
import { fittedPicture, pictureProblems } from './picture';
import type { Site } from './site';

/** A field that a machine can mend: why, and what would stand there. */
export interface Mend extends Missing {
  readonly fix: string;
}

/** Words in a row that are all capitals from which on a title is shouted. */
const SHOUTED = 3;

const isCapital = (word: string) => /\p{Lu}/u.test(word) && !/\p{Ll}/u.test(word) && !/\d/.test(word);

/** Whether a title is written in capitals: most of its longer words are. */
export function isShouted(title: string): boolean {
  const words = title.split(/\s+/).filter((w) => (w.match(/\p{L}/gu)?.length ?? 0) > 3);
  const capitals = words.filter(isCapital);
  return capitals.length >= SHOUTED && capitals.length * 2 > words.length;
}

/** A shouted title as it is said: small words small, others with a capital. */
const lowered = (title: string) =>
  calm(title).replace(/(?<![\p{L}\p{N}])\p{Lu}{2,3}(?![\p{L}\p{N}])/gu, (word) =>
    isSmall(word) ? word.toLowerCase() : word,
  );

function mendTitle(title: string, site: Site): string {
  const allowed = withoutWords(title, site.bannedWords).text;
  const said = isShouted(allowed) ? lowered(allowed) : allowed;
  const mended = shortenAtWord(said.replace(/^[\s,;:–-]+/, ''), site.titleLimit);
  // What is left may be what is mended again: words that came together, capitals that are most of it now.
  return mended === title ? title : mendTitle(mended, site);
}

function mendTags(tags: readonly string[], site: Site): readonly string[] {
  if (!site.tags) return [];
  const { most, longest } = site.tags;
  const once = new Map(tags.map((tag) => [fold(tag), tag]));
  return [...once.values()].filter((tag) => [...tag].length <= longest).slice(0, most);
}

/**
 * What a machine can mend of a draft, at most once for each field, whatever is wrong with it. It never changes what is
 * right, and mending twice is mending once.
 */
export function mendsFor(
  draft: Pick<Draft, 'title' | 'description' | 'tags' | 'pictures'>,
  site: Site,
): Mend[] {
  const mends: Mend[] = [];
  const title = mendTitle(draft.title, site);
  if (title && title !== draft.title) {
    const length = [...draft.title].length;
    const banned = site.bannedWords.filter((word) => withoutWords(draft.title, [word]).found.length);
    const reasons = [
      ...(isShouted(draft.title) ? ['The title is in capitals.'] : []),
      ...banned.map((word) => `${site.name} does not take the word “${word}” in a title.`),
      ...(length > site.titleLimit
        ? [`The title has ${length} characters, ${site.name} takes ${site.titleLimit}.`]
        : []),
    ];
    // A word goes or is cut only for a reason that can be told.
    if (reasons.length) mends.push({ field: 'title', reason: reasons.join(' '), fix: title });
  }
  const active = hasActiveMarkup(draft.description);
  if (active || draft.description.length > site.descriptionLimit) {
    const fix = shortenHtml(active ? cleanHtml(draft.description) : draft.description, site.descriptionLimit);
    if (fix && fix !== draft.description)
      mends.push({
        field: 'description',
        reason: active
          ? 'The description has links, pictures or scripts in it.'
          : `The description has ${draft.description.length} characters, ${site.name} takes ${site.descriptionLimit}.`,
        fix,
      });
  }
  const tags = mendTags(draft.tags, site);
  if (tags.length !== draft.tags.length)
    mends.push({
      field: 'tags',
      reason: site.tags
        ? `${site.name} takes ${site.tags.most} different tags of ${site.tags.longest} characters.`
        : `${site.name} has no tags.`,
      fix: tags.join(', '),
    });
  // Those beyond what the site takes are not sent.
  const { most } = site.pictures;
  const fitted = draft.pictures.map((name, at) => (at < most ? fittedPicture(name, site.pictures) : name));
  if (fitted.some((name, at) => name !== draft.pictures[at]))
    mends.push({
      field: 'pictures',
      reason: pictureProblems(draft.pictures, { ...site.pictures, least: 0 }, site.name).join(' '),
      fix: fitted.join('\n'),
    });
  return mends;
}
