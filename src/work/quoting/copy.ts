import type { Site } from '../../core/checks';
import {
  cleanHtml,
  escapeText,
  fieldKey,
  fillTemplate,
  fold,
  parseTemplate,
  plainText,
  type Template,
} from '../../core/copy';
import type { CopyTemplate, Product, SupplierText } from '../../store';
import type { FullListing } from './full-listing';

/** The texts that a template makes for one listing; null for a text that it leaves alone or has no words for. */
export interface MadeCopy {
  readonly title: string | null;
  readonly description: string | null;
  readonly tags: readonly string[] | null;
  /** Fields that were to be printed and have nothing, by the text that names them. */
  readonly empty: Readonly<Record<'title' | 'description' | 'tags', readonly string[]>>;
  /** Why a text cannot be made. */
  readonly problem: string | null;
}

/** The supplier's text as it is now: where nothing was typed, its changes flow. */
export const suppliersText = ({ theirs, taken }: Pick<Product, 'theirs' | 'taken'>): SupplierText =>
  theirs ?? taken;

const NOTHING_EMPTY = { title: [], description: [], tags: [] } as const;
const NO_COPY: MadeCopy = { title: null, description: null, tags: null, empty: NOTHING_EMPTY, problem: null };

/** A template as it is read once: its texts, and what stands in for a field that has nothing. */
interface Parts extends Readonly<Record<'title' | 'description' | 'tags', Template | null>> {
  readonly standIns: ReadonlyMap<string, string>;
}

const parsed = new WeakMap<CopyTemplate, Parts>();
const made = new WeakMap<FullListing, MadeCopy>();

/** Read once; what cannot be read makes nothing. */
function partsOf(template: CopyTemplate): Parts {
  let known = parsed.get(template);
  if (!known) {
    const part = (text: string) => {
      const read = parseTemplate(text);
      return text.trim() && read.ok ? read.template : null;
    };
    known = {
      title: part(template.title),
      description: part(template.description),
      tags: part(template.tags),
      standIns: new Map(
        Object.entries(template.fallbacks).map(([field, other]) => [fieldKey(field), fieldKey(other)]),
      ),
    };
    parsed.set(template, known);
  }
  return known;
}

/** Steps from field to field that stand in for each other: a ring of them has no value. */
const MOST_STEPS = 6;

/** Fields of a listing's goods by key, with those of the keyword sheet; own options and sheet columns go before ours. */
export function copyFieldsOf({ product, variant, listing }: FullListing): Map<string, string> {
  const text = suppliersText(product);
  const fields = new Map<string, string>([
    ['title', product.title ?? text.title],
    ['brand', product.brand ?? text.brand],
    ['category', text.category.split('/').at(-1)!.trim()],
    ['sku', listing.sku],
    ['barcode', variant.gtin ?? ''],
  ]);
  for (const [name, value] of Object.entries(variant.options)) fields.set(fieldKey(name), value);
  for (const [name, value] of Object.entries(product.keywords)) if (value) fields.set(fieldKey(name), value);
  return fields;
}

/**
 * Fields of a listing's goods by key as texts are made of them: a listing with options is one listing with one text, so
 * that what differs between its variants is none of it.
 */
export function textFieldsOf(full: FullListing): TextFields {
  const fields = copyFieldsOf(full);
  const { product, variant, listing } = full;
  if (product.group === null || listing.apart) return { fields, ofVariants: NONE };
  const ofVariants = new Set(['sku', 'barcode', ...Object.keys(variant.options).map(fieldKey)]);
  for (const [name, value] of Object.entries(product.keywords)) if (value) ofVariants.delete(fieldKey(name));
  for (const name of ofVariants) fields.delete(name);
  return { fields, ofVariants };
}

interface TextFields {
  readonly fields: ReadonlyMap<string, string>;
  /** Fields that differ between variants: left out, and nothing that is missing. */
  readonly ofVariants: ReadonlySet<string>;
}

const NONE: ReadonlySet<string> = new Set();

/** The texts that a template would make for goods. */
export function fillFor({ fields, ofVariants }: TextFields, template: CopyTemplate): MadeCopy {
  const textOf = (field: string): string => {
    let name: string | undefined = field;
    for (let step = 0; name !== undefined && step < MOST_STEPS; step++) {
      const value = fields.get(name);
      if (value) return value;
      name = standIns.get(name);
    }
    return '';
  };
  const { title, description, tags, standIns } = partsOf(template);
  const empty: Record<'title' | 'description' | 'tags', readonly string[]> = { ...NOTHING_EMPTY };
  let cut = false;
  const fill = (of: keyof typeof empty, part: Template | null, write?: (value: string) => string) => {
    if (!part) return null;
    const filled = fillTemplate(part, textOf, write);
    empty[of] = filled.empty.filter((field) => !ofVariants.has(fieldKey(field)));
    cut ||= filled.cut;
    return filled.text;
  };
  const titleText = fill('title', title);
  const html = fill('description', description, escapeText);
  const list = fill('tags', tags);
  const words = list?.split(/[,\n]/).map(plainText).filter(Boolean) ?? null;
  return {
    title: titleText === null ? null : plainText(titleText) || null,
    description: html === null ? null : cleanHtml(html) || null,
    tags: words && [...new Map(words.map((tag) => [tag.toLowerCase(), tag])).values()],
    empty,
    problem: cut ? `“${template.name}” gives more text than any site takes.` : null,
  };
}

/** The texts of the template that is chosen for a listing. Cached as long as the listing is the same object. */
export function copyOf(full: FullListing): MadeCopy {
  if (!full.template) return NO_COPY;
  let known = made.get(full);
  if (!known) {
    known = fillFor(textFieldsOf(full), full.template);
    made.set(full, known);
  }
  return known;
}

/** The title on its marketplace: typed for that site, else by template, else the product's own, else the supplier's. */
export const titleOf = (full: FullListing): string => {
  const title =
    full.listing.title ?? copyOf(full).title ?? full.product.title ?? suppliersText(full.product).title;
  return full.listing.apart ? titleWithOptions(title, full.variant.options) : title;
};

/** A title that tells a variant from the others by its options, where it does not name them already. */
function titleWithOptions(title: string, options: Readonly<Record<string, string>>): string {
  const words = (text: string) =>
    ` ${fold(text)
      .split(/[^\p{L}\p{N}]+/u)
      .join(' ')} `;
  const named = words(title);
  const unnamed = Object.values(options).filter((value) => !named.includes(words(value)));
  return unnamed.length ? `${title}, ${unnamed.join(', ')}` : title;
}

/** The description on its marketplace, in HTML, by the same order. */
export const descriptionOf = (full: FullListing): string =>
  full.listing.description ??
  copyOf(full).description ??
  full.product.description ??
  suppliersText(full.product).description;

/** The tags on its marketplace: typed ones before those of the template, which a site without tags is not told. */
export const tagsOf = (full: FullListing, site: Pick<Site, 'tags'> | undefined): readonly string[] =>
  full.listing.tags.length ? full.listing.tags : site?.tags ? (copyOf(full).tags ?? []) : [];

export const brandOf = ({ product }: Pick<FullListing, 'product'>): string =>
  product.brand ?? suppliersText(product).brand;

/** Pictures in order: our own choice before the supplier's. */
export const picturesOf = (product: Product): readonly string[] =>
  product.pictures ?? suppliersText(product).pictures;

/** The title of a product apart from any marketplace. */
export const productTitle = (product: Product): string => product.title ?? suppliersText(product).title;

/** Why the template of a listing does not give what it should; null where it does. An empty field is never printed. */
export function copyInWords(full: FullListing, site: Pick<Site, 'tags'>): string | null {
  const { template, listing } = full;
  if (!template) return null;
  const { empty, problem } = copyOf(full);
  if (problem) return problem;
  // What was typed for the site stands in place of what the template gives.
  const missing = new Set([
    ...(listing.title === null ? empty.title : []),
    ...(listing.description === null ? empty.description : []),
    ...(listing.tags.length || !site.tags ? [] : empty.tags),
  ]);
  if (!missing.size) return null;
  return `“${template.name}” has nothing for ${[...missing].map((field) => `{{${field}}}`).join(', ')}.`;
}
