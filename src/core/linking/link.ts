import type { Item } from '../catalogue';
import { formatMinor } from '../money';
import { type Meaning, meaningOf, valueMeaning } from './words';

/** A listing that looks for the item it sells. */
export interface Wanted {
  readonly id: string;
  readonly sku: string;
  /** Listings of one product with options share it. */
  readonly group: string | null;
  readonly gtin: string | null;
  readonly title: string;
  readonly brand: string;
  readonly options: Readonly<Record<string, string>>;
  /** Minor units of the marketplace's currency. */
  readonly price: number;
  readonly currency: string;
}

/** An item that may be what a listing sells. */
export interface Offered {
  readonly supplier: string;
  readonly item: Item;
  readonly currency: string;
}

/** One thing that speaks for or against a link, in words. */
export interface Reason {
  readonly good: boolean;
  readonly says: string;
}

export interface Candidate {
  readonly supplier: string;
  readonly sku: string;
  readonly title: string;
  readonly cost: number;
  readonly currency: string;
  readonly options: Readonly<Record<string, string>>;
  readonly group: string | null;
  /** 0 to 100. */
  readonly score: number;
  readonly reasons: readonly Reason[];
  /** Nothing speaks against it and enough for it, so that it may be confirmed together with others. */
  readonly firm: boolean;
  readonly by: LinkBy;
}

export type LinkBy = 'sku' | 'gtin' | 'looks';

/** What was found for one listing: the best first. */
export interface Proposal {
  readonly listing: string;
  readonly sure: boolean;
  readonly candidates: readonly Candidate[];
}

/** Rarity of a word among the offered items: what many titles share says little. */
export type Rarity = (word: string) => number;

const SURE_SCORE = 86;
const SURE_GAP = 8;

interface Told extends Meaning {
  readonly all: ReadonlySet<string>;
}

/** What is needed to weigh: how rare words are, and what texts say, each worked out once. */
export interface Scales {
  readonly rarity: Rarity;
  readonly tell: (title: string, brand: string, options: Readonly<Record<string, string>>) => Told;
}

export function scalesFor(rarity: Rarity): Scales {
  const known = new Map<string, Told>();
  return {
    rarity,
    tell: (title, brand, options) => {
      const key = `${title}\n${brand}\n${Object.values(options).join('\n')}`;
      let told = known.get(key);
      if (!told) {
        told = tell(title, brand, options);
        known.set(key, told);
      }
      return told;
    },
  };
}

const tell = (title: string, brand: string, options: Readonly<Record<string, string>>): Told => {
  const own = meaningOf(title);
  const more = meaningOf(`${brand} ${Object.values(options).join(' ')}`);
  return {
    words: own.words,
    measures: new Set([...own.measures, ...more.measures]),
    all: new Set([...own.words, ...more.words]),
  };
};

const weight = (words: Iterable<string>, rarity: Rarity) => {
  let sum = 0;
  for (const w of words) sum += rarity(w);
  return sum;
};

/** How options agree: each value of the one found among the other's, whatever the options are called. */
function compareOptions(
  listing: Wanted,
  item: Item,
  scales: Scales,
): { state: 'none' | 'agree' | 'differ' | 'open'; says: string } {
  const ours = Object.entries(listing.options);
  const theirs = Object.entries(item.options);
  if (!theirs.length)
    return ours.length ? { state: 'open', says: 'The item has no variants.' } : { state: 'none', says: '' };
  const told = ours.length ? ours.map(([, v]) => v) : [];
  const title = ours.length ? null : scales.tell(listing.title, '', {});
  const pairs: string[] = [];
  for (const [name, value] of theirs) {
    const meant = valueMeaning(value);
    const match = told.find((v) => valueMeaning(v) === meant);
    const inTitle =
      title !== null &&
      meant !== '' &&
      meant.split(' ').every((w) => title.all.has(w) || title.measures.has(w));
    if (match !== undefined) pairs.push(match === value ? `${name} ${value}` : `${match} = ${value}`);
    else if (inTitle) pairs.push(`${value} in the title`);
    else if (!told.length)
      return { state: 'open', says: `The listing does not state the ${name.toLowerCase()}.` };
    else
      return { state: 'differ', says: `${told.join(', ')} is not ${theirs.map(([, v]) => v).join(', ')}.` };
  }
  return { state: 'agree', says: pairs.join(', ') };
}

/**
 * Weighs one item against a listing. The score is for ordering; what makes it firm is that nothing
 * contradicts.
 */
export function weigh(listing: Wanted, offered: Offered, by: LinkBy, scales: Scales): Candidate {
  const { item } = offered;
  const { rarity } = scales;
  const ours = scales.tell(listing.title, listing.brand, listing.options);
  const theirs = scales.tell(item.title, item.brand, item.options);
  const common = [...theirs.words].filter((w) => ours.all.has(w));
  const back = [...ours.words].filter((w) => theirs.all.has(w));
  const covers = weight(common, rarity) / Math.max(weight(theirs.words, rarity), 0.001);
  const covered = weight(back, rarity) / Math.max(weight(ours.words, rarity), 0.001);
  const likeness = 0.6 * covers + 0.4 * covered;
  const reasons: Reason[] = [];
  let score = likeness * 80;
  let firm = true;
  const good = (says: string, points: number) => {
    reasons.push({ good: true, says });
    score += points;
  };
  const bad = (says: string, points: number, breaks = true) => {
    reasons.push({ good: false, says });
    score -= points;
    if (breaks) firm = false;
  };
  if (by === 'sku') good(`The SKU ${listing.sku} is the supplier’s.`, 40);
  const sameGtin = listing.gtin !== null && item.gtin !== null && Number(listing.gtin) === Number(item.gtin);
  if (sameGtin) good(`The barcode ${item.gtin} is the same.`, 40);
  else if (listing.gtin !== null && item.gtin !== null)
    bad(`The barcodes differ: ${listing.gtin} and ${item.gtin}.`, 30);
  reasons.push({
    good: likeness >= 0.5,
    says: `Titles match to ${Math.round(likeness * 100)} %: ${common.slice(0, 6).join(', ') || 'no word in common'}.`,
  });
  const need = by === 'looks' ? 0.8 : 0.25;
  if (likeness < need) firm = false;

  const [a, b] = [listing.brand, item.brand].map((t) => valueMeaning(t));
  if (a && b) {
    if (a === b) good(`Same brand, ${item.brand}.`, 8);
    else bad(`Brands differ: ${listing.brand} and ${item.brand}.`, 30);
  } else if (b?.split(' ').every((w) => ours.all.has(w))) good(`The title names the brand ${item.brand}.`, 8);
  else if (by === 'looks') firm = false;

  const missing = [...theirs.measures].filter((m) => !ours.measures.has(m));
  const foreign = [...ours.measures].filter((m) => !theirs.measures.has(m));
  if (missing.length && foreign.length)
    bad(`Dimensions differ: ${foreign.join(', ')} and ${missing.join(', ')}.`, 25, by === 'looks');
  else if (missing.length || foreign.length)
    bad(`Only one of them tells ${[...missing, ...foreign].join(', ')}.`, 6, by === 'looks');
  else if (theirs.measures.size) good(`Same model or dimensions: ${[...theirs.measures].join(', ')}.`, 6);

  const options = compareOptions(listing, item, scales);
  if (options.state === 'agree') good(`Variant: ${options.says}.`, 8);
  else if (options.state === 'differ') bad(`Variant: ${options.says}`, 30);
  else if (options.state === 'open')
    bad(options.says, 4, by === 'looks' || Object.keys(item.options).length > 0);

  if (offered.currency === listing.currency && listing.price > 0) {
    const price = formatMinor(listing.price, listing.currency);
    const cost = formatMinor(item.cost, offered.currency);
    if (listing.price < item.cost)
      bad(`It sells at ${price}, below the cost of ${cost}.`, 12, by === 'looks');
    else if (listing.price > item.cost * 8)
      bad(`It sells at ${price}, more than eight times the cost of ${cost}.`, 8, by === 'looks');
    else good(`The price of ${price} fits a cost of ${cost}.`, 4);
  }
  return {
    supplier: offered.supplier,
    sku: item.sku,
    title: item.title,
    cost: item.cost,
    currency: offered.currency,
    options: item.options,
    group: item.group,
    score: Math.round(Math.min(100, Math.max(0, score))),
    reasons,
    firm,
    by,
  };
}

/**
 * Orders candidates and says whether the best may be taken as sure: firm, high, and clearly ahead of any
 * other item.
 */
export function propose(listing: string, candidates: readonly Candidate[]): Proposal {
  const best = [...candidates].sort(
    (a, b) => Number(b.firm) - Number(a.firm) || b.score - a.score || a.cost - b.cost,
  );
  const [first] = best;
  const same = (a: Candidate, b: Candidate) =>
    a.by !== 'looks' && b.by !== 'looks' && a.supplier !== b.supplier;
  const rival = best.find(
    (c) => c !== first && first && !same(first, c) && (c.by === first.by || c.by !== 'looks'),
  );
  const ahead =
    !rival ||
    (first !== undefined &&
      (!rival.firm || first.score - rival.score >= SURE_GAP) &&
      (first.by !== 'looks' || first.score - rival.score >= SURE_GAP));
  const sure = first?.firm && ahead && (first.by !== 'looks' || first.score >= SURE_SCORE);
  return { listing, sure, candidates: best.slice(0, 6) };
}

/**
 * Where some variants of a listing's product are linked for sure, the others are sought among the variants of
 * the same item: option by option.
 * @param variantsOf all items of a supplier's product
 */
export function byVariant(
  members: readonly { readonly wanted: Wanted; readonly proposal: Proposal }[],
  variantsOf: (supplier: string, group: string) => readonly Offered[],
  scales: Scales,
): Proposal[] {
  const sure = members.filter((m) => m.proposal.sure && m.proposal.candidates[0]!.group);
  const [leader] = sure;
  if (!leader || sure.some((m) => m.proposal.candidates[0]!.group !== leader.proposal.candidates[0]!.group))
    return members.map((m) => m.proposal);
  const { supplier, group } = leader.proposal.candidates[0]!;
  const variants = variantsOf(supplier, group!);
  const used = new Set(sure.map((m) => m.proposal.candidates[0]!.sku));
  return members.map(({ wanted, proposal }) => {
    if (proposal.sure) return proposal;
    const fitting = variants.filter(
      (v) => !used.has(v.item.sku) && compareOptions(wanted, v.item, scales).state === 'agree',
    );
    if (fitting.length !== 1) return proposal;
    const own = weigh(wanted, fitting[0]!, 'looks', scales);
    if (own.reasons.some((r) => !r.good && /^(The barcodes|Brands) differ/.test(r.says))) return proposal;
    used.add(own.sku);
    const reason = { good: true, says: `Its other variants are of the same product, ${group}.` };
    const candidate: Candidate = {
      ...own,
      firm: true,
      score: Math.max(own.score, 90),
      reasons: [reason, ...own.reasons],
    };
    return {
      listing: proposal.listing,
      sure: true,
      candidates: [candidate, ...proposal.candidates.filter((c) => c.sku !== own.sku)].slice(0, 6),
    };
  });
}
