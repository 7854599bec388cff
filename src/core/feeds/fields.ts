/** What every product in a feed has, each with what it means. Options and attributes of the goods come besides, by their names. */
export const FEED_FIELDS = {
  id: 'tells it from all others: the SKU, of variants together the product’s',
  sku: 'our SKU',
  product: 'the same for all variants of a product',
  title: 'as on the marketplace',
  description: 'without markup',
  'description in html': 'as on the marketplace',
  brand: 'the brand',
  barcode: 'GTIN with its check digit',
  category: 'the marketplace’s, else the supplier’s',
  'target category': 'by the table of categories of this feed',
  price: 'what buyers pay for it now, 24.99',
  'price and currency': '24.99 GBP',
  'price without tax': 'where tax is inside the price',
  'price with shipping': 'the price and what buyers pay for shipping',
  'tax rate': 'in percent, where tax is inside the price',
  'full price': 'without the sale; empty without one',
  'sale price': 'during a sale; empty without one',
  'sale from': 'the first instant of the sale, ISO 8601',
  'sale until': 'its last instant',
  'list price': 'what its maker recommends',
  currency: 'the marketplace’s, ISO 4217',
  shipping: 'what buyers pay for shipping',
  availability: 'in stock, or out of stock',
  'availability address': 'the same in schema.org',
  quantity: 'units that buyers see',
  condition: 'new',
  'condition address': 'the same in schema.org',
  page: 'the address of its page, with the mark of this feed',
  picture: 'the address of its first picture',
  pictures: 'of all of them, commas between them',
  'picture path': 'the first picture as its supplier names it',
  weight: 'in grams',
  options: 'colour and size of a variant, in words',
  tags: 'commas between them',
  supplier: 'who it is bought from',
  marketplace: 'whose listing it is',
  listing: 'its page there, or its SKU',
  mark: 'the mark of this feed',
} as const satisfies Readonly<Record<string, string>>;

export type FeedField = keyof typeof FEED_FIELDS;

/** What is known of a product in a feed, by field; options and attributes under their names besides. */
export type FeedRecord = Readonly<Record<string, string>>;

/** Where a value is mended. */
export const MENDED_AT: Readonly<Partial<Record<FeedField, string>>> = {
  title: 'Change its title in the listing.',
  description: 'Change its description in the listing.',
  'description in html': 'Change its description in the listing.',
  brand: 'Give the product a brand.',
  barcode: 'Give the variant its barcode.',
  category: 'Choose its category in the listing.',
  'target category': 'Give its category one of the target in the table of categories.',
  price: 'See why it has no price.',
  page: 'Publish it, or give the address of pages as a pattern.',
  picture: 'Give the product a picture, or the address of pictures as a pattern.',
  pictures: 'Give the product a picture, or the address of pictures as a pattern.',
  quantity: 'See why none is shown.',
  weight: 'Give the variant its weight.',
};
