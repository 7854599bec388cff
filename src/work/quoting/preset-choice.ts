import { attributesIn, readAttribute, type SiteAttribute } from '../../core/checks';
import { fieldKey } from '../../core/copy';
import { decimalOf } from '../../core/money';
import type { MarketConnection, Preset, PresetFill } from '../../store';
import { copyFieldsOf } from './copy';
import type { FullListing } from './full-listing';
import { coversGoods } from './goods';
import type { Connected } from './worth';

/** The presets of a marketplace that cover a listing, in order. */
export const presetsFor = (
  full: FullListing,
  { presets = [] }: Pick<MarketConnection, 'presets'>,
  shop: Connected,
): Preset[] => presets.filter((p) => p.on && coversGoods(p.filter, full, shop));

/** The category that a preset gives a listing, where the site has it; null where none does. */
export function presetCategory(full: FullListing, market: MarketConnection, shop: Connected): string | null {
  if (!market.presets?.some((p) => p.category !== null)) return null;
  const found = presetsFor(full, market, shop).find((p) => p.category !== null)?.category ?? null;
  return found !== null && market.site.categories.some((c) => c.id === found) ? found : null;
}

/**
 * What a fill gives for a listing, as the site is told; '' where the goods have nothing there, or a word that neither the
 * table nor the attribute knows.
 */
export function filledBy(
  fill: PresetFill,
  attribute: SiteAttribute,
  fields: () => ReadonlyMap<string, string>,
  currency: string,
): string {
  if (fill.from === 'value') return fill.value;
  const word = fields().get(fieldKey(fill.field)) ?? '';
  if (!word) return '';
  const key = fieldKey(word);
  if (Object.hasOwn(fill.words, key)) return fill.words[key]!;
  const read = readAttribute(attribute, word, currency);
  return read.ok ? read.value : '';
}

/** Where the value of an attribute comes from. */
export type AttributeValue = { readonly value: string; readonly by: 'typed' | Preset | null };

/** What a listing holds in one attribute, and by what: typed, else by the first preset that gives something. */
export function attributeValue(
  full: FullListing,
  market: MarketConnection,
  attribute: SiteAttribute,
  shop: Connected,
  covering: readonly Preset[] = presetsFor(full, market, shop),
  fields: () => ReadonlyMap<string, string> = () => copyFieldsOf(full),
): AttributeValue {
  const typed = full.listing.attributes[attribute.id];
  if (typed) return { value: typed, by: 'typed' };
  for (const preset of covering) {
    const fill = Object.hasOwn(preset.fills, attribute.id) ? preset.fills[attribute.id] : undefined;
    const value = fill ? filledBy(fill, attribute, fields, market.site.currency) : '';
    if (value) return { value, by: preset };
  }
  return { value: '', by: null };
}

/** The attributes of a listing that its site has in a category, as the site is told them. */
export function attributesOf(
  full: FullListing,
  market: MarketConnection,
  category: string | null,
  shop: Connected,
  /** During a sale the price without it. */
  before: number | null = null,
): Record<string, string> {
  const asked = attributesIn(market.site.attributes, category);
  if (!asked.length) return {};
  const covering = presetsFor(full, market, shop);
  let known: ReadonlyMap<string, string> | undefined;
  const fields = () => {
    known ??= copyFieldsOf(full);
    return known;
  };
  const values: Record<string, string> = {};
  for (const attribute of asked) {
    const { value: said } = attributeValue(full, market, attribute, shop, covering, fields);
    const value =
      said || (attribute.isBefore && before !== null ? decimalOf(before, market.site.currency) : '');
    if (value) values[attribute.id] = value;
  }
  return values;
}
