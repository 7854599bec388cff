import { attributesIn, choiceFor, readAttribute, type Site, type SiteAttribute } from '../../core/checks';
import { fieldKey } from '../../core/copy';
import { EVERYTHING, problemInWords } from '../../core/query';
import type { MarketConnection, Preset, RowChange } from '../../store';
import type { Work } from '../context/work';
import type { Queued } from '../listings/publish';
import { saveMarketRules } from '../listings/rules';
import { caughtUp } from '../memory/assortment';
import { copyFieldsOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { goodsProblems } from '../quoting/goods';
import { isOnBench } from '../quoting/listing-standing';
import { follows } from '../quoting/offer';
import { attributesOf, presetsFor } from '../quoting/preset-choice';
import { categoryOf } from '../quoting/pricing-terms';
import type { Connected } from '../quoting/worth';
import { marketOf } from '../quoting/worth';

/** A word of the goods in the field that fills an attribute. */
export interface FieldWord {
  readonly word: string;
  readonly listings: number;
  /** The site’s own default for it; '' where none is known. */
  readonly known: string;
}

/** The preview of a preset. */
export interface WeighedPreset {
  /** Listings that its search line matches, and those of them that have what it sets from one before it. */
  readonly matches: number;
  readonly taken: number;
  /** Listings that would be told something else, and those of them on sale. */
  readonly touched: number;
  readonly onSale: number;
  /** Listings that its line matches and that still lack a needed attribute, by attribute. */
  readonly empty: readonly (readonly [attribute: string, listings: number])[];
  /** Words of the goods in the fields that fill attributes, by attribute, those that nobody knows first. */
  readonly words: Readonly<Record<string, readonly FieldWord[]>>;
  /** Fields that goods have, most first. */
  readonly fields: readonly string[];
}

/** Words that are shown of a field at most. */
const MOST_WORDS = 100;

/** Presets as they would be with one of them as it is written now; a new one comes first, as it is about fewer goods. */
export const withPreset = (presets: readonly Preset[], draft: Preset): Preset[] =>
  presets.some((p) => p.id === draft.id)
    ? presets.map((p) => (p.id === draft.id ? draft : p))
    : [draft, ...presets];

const told = (full: FullListing, market: MarketConnection, shop: Connected) => {
  const category = categoryOf(full, market, shop);
  return { category, attributes: attributesOf(full, market, category, shop) };
};

const differ = (a: ReturnType<typeof told>, b: ReturnType<typeof told>) =>
  JSON.stringify(a) !== JSON.stringify(b);

/** Whether a site is told something else of a listing in one shop than in another. */
export const toldDiffers = (
  full: FullListing,
  [was, before]: readonly [MarketConnection, Connected],
  [is, after]: readonly [MarketConnection, Connected],
): boolean => differ(told(full, was, before), told(full, is, after));

/** Goes through the listings of a marketplace and counts what a preset would do. Cost: some microseconds for each. */
export class PresetWeighing {
  private readonly words = new Map<string, Map<string, { word: string; listings: number }>>();
  private readonly empty = new Map<string, number>();
  private readonly fields = new Map<string, number>();
  private readonly changed: MarketConnection;
  private counts = { matches: 0, taken: 0, touched: 0, onSale: 0 };

  constructor(
    private readonly market: MarketConnection,
    private readonly draft: Preset,
    private readonly shop: Connected,
  ) {
    this.changed = { ...market, presets: withPreset(market.presets ?? [], draft) };
  }

  add(full: FullListing): void {
    if (full.listing.marketplace !== this.market.id) return;
    const { draft, changed, market } = this;
    const [before, after] = [told(full, market, this.shop), told(full, changed, this.shop)];
    if (differ(before, after)) {
      this.counts.touched++;
      if (follows(full.listing)) this.counts.onSale++;
    }
    const covering = presetsFor(full, changed, this.shop);
    if (!covering.includes(draft)) return;
    this.counts.matches++;
    const earlier = covering.slice(0, covering.indexOf(draft));
    if (Object.keys(draft.fills).some((id) => earlier.some((p) => Object.hasOwn(p.fills, id))))
      this.counts.taken++;
    const goods = copyFieldsOf(full);
    for (const [field, value] of goods) if (value) count(this.fields, field);
    for (const attribute of attributesIn(market.site.attributes, after.category)) {
      const { id } = attribute;
      if (attribute.needed && !after.attributes[id]) count(this.empty, id);
      const fill = Object.hasOwn(draft.fills, id) ? draft.fills[id] : undefined;
      if (fill?.from !== 'field') continue;
      const word = goods.get(fieldKey(fill.field));
      if (!word) continue;
      let known = this.words.get(id);
      if (!known) {
        known = new Map();
        this.words.set(id, known);
      }
      const key = fieldKey(word);
      const one = known.get(key) ?? { word, listings: 0 };
      one.listings++;
      known.set(key, one);
    }
  }

  weighed(): WeighedPreset {
    const { attributes } = this.market.site;
    const by = (a: readonly [string, number], b: readonly [string, number]) =>
      b[1] - a[1] || (a[0] < b[0] ? -1 : 1);
    return {
      ...this.counts,
      empty: [...this.empty].sort(by),
      fields: [...this.fields].sort(by).map(([field]) => field),
      words: Object.fromEntries(
        [...this.words].map(([id, words]) => [
          id,
          wordsKnown(attributes.find((a) => a.id === id)!, [...words.values()]),
        ]),
      ),
    };
  }
}

const count = (map: Map<string, number>, key: string) => map.set(key, (map.get(key) ?? 0) + 1);

function wordsKnown(attribute: SiteAttribute, words: { word: string; listings: number }[]): FieldWord[] {
  return words
    .map((one) => ({ ...one, known: choiceFor(attribute.choices, one.word)?.id ?? '' }))
    .sort((a, b) => Number(a.known !== '') - Number(b.known !== '') || b.listings - a.listings)
    .slice(0, MOST_WORDS);
}

export type SavedPresets = ({ readonly ok: true } & Queued) | { readonly ok: false; readonly reason: string };

/**
 * Keeps the presets of a marketplace, as one change: approvals of what they change fall away, what is on sale is told.
 * @param says what was done, for the history
 */
export async function savePresets(
  work: Work,
  marketId: string,
  presets: readonly Preset[],
  says: string,
): Promise<SavedPresets> {
  const { db } = work;
  const named = presets.map((p) => ({ ...p, name: p.name.trim().slice(0, 80) }));
  if (named.some((p) => !p.name)) return { ok: false, reason: 'Give the preset a name.' };
  const twice = named.find((p, i) => named.findIndex((q) => fieldKey(q.name) === fieldKey(p.name)) !== i);
  if (twice) return { ok: false, reason: `There is a preset “${twice.name}” already.` };
  return db.transaction('rw', db.shopTables, async () => {
    const assortment = await caughtUp(work);
    const market = marketOf(assortment.shop, marketId);
    if (!market) return { ok: false, reason: 'This marketplace is not connected any more.' };
    const misread = named.flatMap((p) =>
      goodsProblems(p.filter, assortment.shop).map((problem) => `“${p.name}”: ${problemInWords(problem)}`),
    );
    const wrong = misread[0] ?? named.flatMap((p) => fillProblems(p, market))[0];
    if (wrong) return { ok: false, reason: wrong };
    const then = { ...market, presets: named };
    const rows: RowChange[] = [];
    for (const [, full] of assortment.all()) {
      const { listing } = full;
      if (listing.marketplace !== marketId || !isOnBench(listing) || listing.approvedAt === null) continue;
      if (differ(told(full, market, assortment.shop), told(full, then, assortment.shop)))
        rows.push({ table: 'listings', id: listing.id, set: { approvedAt: null }, says });
    }
    return { ok: true, ...(await saveMarketRules(work, marketId, { presets: named }, rows, says)) };
  });
}

/** The values of a preset that a site would refuse. */
export function fillProblems({ fills }: Pick<Preset, 'fills'>, { site }: MarketConnection): string[] {
  return site.attributes.flatMap((attribute) => {
    const fill = fills[attribute.id];
    if (fill?.from !== 'value') return [];
    const read = readAttribute(attribute, fill.value, site.currency);
    return read.ok ? [] : [read.reason];
  });
}

/** The site’s usual values as a preset for all goods; none where it states none. */
export function usualPresets({ attributes }: Site, id: string): readonly Preset[] {
  const usual = attributes.filter((a) => a.usual);
  if (!usual.length) return [];
  const fills = Object.fromEntries(usual.map((a) => [a.id, { from: 'value', value: a.usual } as const]));
  return [{ id, name: 'Usual', on: true, filter: EVERYTHING, category: null, fills }];
}
