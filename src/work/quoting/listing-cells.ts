import {
  attributeInWords,
  attributesIn,
  ownPicture,
  readAttribute,
  type SiteAttribute,
} from '../../core/checks';
import { cleanHtml, fold, plainText } from '../../core/copy';
import { isShortForm } from '../../core/lists';
import { decimalOf, type Parsed, parsePrice } from '../../core/money';
import { isGtin, readSize, sizeInWords } from '../../core/units';
import type { Connection, Listing, Product, Variant } from '../../store';
import { brandOf, copyOf, descriptionOf, picturesOf, suppliersText, tagsOf, titleOf } from './copy';
import type { FullListing } from './full-listing';
import { planFor } from './plan-choice';
import { attributeValue, presetCategory } from './preset-choice';
import { categoryOf } from './pricing-terms';
import { marketOf, type ShopTerms } from './worth';

/** Where the value of a field comes from. */
export type Origin =
  | 'typed for this marketplace'
  | 'typed for all marketplaces'
  | 'template'
  | 'supplier'
  | 'table'
  | 'guessed'
  | 'plan'
  | 'preset'
  | 'nothing';

/** What a field sets, by the row that it stands in. */
export interface FieldPart {
  readonly listing?: Partial<Listing>;
  readonly product?: Partial<Product>;
  readonly variant?: Partial<Variant>;
}

/** A field of a listing that can be edited: in the docket, for many at once, in the grid and by file. */
export interface ListingField {
  readonly id: FieldId;
  readonly name: string;
  /** What a good text for it looks like. */
  readonly example: string;
  /** Its owner: each listing, all of a product on one marketplace, the variant, or the product. */
  readonly of: 'listing' | 'group' | 'variant' | 'product';
  /** The value that holds, as a cell has it. Amounts without a currency, with a decimal point. */
  readonly read: (full: FullListing, shop: ShopTerms) => string;
  readonly origin: (full: FullListing, shop: ShopTerms) => Origin;
  /** What the supplier says now, where it says anything of it. */
  readonly supplier?: (full: FullListing) => string;
  /** It is a number: spreadsheets have it as one. */
  readonly number?: true;
  /** What there is to choose from; missing where it is typed. */
  readonly choices?: (full: FullListing, shop: ShopTerms) => readonly string[];
  /** What a typed text sets; '' goes back to where the value came from before. The reason where it cannot be. */
  readonly write: (text: string, full: FullListing, shop: ShopTerms) => Parsed<FieldPart>;
}

export const FIELD_IDS = [
  'title',
  'description',
  'brand',
  'category',
  'tags',
  'template',
  'pictures',
  'barcode',
  'weight',
  'size',
  'variants',
  'plan',
  'price',
  'market',
  'kept back',
] as const;
type FixedFieldId = (typeof FIELD_IDS)[number];

const ATTRIBUTE = 'attribute:';

/** A field that every listing has, or an attribute that its site asks for. */
export type FieldId = FixedFieldId | `${typeof ATTRIBUTE}${string}`;

const set = (part: FieldPart): Parsed<FieldPart> => ({ ok: true, value: part });
const wrong = (reason: string): Parsed<FieldPart> => ({ ok: false, reason });

/** Grams as people write them: `450`, `450 g`, `1.2 kg`, `1,2 kg`. */
function readGrams(text: string): Parsed<number> {
  const [, number = '', unit = 'g'] = /^(\d{1,6}(?:[.,]\d{1,3})?)\s*(g|kg)?$/i.exec(text.trim()) ?? [];
  const grams = Math.round(Number(number.replace(',', '.')) * (unit.toLowerCase() === 'kg' ? 1000 : 1));
  return number && grams > 0
    ? { ok: true, value: grams }
    : { ok: false, reason: `“${text.trim()}” is not a weight: write 450 g or 1.2 kg.` };
}

const siteOf = (full: FullListing, shop: ShopTerms) => marketOf(shop, full.listing.marketplace)?.site;
const nameOf = (full: FullListing, shop: ShopTerms) =>
  marketOf(shop, full.listing.marketplace)?.name ?? 'The marketplace';
const currencyOf = (full: FullListing, shop: ShopTerms) =>
  siteOf(full, shop)?.currency ?? shop.settings.currency;

/** Where a text comes from: what was typed before what is made before what was taken. */
const textOrigin = (full: FullListing, text: 'title' | 'description'): Origin =>
  full.listing[text] !== null
    ? 'typed for this marketplace'
    : copyOf(full)[text] !== null
      ? 'template'
      : full.product[text] !== null
        ? 'typed for all marketplaces'
        : 'supplier';

/** What {@link Listing.apart} says, as cells have it. */
const TOGETHER = 'one listing';
const APART = 'one each';

const DEFINED: Readonly<Record<FixedFieldId, Omit<ListingField, 'id'>>> = {
  title: {
    name: 'Title',
    example: 'Red head torch, rechargeable',
    of: 'group',
    read: (full) => titleOf(full),
    supplier: ({ product }) => suppliersText(product).title,
    origin: (full) => textOrigin(full, 'title'),
    write: (text) => set({ listing: { title: plainText(text) || null } }),
  },
  description: {
    name: 'Description',
    example: '<p>For the field.</p>',
    of: 'group',
    read: (full) => descriptionOf(full),
    supplier: ({ product }) => suppliersText(product).description,
    origin: (full) => textOrigin(full, 'description'),
    write: (text) => set({ listing: { description: cleanHtml(text) || null } }),
  },
  brand: {
    name: 'Brand',
    example: 'Fellmoor',
    of: 'product',
    read: (full) => brandOf(full),
    supplier: ({ product }) => suppliersText(product).brand,
    origin: ({ product }) => (product.brand === null ? 'supplier' : 'typed for all marketplaces'),
    write: (text) => set({ product: { brand: plainText(text) || null } }),
  },
  category: {
    name: 'Category',
    choices: (full, shop) => siteOf(full, shop)?.categories.map((c) => c.name) ?? [],
    example: 'Torches',
    of: 'group',
    read: (full, shop) => {
      const site = siteOf(full, shop);
      const market = marketOf(shop, full.listing.marketplace);
      const id = market && categoryOf(full, market, shop);
      return site?.categories.find((c) => c.id === id)?.name ?? '';
    },
    origin: (full, shop) => {
      const market = marketOf(shop, full.listing.marketplace);
      if (full.listing.category !== null) return 'typed for this marketplace';
      if (!market || categoryOf(full, market, shop) === null) return 'nothing';
      if (presetCategory(full, market, shop) !== null) return 'preset';
      return Object.hasOwn(market.categories ?? {}, full.product.taken.category) ? 'table' : 'guessed';
    },
    write: (text, full, shop) => {
      const site = siteOf(full, shop);
      if (!text.trim()) return set({ listing: { category: null } });
      const meant = fold(text.trim());
      const found = site?.categories.find((c) => fold(c.name) === meant || fold(c.id) === meant);
      return found
        ? set({ listing: { category: found.id } })
        : wrong(`${nameOf(full, shop)} has no category “${text.trim()}”.`);
    },
  },
  tags: {
    name: 'Tags',
    example: 'stargazing, red light',
    of: 'group',
    read: (full, shop) => tagsOf(full, siteOf(full, shop)).join(', '),
    origin: (full) =>
      full.listing.tags.length
        ? 'typed for this marketplace'
        : copyOf(full).tags?.length
          ? 'template'
          : 'nothing',
    write: (text, full, shop) => {
      const site = siteOf(full, shop);
      const tags = text
        .split(/[,;\n]/)
        .map(plainText)
        .filter(Boolean);
      if (tags.length && site && !site.tags) return wrong(`${nameOf(full, shop)} has no tags.`);
      const once = new Map(tags.map((tag) => [fold(tag), tag]));
      return set({ listing: { tags: [...once.values()] } });
    },
  },
  template: {
    name: 'Copy template',
    choices: (_, shop) => [...shop.templates.values()].map((t) => t.name),
    example: 'Everyday',
    of: 'group',
    read: ({ template }) => template?.name ?? '',
    origin: ({ template }) => (template ? 'typed for this marketplace' : 'nothing'),
    write: (text, _, shop) => {
      const meant = fold(text.trim());
      if (!meant) return set({ listing: { copy: null } });
      const found = [...shop.templates.values()].find((t) => fold(t.name) === meant);
      return found
        ? set({ listing: { copy: found.id } })
        : wrong(`There is no copy template “${text.trim()}”.`);
    },
  },
  pictures: {
    name: 'Pictures',
    example: 'addresses, one to a line, the first picture first',
    of: 'product',
    read: ({ product }) => picturesOf(product).join('\n'),
    origin: ({ product }) => (product.pictures === null ? 'supplier' : 'typed for all marketplaces'),
    write: (text, { product }) => {
      const pictures = [
        ...new Set(
          text
            .split('\n')
            .map((line) => line.trim())
            .filter(Boolean),
        ),
      ];
      if (!pictures.length) return set({ product: { pictures: null } });
      const theirs = suppliersText(product).pictures;
      const known = new Set([...theirs, ...product.taken.pictures, ...(product.pictures ?? [])]);
      const strange = pictures.find((picture) => !known.has(picture) && !ownPicture(picture));
      return strange
        ? wrong(`“${strange.slice(0, 80)}” is none of the pictures of this product.`)
        : set({ product: { pictures: pictures.join() === theirs.join() ? null : pictures } });
    },
  },
  barcode: {
    name: 'Barcode',
    example: '4006381333931',
    of: 'variant',
    read: ({ variant }) => variant.gtin ?? '',
    origin: ({ variant }) => (variant.gtin === null ? 'nothing' : 'supplier'),
    write: (text) => {
      const digits = text.replace(/[\s-]/g, '');
      if (!digits) return set({ variant: { gtin: null } });
      if (isShortForm(digits))
        return wrong(`“${text.trim()}”: a spreadsheet shortened the barcode. Format the column as text.`);
      return isGtin(digits)
        ? set({ variant: { gtin: digits } })
        : wrong(`“${text.trim()}” is no barcode: 8, 12, 13 or 14 digits, the last of which must fit.`);
    },
  },
  weight: {
    name: 'Weight',
    example: '450 g',
    of: 'variant',
    read: ({ variant, item, source }) => {
      const grams = variant.grams ?? (item?.grams == null ? null : item.grams * (source?.pack ?? 1));
      return grams === null ? '' : `${grams} g`;
    },
    origin: ({ variant, item }) =>
      variant.grams !== null ? 'typed for all marketplaces' : item?.grams == null ? 'nothing' : 'supplier',
    write: (text) => {
      if (!text.trim()) return set({ variant: { grams: null } });
      const grams = readGrams(text);
      return grams.ok ? set({ variant: { grams: grams.value } }) : grams;
    },
  },
  size: {
    name: 'Size',
    example: '30 x 20 x 10 cm',
    of: 'variant',
    read: ({ variant }) => (variant.size ? sizeInWords(variant.size) : ''),
    origin: ({ variant }) => (variant.size ? 'typed for all marketplaces' : 'nothing'),
    write: (text) => {
      if (!text.trim()) return set({ variant: { size: null } });
      const size = readSize(text);
      return size
        ? set({ variant: { size } })
        : wrong(`“${text.trim()}” is no size: write length x width x height, such as 30 x 20 x 10 cm.`);
    },
  },
  variants: {
    name: 'Variants',
    choices: ({ product }) => (product.group === null ? [TOGETHER] : [TOGETHER, APART]),
    example: TOGETHER,
    of: 'group',
    read: ({ listing }) => (listing.apart ? APART : TOGETHER),
    origin: ({ listing }) => (listing.apart ? 'typed for this marketplace' : 'nothing'),
    write: (text, { product }) => {
      const meant = fold(text.trim());
      if (!meant || meant === TOGETHER) return set({ listing: { apart: null } });
      if (meant !== APART) return wrong(`“${text.trim()}” is neither “${TOGETHER}” nor “${APART}”.`);
      return product.group === null ? wrong('It has no other variants.') : set({ listing: { apart: true } });
    },
  },
  plan: {
    name: 'Price plan',
    choices: (_, shop) => shop.plans.map((p) => p.name),
    example: 'Usual',
    of: 'listing',
    read: (full, shop) => planFor(shop, full)?.name ?? '',
    origin: ({ listing }) => (listing.plan === null ? 'plan' : 'typed for this marketplace'),
    write: (text, _, shop) => {
      const meant = fold(text.trim());
      if (!meant) return set({ listing: { plan: null } });
      const found = shop.plans.find((p) => fold(p.name) === meant);
      return found ? set({ listing: { plan: found.id } }) : wrong(`There is no price plan “${text.trim()}”.`);
    },
  },
  price: {
    name: 'Own price',
    number: true,
    example: '24.99',
    of: 'listing',
    read: (full, shop) =>
      full.listing.ownPrice === null ? '' : decimalOf(full.listing.ownPrice, currencyOf(full, shop)),
    origin: ({ listing }) => (listing.ownPrice === null ? 'plan' : 'typed for this marketplace'),
    write: (text, full, shop) => {
      if (!text.trim()) return set({ listing: { ownPrice: null } });
      const price = parsePrice(text, currencyOf(full, shop));
      return price.ok ? set({ listing: { ownPrice: price.value } }) : price;
    },
  },
  market: {
    name: 'Market price',
    number: true,
    example: '22.50',
    of: 'listing',
    read: ({ listing }, shop) => {
      const site = marketOf(shop, listing.marketplace)?.site;
      return listing.market ? decimalOf(listing.market.minor, site?.currency ?? shop.settings.currency) : '';
    },
    origin: ({ listing }) => (listing.market ? 'typed for this marketplace' : 'nothing'),
    write: (text, full, shop) => {
      if (!text.trim()) return set({ listing: { market: null } });
      const price = parsePrice(text, currencyOf(full, shop));
      return price.ok ? set({ listing: { market: { minor: price.value, at: shop.at } } }) : price;
    },
  },
  'kept back': {
    name: 'Kept back',
    number: true,
    example: '2',
    of: 'variant',
    read: ({ variant }) => (variant.keptBack ? String(variant.keptBack) : ''),
    origin: ({ variant }) => (variant.keptBack ? 'typed for all marketplaces' : 'nothing'),
    write: (text) => {
      if (!text.trim()) return set({ variant: { keptBack: null } });
      const n = Number(text.trim());
      return Number.isInteger(n) && n >= 0 && n <= 100_000
        ? set({ variant: { keptBack: n || null } })
        : wrong(`“${text.trim()}” is no whole number of units.`);
    },
  },
};

/** The fields that every listing has, in the order that tables and files have them. */
const FIELDS: readonly ListingField[] = FIELD_IDS.map((id) => ({ id, ...DEFINED[id] }));

export const attributeFieldId = (attribute: string): FieldId => `${ATTRIBUTE}${attribute}`;

/** An attribute as a field; what it holds depends on the site of the listing. @param first the attribute on the first site that has it */
function attributeField({ id: attribute, name, categories, ...first }: SiteAttribute): ListingField {
  /** The attribute of the listing's own site, where its category has it. */
  const asked = (full: FullListing, shop: ShopTerms) => {
    const market = marketOf(shop, full.listing.marketplace);
    const found =
      market &&
      attributesIn(market.site.attributes, categoryOf(full, market, shop)).find((a) => a.id === attribute);
    return market && found && { market, found };
  };
  return {
    id: attributeFieldId(attribute),
    name,
    example: first.choices[0]?.name ?? (first.kind === 'number' ? `2 ${first.unit}` : first.usual),
    // What a site asks in every category is about the offer, what it asks in some is about the goods.
    of: categories === null ? 'group' : 'listing',
    read: (full, shop) => {
      const at = asked(full, shop);
      return at ? attributeInWords(at.found, attributeValue(full, at.market, at.found, shop).value) : '';
    },
    origin: (full, shop) => {
      const at = asked(full, shop);
      const by = at ? attributeValue(full, at.market, at.found, shop).by : null;
      return by === null ? 'nothing' : by === 'typed' ? 'typed for this marketplace' : 'preset';
    },
    ...(first.kind === 'choice' && {
      choices: (full: FullListing, shop: ShopTerms) =>
        asked(full, shop)?.found.choices.map((c) => c.name) ?? [],
    }),
    write: (text, full, shop) => {
      const { [attribute]: _, ...others } = full.listing.attributes;
      if (!text.trim()) return set({ listing: { attributes: others } });
      const at = asked(full, shop);
      if (!at) return wrong(`${nameOf(full, shop)} does not ask for ${name} here.`);
      const read = readAttribute(at.found, text, at.market.site.currency);
      return read.ok ? set({ listing: { attributes: { ...others, [attribute]: read.value } } }) : read;
    },
  };
}

/** Every field that listings of the shop have: those that all have, and the attributes that its sites ask for. */
export function cellFieldsOf({ connections }: Pick<ShopTerms, 'connections'>): readonly ListingField[] {
  let known = made.get(connections);
  if (!known) {
    known = fieldsWith(connections.values());
    made.set(connections, known);
  }
  return known;
}

const made = new WeakMap<ShopTerms['connections'], readonly ListingField[]>();

function fieldsWith(connections: Iterable<Connection>): readonly ListingField[] {
  const attributes = new Map<string, SiteAttribute>();
  for (const c of connections)
    if (c.role === 'marketplace')
      for (const a of c.site.attributes) if (!attributes.has(a.id)) attributes.set(a.id, a);
  return [...FIELDS, ...[...attributes.values()].map(attributeField)];
}

/** @throws RangeError where no site of the shop has it */
export function fieldOf(id: FieldId, shop: Pick<ShopTerms, 'connections'>): ListingField {
  const found = id.startsWith(ATTRIBUTE)
    ? cellFieldsOf(shop).find((f) => f.id === id)
    : FIELDS[FIELD_IDS.indexOf(id as FixedFieldId)];
  if (!found) throw new RangeError(`No marketplace asks for “${id.slice(ATTRIBUTE.length)}”.`);
  return found;
}

/** Whether a field is the same on all marketplaces. */
export const isShared = ({ of }: Pick<ListingField, 'of'>): boolean => of === 'product' || of === 'variant';

/** Whether prices or quantities depend on a field. */
export const isOfPrice = (id: FieldId): boolean =>
  id === 'price' ||
  id === 'plan' ||
  id === 'market' ||
  id === 'kept back' ||
  id === 'category' ||
  id === 'weight' ||
  id === 'size' ||
  id === 'brand';
