import { fold } from '../copy';

/** What a column of a listing file may hold. */
export const LISTING_FIELDS = [
  'sku',
  'group',
  'title',
  'description',
  'brand',
  'category',
  'gtin',
  'options',
  'pictures',
  'first picture',
  'tags',
  'price',
  'currency',
  'quantity',
] as const;
export type ListingFileField = (typeof LISTING_FIELDS)[number];

/** A column of a listing file: the name that the site gives it, and what is written into it. */
export interface ListingFileColumn {
  readonly header: string;
  readonly holds:
    | { readonly is: 'field'; readonly field: ListingFileField }
    /** The same text in each row; '' leaves the column empty. */
    | { readonly is: 'text'; readonly text: string };
}

/** Words by which the columns of other sites' files are known, in English and German. */
const WORDS: Readonly<Record<ListingFileField, readonly string[]>> = {
  sku: ['sku', 'article number', 'item number', 'artikelnummer', 'id'],
  group: ['group', 'parent', 'parent sku', 'item group', 'gruppe'],
  title: ['title', 'name', 'product name', 'titel', 'bezeichnung'],
  description: ['description', 'text', 'long description', 'beschreibung'],
  brand: ['brand', 'manufacturer', 'marke', 'hersteller'],
  category: ['category', 'kategorie', 'product type'],
  gtin: ['gtin', 'ean', 'upc', 'barcode', 'isbn'],
  options: ['options', 'variant', 'variation', 'variante'],
  pictures: ['pictures', 'images', 'image urls', 'additional images', 'bilder'],
  'first picture': ['picture', 'image', 'image url', 'main image', 'image link', 'bild'],
  tags: ['tags', 'keywords', 'search terms', 'stichworter', 'suchbegriffe'],
  price: ['price', 'selling price', 'preis'],
  currency: ['currency', 'wahrung'],
  quantity: ['quantity', 'stock', 'inventory', 'qty', 'menge', 'bestand', 'anzahl'],
};

const MOST_COLUMNS = 200;
const LONGEST = 120;

/**
 * Columns out of an example of the site's file: its header row, with a guess for each, and the text that stands in every
 * row of the example where no field fits. Null where it has none.
 */
export function columnsOfExample(table: readonly (readonly string[])[]): ListingFileColumn[] | null {
  const [header, ...rows] = table;
  const names = (header ?? []).map((h) => h.trim().slice(0, LONGEST));
  if (!names.some(Boolean) || names.length > MOST_COLUMNS) return null;
  const used = new Set<ListingFileField>();
  return names.map((name, at): ListingFileColumn => {
    const words = fold(name)
      .replace(/[_\-.:]+/g, ' ')
      .trim();
    const field = LISTING_FIELDS.find((f) => !used.has(f) && WORDS[f].includes(words));
    if (field) {
      used.add(field);
      return { header: name, holds: { is: 'field', field } };
    }
    const said = new Set(rows.map((row) => (row[at] ?? '').trim()));
    const [same = ''] = said.size === 1 ? said : [];
    return { header: name, holds: { is: 'text', text: same.slice(0, LONGEST) } };
  });
}
