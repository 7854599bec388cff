import { optionsInWords } from '../../core/catalogue';
import { fieldKey, fillTemplate, parseTemplate, plainText, type Template } from '../../core/copy';
import { FEED_FIELDS, type FeedRecord, fieldsAsked, markedAddress, valueIn } from '../../core/feeds';
import { decimalOf, divideHalfUp, WHOLE } from '../../core/money';
import { instantOf } from '../../core/units';
import type { FeedRow, MarketConnection } from '../../store';
import { brandOf, copyFieldsOf, descriptionOf, picturesOf, tagsOf, titleOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { planFor } from '../quoting/plan-choice';
import { attributesOf } from '../quoting/preset-choice';
import { categoryOf } from '../quoting/pricing-terms';
import { quoteListing } from '../quoting/quote';
import { nameIn, type Shop } from '../quoting/worth';

/** What a feed's records are made with, read once for all of them. */
export interface FeedTerms {
  readonly feed: FeedRow;
  readonly market: MarketConnection;
  readonly shop: Shop;
  readonly page: Template | null;
  readonly picture: Template | null;
  /** The fields that it asks for: others that cost much are left out. Null for all. */
  readonly asked: ReadonlySet<string> | null;
}

/** The terms of a feed; null where its marketplace is not connected. */
export function feedTerms(feed: FeedRow, shop: Shop): FeedTerms | null {
  const market = shop.connections.get(feed.market);
  const part = (text: string) => {
    const read = parseTemplate(text);
    return text.trim() && read.ok ? read.template : null;
  };
  return market?.role === 'marketplace'
    ? {
        ...{ feed, market, shop, asked: fieldsAsked(feed.form) },
        ...{ page: part(feed.form.page), picture: part(feed.form.picture) },
      }
    : null;
}

const encoded = (template: Template, record: FeedRecord): string =>
  fillTemplate(template, (field) => valueIn(record, field), encodeURIComponent).text.trim();

/** The instants of a sale, as ISO 8601 has them; '' for no end. */
const instantText = (local: string | null, zone: string): string => {
  const at = local === null ? null : instantOf(local, zone);
  return at === null ? '' : new Date(at).toISOString();
};

/**
 * All that a feed may tell of a listing. Prices are those that buyers see; amounts are decimal texts in the marketplace's
 * currency. Cost: some tens of microseconds.
 */
export function recordOf(full: FullListing, terms: FeedTerms): FeedRecord {
  const { feed, market, shop, asked } = terms;
  const isAsked = (fields: readonly string[]) => !asked || fields.some((field) => asked.has(field));
  const { site } = market;
  const { listing, product, variant, source } = full;
  const { published } = listing;
  const money = (minor: number) => decimalOf(minor, site.currency);
  const price = published?.price ?? null;
  const quote = isAsked(OF_QUOTE) ? quoteListing(full, shop) : null;
  // What buyers see is a sale only where it is the price of the sale.
  const onSale = quote?.full != null && quote.price === price ? quote.full : null;
  const sale = onSale === null ? null : (planFor(shop, full)?.sale ?? null);
  const inside = site.fees.tax.model === 'inside' ? site.fees.tax.rate : 0;
  const [first = '', ...others] = picturesOf(product);
  const html = isAsked(OF_TEXT) ? descriptionOf(full) : '';
  // What is no field of ours may be one of the goods, or an attribute.
  const beside = !asked || [...asked].some((field) => !Object.hasOwn(FEED_FIELDS, field));
  const category = beside || isAsked(OF_CATEGORY) ? categoryOf(full, market, shop) : null;
  const categoryName = site.categories.find((c) => c.id === category)?.name ?? product.taken.category;
  const inStock = listing.state === 'live' && (published?.quantity ?? 0) > 0;
  const record: Record<string, string> = {
    ...(beside && Object.fromEntries(copyFieldsOf(full))),
    ...(beside && attributeTexts(full, terms, category)),
    id: listing.sku,
    sku: listing.sku,
    product: product.group ?? product.id,
    title: titleOf(full),
    description: isAsked(['description']) ? plainOf(full, html) : '',
    'description in html': html,
    brand: brandOf(full),
    barcode: variant.gtin ?? '',
    category: categoryName,
    'target category':
      feed.form.categories[fieldKey(categoryName)] ??
      feed.form.categories[fieldKey(product.taken.category)] ??
      '',
    price: price === null ? '' : money(price),
    'price and currency': price === null ? '' : `${money(price)} ${site.currency}`,
    'price without tax': price === null ? '' : money(divideHalfUp(price * WHOLE, WHOLE + inside)),
    'price with shipping': price === null || feed.shipping === null ? '' : money(price + feed.shipping),
    'tax rate': inside ? String(inside / (WHOLE / 100)) : '',
    'full price': onSale === null ? '' : money(onSale),
    'sale price': onSale === null || price === null ? '' : money(price),
    'sale from': sale ? instantText(sale.from, site.zone) : '',
    'sale until': sale ? instantText(sale.to, site.zone) : '',
    'list price': quote?.msrp == null ? '' : money(quote.msrp),
    currency: site.currency,
    shipping: feed.shipping === null ? '' : money(feed.shipping),
    availability: inStock ? 'in stock' : 'out of stock',
    'availability address': `https://schema.org/${inStock ? 'InStock' : 'OutOfStock'}`,
    quantity: String(inStock ? (published?.quantity ?? 0) : 0),
    condition: 'new',
    'condition address': 'https://schema.org/NewCondition',
    'picture path': first,
    weight: gramsOf(full),
    options: optionsInWords(variant.options),
    tags: tagsOf(full, site).join(','),
    supplier: source ? nameIn(shop)(source.supplier) : '',
    marketplace: market.name,
    listing: listing.page ?? listing.sku,
    mark: feed.mark?.value ?? '',
  };
  const page = terms.page ? encoded(terms.page, record) : (listing.page ?? '');
  const pictureAt = (path: string) =>
    terms.picture ? encoded(terms.picture, { ...record, 'picture path': path }) : path;
  const pictures = [first, ...others].filter(Boolean).map(pictureAt);
  return {
    ...record,
    page: markedAddress(page, feed.mark),
    picture: pictures[0] ?? '',
    pictures: pictures.join(','),
  };
}

const OF_QUOTE = ['full price', 'sale price', 'sale from', 'sale until', 'list price'] as const;
const OF_TEXT = ['description', 'description in html'] as const;
const OF_CATEGORY = ['category', 'target category'] as const;

/** Descriptions without markup, kept for as long as the listing is the same object. */
const plain = new WeakMap<FullListing, string>();
function plainOf(full: FullListing, html: string): string {
  let known = plain.get(full);
  if (known === undefined) {
    known = plainText(html);
    plain.set(full, known);
  }
  return known;
}

const gramsOf = ({ variant, item, source }: FullListing): string => {
  const grams = variant.grams ?? (item?.grams == null ? null : item.grams * (source?.pack ?? 1));
  return grams === null ? '' : String(grams);
};

/** Attributes that the site is told, under their names. */
function attributeTexts(full: FullListing, { market, shop }: FeedTerms, category: string | null) {
  const told = attributesOf(full, market, category, shop);
  return Object.fromEntries(
    market.site.attributes.flatMap(({ id, name }) => (told[id] ? [[fieldKey(name), told[id]] as const] : [])),
  );
}
