import { type Catalogue, gtinNumber, wordsOf } from '../catalogue';
import {
  byVariant,
  type Candidate,
  type Offered,
  type Proposal,
  propose,
  type Rarity,
  scalesFor,
  type Wanted,
  weigh,
} from './link';
import { meaningOf } from './words';

/** One supplier's items to look among. */
export interface Stall {
  readonly supplier: string;
  readonly currency: string;
  readonly catalogue: Catalogue;
}

/** Rows looked at closely for one listing. */
const CLOSE = 24;
/** A word that more rows have than this leads nowhere. */
const COMMON = 6_000;
/** Words of one title that are followed, the rarest first. */
const FOLLOWED = 8;

interface Place {
  readonly stall: number;
  readonly row: number;
}

/** Rows of a stall below this have a key of their own among all. */
const ROWS = 4_194_304;
const keyOf = ({ stall, row }: Place): number => stall * ROWS + row;
const placeOf = (key: number): Place => ({ stall: Math.floor(key / ROWS), row: key % ROWS });

/** Adds to the list that is kept under a key. */
function addTo<K, V>(lists: Map<K, V[]>, key: K, value: V): void {
  const known = lists.get(key);
  if (known) known.push(value);
  else lists.set(key, [value]);
}

/** Where the barcodes and the words of the listings occur among the offered items. */
interface Occurrences {
  readonly gtins: ReadonlyMap<number, readonly Place[]>;
  readonly words: ReadonlyMap<string, readonly Place[]>;
  /** Items offered, all in all. */
  readonly total: number;
}

/** Goes through all rows once. */
function gather(listings: readonly Wanted[], stalls: readonly Stall[]): Occurrences {
  const gtins = new Map<number, Place[]>();
  for (const l of listings) if (l.gtin) gtins.set(Number(l.gtin), []);
  const wanted = new Set(listings.flatMap((l) => wordsOf(l.title)));
  const words = new Map<string, Place[]>();
  let total = 0;
  for (const [stall, { catalogue: c }] of stalls.entries()) {
    const texts = c.lists.word;
    const leads = Uint8Array.from(texts, (word) => (wanted.has(word) ? 1 : 0));
    const own = new Map<number, Place[]>();
    for (let row = 0; row < c.length; row++) {
      if (c.gone[row]) continue;
      total++;
      const gtin = gtinNumber(c.gtin[row]!);
      if (gtin) gtins.get(gtin)?.push({ stall, row });
      const start = c.wordStart[row]!;
      for (let k = start; k < start + c.wordCount[row]!; k++) {
        const word = c.words[k]!;
        if (leads[word] && (own.get(word)?.length ?? 0) <= COMMON) addTo(own, word, { stall, row });
      }
    }
    for (const [word, places] of own) {
      const text = texts[word]!;
      words.set(text, [...(words.get(text) ?? []), ...places]);
    }
  }
  return { gtins, words, total };
}

/** Rows that share the rarest words with a listing's title, those that share most first. */
function closest(listing: Wanted, { words }: Occurrences, rarity: Rarity): Place[] {
  const leading = [...new Set([...wordsOf(listing.title), ...meaningOf(listing.title).words])]
    .flatMap((word) => {
      const places = words.get(word);
      return places && places.length <= COMMON ? [{ weight: rarity(word), places }] : [];
    })
    .sort((x, y) => x.places.length - y.places.length)
    .slice(0, FOLLOWED);
  const points = new Map<number, number>();
  for (const { weight, places } of leading)
    for (const place of places) points.set(keyOf(place), (points.get(keyOf(place)) ?? 0) + weight);
  return [...points]
    .sort((x, y) => y[1] - x[1])
    .slice(0, CLOSE)
    .map(([key]) => placeOf(key));
}

/** The rows of each group of a catalogue. */
function rowsByGroup(c: Catalogue): Map<string, number[]> {
  const rows = new Map<string, number[]>();
  for (let row = 0; row < c.length; row++) {
    const group = c.gone[row] ? null : c.groupAt(row);
    if (group) addTo(rows, group, row);
  }
  return rows;
}

/**
 * Finds for each listing the items it may sell: by SKU, by barcode, else by looks; listings of one product together, so
 * that its options go to the variants of one item. One pass over all rows gathers the rows of the words that occur in the
 * listings' titles; only the best of those are weighed. Cost: about 60 ms for 200,000 rows and 0.5 ms a listing without SKU
 * or barcode.
 */
export function linkAll(listings: readonly Wanted[], stalls: readonly Stall[]): Proposal[] {
  const occurrences = gather(listings, stalls);
  const { gtins, words, total } = occurrences;
  const rarity: Rarity = (word) => Math.log(1 + total / (1 + (words.get(word)?.length ?? 0)));
  const scales = scalesFor(rarity);
  const offered = ({ stall, row }: Place): Offered => {
    const { supplier, currency, catalogue } = stalls[stall]!;
    return { supplier, currency, item: catalogue.itemAt(row) };
  };

  const candidatesOf = (wanted: Wanted): Candidate[] => {
    const found = new Map<number, Candidate>();
    const add = (place: Place, by: Candidate['by']) => {
      const key = keyOf(place);
      if (!found.has(key)) found.set(key, weigh(wanted, offered(place), by, scales));
    };
    for (const [stall, { catalogue: c }] of stalls.entries()) {
      const row = c.rowOf(wanted.sku);
      if (row >= 0 && !c.gone[row]) add({ stall, row }, 'sku');
    }
    if (wanted.gtin) for (const place of gtins.get(Number(wanted.gtin)) ?? []) add(place, 'gtin');
    if (![...found.values()].some((c) => c.firm))
      for (const place of closest(wanted, occurrences, rarity)) add(place, 'looks');
    return [...found.values()];
  };

  const grouped = new Map<number, Map<string, number[]>>();
  const variantsOf = (supplier: string, group: string): Offered[] => {
    const stall = stalls.findIndex((s) => s.supplier === supplier);
    const rows = grouped.get(stall) ?? rowsByGroup(stalls[stall]!.catalogue);
    grouped.set(stall, rows);
    return (rows.get(group) ?? []).map((row) => offered({ stall, row }));
  };

  const products = new Map<string, { wanted: Wanted; proposal: Proposal }[]>();
  for (const wanted of listings)
    addTo(products, wanted.group ?? `single ${wanted.id}`, {
      wanted,
      proposal: propose(wanted.id, candidatesOf(wanted)),
    });
  const proposals = new Map<string, Proposal>();
  for (const members of products.values())
    for (const p of members.length > 1
      ? byVariant(members, variantsOf, scales)
      : members.map((m) => m.proposal))
      proposals.set(p.listing, p);
  return listings.map((l) => proposals.get(l.id)!);
}
