import { plainText } from '../copy';
import { readAmount, readGtin, readStock } from './cells';
import type { Match } from './match';
import { MOST_TEXT, placeOf, placesOf, Row, type RowRefusal } from './row';
import { skuIn } from './sku-cell';

/** A listing as a shop's own export tells it. */
export interface ListingRow {
  readonly sku: string;
  readonly group: string | null;
  readonly title: string;
  readonly category: string;
  readonly brand: string;
  readonly gtin: string | null;
  readonly options: Readonly<Record<string, string>>;
  readonly price: number;
  readonly quantity: number;
  readonly state: 'live' | 'paused' | 'ended';
  readonly description: string;
  readonly pictures: readonly string[];
}

const LONGEST_OWN_SKU = 100;

const ENDED =
  /^(ended|closed|sold|inactive|beendet|geschlossen|terminé|zakończona|finalizado|archived|removed)$/i;
const PAUSED = /^(paused|hidden|draft|pausiert|en pause|wstrzymana|pausado)$/i;

const stateOf = (text: string): ListingRow['state'] =>
  ENDED.test(text) ? 'ended' : PAUSED.test(text) ? 'paused' : 'live';

/** The reader of a shop's listings. */
export function listingReader(
  match: Match,
): (cells: readonly string[]) => { readonly ok: true; readonly listing: ListingRow } | RowRefusal {
  const at = {
    sku: placeOf(match, 'sku'),
    title: placeOf(match, 'title'),
    price: placeOf(match, 'price'),
    stock: placeOf(match, 'stock'),
    state: placeOf(match, 'state'),
    parent: placeOf(match, 'parent'),
    gtin: placeOf(match, 'gtin'),
    brand: placeOf(match, 'brand'),
    category: placeOf(match, 'category'),
    description: placeOf(match, 'description'),
  };
  const options = placesOf(match, 'option').map((place) => ({
    place,
    name: plainText(match.header[place] ?? '').slice(0, 40),
  }));
  const pictures = placesOf(match, 'picture');
  const row = new Row(match);
  return (cells) => {
    row.take(cells);
    const sku = skuIn(row.text(at.sku));
    if (!sku) return row.wrong(at.sku, 'the SKU is empty');
    if (sku.length > LONGEST_OWN_SKU)
      return row.wrong(at.sku, `the SKU has more than ${LONGEST_OWN_SKU} characters`);
    const title = plainText(row.text(at.title)).slice(0, 500);
    if (!title) return row.wrong(at.title, 'the title is empty');
    const price = readAmount(row.text(at.price), match.decimal, match.currency);
    if (!price.ok) return row.wrong(at.price, `the price ${price.reason}`);
    const quantity = readStock(row.text(at.stock) || '0', match.someStock);
    if (!quantity.ok) return row.wrong(at.stock, `the quantity ${quantity.reason}`);
    const gtin = readGtin(row.text(at.gtin));
    const chosen = options.flatMap(({ place, name }) => {
      const text = row.text(place);
      return text ? [[name, plainText(text).slice(0, 100)] as const] : [];
    });
    return {
      ok: true,
      listing: {
        sku,
        group: row.text(at.parent).slice(0, 64) || null,
        title,
        category: plainText(row.text(at.category)).slice(0, 200),
        brand: plainText(row.text(at.brand)).slice(0, 120),
        gtin: gtin.ok ? gtin.value : null,
        options: Object.fromEntries(chosen),
        price: price.value,
        quantity: quantity.value,
        state: stateOf(row.text(at.state)),
        description: row.text(at.description).slice(0, MOST_TEXT),
        pictures: pictures.map((place) => row.text(place)).filter((p) => /^https?:\/\//i.test(p)),
      },
    };
  };
}
