import { type Catalogue, wordsOf } from '../catalogue';
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

interface Place {
  readonly stall: number;
  readonly row: number;
}

/**
 * Finds for each listing the items it may sell: by SKU, by barcode, else by looks. One pass over all rows
 * gathers the rows of the words that occur in the listings' titles; only the best of those are weighed. Cost:
 * about 60 ms for 200,000 rows and 0.5 ms a listing without SKU or barcode.
 */
export function linkAll(listings: readonly Wanted[], stalls: readonly Stall[]): Proposal[] {
  const offered = ({ stall, row }: Place): Offered => ({
    supplier: stalls[stall]!.supplier,
    currency: stalls[stall]!.currency,
    item: stalls[stall]!.catalogue.itemAt(row),
  });
  const gtins = new Map<number, Place[]>();
  for (const l of listings) if (l.gtin) gtins.set(Number(l.gtin), []);
  const wanted = new Set(listings.flatMap((l) => wordsOf(l.title)));
  const rows = new Map<string, Place[]>();
  const counts = new Map<string, number>();
  let total = 0;
  stalls.forEach(({ catalogue: c }, stall) => {
    const leads = new Uint8Array(c.lists.word.length);
    c.lists.word.forEach((word, i) => {
      if (wanted.has(word)) leads[i] = 1;
    });
    const own = new Map<number, Place[]>();
    for (let row = 0; row < c.length; row++) {
      if (c.gone[row]) continue;
      total++;
      const gtin = Math.floor(c.gtin[row]! / 16);
      if (gtin) gtins.get(gtin)?.push({ stall, row });
      const start = c.wordStart[row]!;
      for (let k = start; k < start + c.wordCount[row]!; k++) {
        const word = c.words[k]!;
        if (!leads[word]) continue;
        const places = own.get(word);
        if (!places) own.set(word, [{ stall, row }]);
        else if (places.length <= COMMON) places.push({ stall, row });
      }
    }
    for (const [word, places] of own) {
      const text = c.lists.word[word]!;
      counts.set(text, (counts.get(text) ?? 0) + places.length);
      rows.set(text, [...(rows.get(text) ?? []), ...places]);
    }
  });
  const rarity: Rarity = (word) => Math.log(1 + total / (1 + (counts.get(word) ?? 0)));
  const scales = scalesFor(rarity);

  const closest = (l: Wanted): Place[] => {
    const points = new Map<number, number>();
    const words = [...new Set([...wordsOf(l.title), ...meaningOf(l.title).words])]
      .filter((w) => rows.has(w) && rows.get(w)!.length <= COMMON)
      .sort((x, y) => rows.get(x)!.length - rows.get(y)!.length)
      .slice(0, 8);
    for (const word of words) {
      const weight = rarity(word);
      for (const { stall, row } of rows.get(word)!)
        points.set(stall * 4_194_304 + row, (points.get(stall * 4_194_304 + row) ?? 0) + weight);
    }
    return [...points]
      .sort((x, y) => y[1] - x[1])
      .slice(0, CLOSE)
      .map(([key]) => ({ stall: Math.floor(key / 4_194_304), row: key % 4_194_304 }));
  };

  const found = listings.map((l) => {
    const candidates: Candidate[] = [];
    const seen = new Set<string>();
    const add = (place: Place, by: Candidate['by']) => {
      const key = `${place.stall} ${place.row}`;
      if (seen.has(key)) return;
      seen.add(key);
      candidates.push(weigh(l, offered(place), by, scales));
    };
    stalls.forEach(({ catalogue: c }, stall) => {
      const row = c.rowOf(l.sku);
      if (row >= 0 && !c.gone[row]) add({ stall, row }, 'sku');
    });
    if (l.gtin) for (const place of gtins.get(Number(l.gtin)) ?? []) add(place, 'gtin');
    if (!candidates.some((c) => c.firm)) for (const place of closest(l)) add(place, 'looks');
    return { wanted: l, proposal: propose(l.id, candidates) };
  });

  const groups = new Map<string, typeof found>();
  for (const one of found) {
    const own = one.wanted.group ? groups.get(one.wanted.group) : undefined;
    if (own) own.push(one);
    else groups.set(one.wanted.group ?? `single ${one.wanted.id}`, [one]);
  }
  const byGroup = new Map<number, Map<string, number[]>>();
  const variantsOf = (supplier: string, group: string): Offered[] => {
    const stall = stalls.findIndex((s) => s.supplier === supplier);
    let own = byGroup.get(stall);
    if (!own) {
      own = new Map();
      const c = stalls[stall]!.catalogue;
      for (let row = 0; row < c.length; row++) {
        const g = c.gone[row] ? null : c.groupAt(row);
        if (!g) continue;
        const members = own.get(g);
        if (members) members.push(row);
        else own.set(g, [row]);
      }
      byGroup.set(stall, own);
    }
    return (own.get(group) ?? []).map((row) => offered({ stall, row }));
  };
  const proposals = new Map<string, Proposal>();
  for (const members of groups.values())
    for (const p of members.length > 1
      ? byVariant(members, variantsOf, scales)
      : members.map((m) => m.proposal))
      proposals.set(p.listing, p);
  return listings.map((l) => proposals.get(l.id)!);
}
