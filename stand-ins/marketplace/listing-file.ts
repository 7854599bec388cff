import Papa from 'papaparse';
import { listingErrors, type Market, putListing, specOf } from './market';

/** The columns of the file in which shops without a service list their goods, as the marketplace names them. */
const COLUMNS = [
  'Article',
  'Product name',
  'Text',
  'Kind',
  'Maker',
  'EAN',
  'Images',
  'Tags',
  'Price',
  'Stock',
  'Condition',
] as const;

const KNOWN: Readonly<Record<string, (typeof COLUMNS)[number]>> = {
  sku: 'Article',
  title: 'Product name',
  description: 'Text',
  category: 'Kind',
  brand: 'Maker',
  gtin: 'EAN',
  pictures: 'Images',
  tags: 'Tags',
  price: 'Price',
  quantity: 'Stock',
};

/** The example that it hands to its sellers. */
export const exampleFile = (m: Market): string =>
  `${Papa.unparse({
    fields: [...COLUMNS],
    data: [
      [
        'LAMP-1',
        'Lamp for star parties, red',
        '<p>Red light only.</p>',
        specOf(m).site.categories[0]!.name,
        'Yourself',
        '',
        'https://pictures.example/lamp.jpg',
        'lamp, stargazing',
        '24.90',
        '3',
        'new',
      ],
    ],
  })}\r\n`;

/** Takes a listing file in, and answers each row of it: sku, status, reason. */
export function takeListingFile(m: Market, text: string): string {
  const { site } = specOf(m);
  const said = {
    maker: 'another',
    ...Object.fromEntries((site.attributes ?? []).flatMap((a) => (a.usual ? [[a.id, a.usual]] : []))),
  };
  const { data } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    // Its own columns, or those that a program writes of itself.
    transformHeader: (name) => KNOWN[name.trim().toLowerCase()] ?? name.trim(),
  });
  const answers = data.map((row): [sku: string, status: string, reason: string] => {
    const sku = (row.Article ?? '').trim();
    if (!sku) return ['', 'refused', 'A row without an article number.'];
    const kind = (row.Kind ?? '').trim().toLowerCase();
    const category = site.categories.find((c) => c.name.toLowerCase() === kind || c.id === kind);
    const listing = {
      sku,
      title: row['Product name'] ?? '',
      description: row.Text ?? '',
      category: category?.id ?? site.categories[0]!.id,
      brand: row.Maker ?? '',
      pictures: (row.Images ?? '').split(/[\s,|]+/).filter(Boolean),
      tags: (row.Tags ?? '')
        .split(',')
        .map((tag) => tag.trim())
        .filter(Boolean),
      price: row.Price ?? '',
      quantity: Number(row.Stock),
      state: 'live' as const,
      // Who sends files has said these once, when the shop was opened.
      attributes: said,
      ...(row.EAN && { gtin: row.EAN }),
    };
    const errors = listingErrors(m, listing);
    if (errors.length) return [sku, 'refused', errors.map((e) => `${e.field}: ${e.reason}`).join(' ')];
    putListing(m, listing);
    m.listings[sku]!.state = listing.quantity > 0 ? 'live' : 'paused';
    return [sku, 'accepted', ''];
  });
  return `${Papa.unparse({ fields: ['sku', 'status', 'reason'], data: answers })}\r\n`;
}
