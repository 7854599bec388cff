import type { Entry, EntryKind } from '../ledger';
import type { Currency } from '../money';
import { grouped, type Instant } from '../units';

/** What a line of an account statement is for, where it belongs to an order. */
export const STATED_KINDS = [
  'sale',
  'buyer shipping',
  'refund',
  'sale fee',
  'listing fee',
  'advertising',
  'payment fee',
  'fees',
  'goods',
  'shipping',
  'tax',
  'return',
  'in all',
] as const;
export type StatedKind = (typeof STATED_KINDS)[number];

/** What belongs to no order: a charge for itself, and money that changed hands. */
export const APART_KINDS = ['charge', 'payout'] as const;
export type LineKind = StatedKind | (typeof APART_KINDS)[number];

export const isStatedKind = (kind: LineKind): kind is StatedKind => kind !== 'charge' && kind !== 'payout';

/** What is compared as one: kinds that the two sides may tell apart otherwise. */
export type StatedGroup =
  | 'sales'
  | 'refunds'
  | 'fees'
  | 'payment fees'
  | 'goods'
  | 'shipping'
  | 'tax'
  | 'returns';

/** A connection's side of the trade: whose statement it is. */
export type Side = 'marketplace' | 'supplier';

const FEES: readonly StatedGroup[] = ['fees', 'payment fees'];
const ALL: Readonly<Record<Side, readonly StatedGroup[]>> = {
  marketplace: ['sales', 'refunds', 'fees', 'payment fees', 'tax', 'returns'],
  supplier: ['goods', 'shipping', 'tax', 'returns'],
};

const GROUP: Readonly<Record<Exclude<StatedKind, 'fees' | 'in all'>, StatedGroup>> = {
  sale: 'sales',
  'buyer shipping': 'sales',
  refund: 'refunds',
  'sale fee': 'fees',
  'listing fee': 'fees',
  advertising: 'fees',
  'payment fee': 'payment fees',
  goods: 'goods',
  shipping: 'shipping',
  tax: 'tax',
  return: 'returns',
};

/** The groups that an amount of a kind is spread over, as far as anybody can tell. */
export function groupsOf(kind: StatedKind, side: Side): readonly StatedGroup[] {
  if (kind === 'in all') return ALL[side];
  return kind === 'fees' ? FEES : [GROUP[kind]];
}

/** In which group an entry is compared; undefined for what no statement has: tax that the seller owes, what rules add. */
const RECORDED: Readonly<Record<Side, Readonly<Partial<Record<EntryKind, StatedGroup>>>>> = {
  marketplace: {
    sale: 'sales',
    'buyer shipping': 'sales',
    refund: 'refunds',
    'sale fee': 'fees',
    'listing fee': 'fees',
    advertising: 'fees',
    'payment fee': 'payment fees',
    'return label': 'returns',
  },
  supplier: {
    goods: 'goods',
    shipping: 'shipping',
    'tax on cost': 'tax',
    credit: 'returns',
    restocking: 'returns',
    'sending again': 'returns',
  },
};

export const groupOfEntry = (kind: EntryKind, side: Side): StatedGroup | undefined => RECORDED[side][kind];

/** As which entry a correction of a group is made. */
export const CORRECTED: Readonly<Record<Side, Readonly<Record<StatedGroup, EntryKind>>>> = {
  marketplace: {
    sales: 'sale',
    refunds: 'refund',
    fees: 'sale fee',
    'payment fees': 'payment fee',
    goods: 'sale fee',
    shipping: 'sale fee',
    tax: 'sale fee',
    returns: 'return label',
  },
  supplier: {
    sales: 'goods',
    refunds: 'goods',
    fees: 'goods',
    'payment fees': 'goods',
    goods: 'goods',
    shipping: 'shipping',
    tax: 'tax on cost',
    returns: 'restocking',
  },
};

/** An amount that a statement says of an order: towards the seller above nothing, away below. */
export interface StatedAmount {
  /** Its line in the statement, from 1. */
  readonly line: number;
  readonly kind: StatedKind;
  readonly amount: number;
  /** Such as `2026-11-30`. */
  readonly day: string;
  /** The other side's reference for the line; '' for none. */
  readonly document: string;
}

/** What one statement says of one order, or of one purchase of it. */
export interface Stated {
  /** The statement's id. */
  readonly statement: string;
  /** Whose it is. */
  readonly from: string;
  readonly side: Side;
  /** The reference of the purchase; null for the sale. */
  readonly purchase: string | null;
  readonly currency: Currency;
  /** The end of its last day: what was entered later may stand in the next one. */
  readonly until: Instant;
  /** What the statement tells of at all: nothing is missed that it never speaks of. */
  readonly covers: readonly StatedGroup[];
  readonly amounts: readonly StatedAmount[];
}

/** An amount of an order that is stated otherwise than it is recorded. */
export interface Difference {
  /** The statement that was taken in last of those that speak of it. */
  readonly statement: string;
  readonly from: string;
  readonly side: Side;
  readonly purchase: string | null;
  /** Compared together. */
  readonly groups: readonly StatedGroup[];
  readonly currency: Currency;
  readonly recorded: number;
  readonly stated: number;
  /** What is stated beyond what is recorded; below nothing where it is worse for the seller. */
  readonly minor: number;
}

/** A difference that a person looked at and left: the shop's own record holds. */
export interface Kept {
  /** As of {@link slotOf}. */
  readonly slot: string;
  readonly minor: number;
  readonly at: Instant;
}

/** Names what a difference is about, whatever it amounts to. */
export const slotOf = (d: Pick<Difference, 'from' | 'purchase' | 'groups'>): string =>
  `${d.from} ${d.purchase ?? ''} ${d.groups.join('+')}`;

/** Whose entry it is, and of which purchase: the sale itself is the marketplace's whatever it was heard from. */
const isOf = (e: Entry, { from, side, purchase }: Pick<Stated, 'from' | 'side' | 'purchase'>): boolean =>
  side === 'marketplace'
    ? e.purchase === null && (e.from === '' || e.from === from)
    : e.from === from && (purchase === null || e.purchase === purchase);

/** Groups put together wherever an amount is stated that spreads over several. */
function bucketsOf(all: readonly Stated[], side: Side): StatedGroup[][] {
  const buckets: StatedGroup[][] = [];
  const put = (groups: readonly StatedGroup[]) => {
    const touched = buckets.filter((b) => b.some((g) => groups.includes(g)));
    for (const b of touched) buckets.splice(buckets.indexOf(b), 1);
    buckets.push([...new Set([...touched.flat(), ...groups])]);
  };
  for (const { covers, amounts } of all) {
    for (const group of covers) put([group]);
    for (const { kind } of amounts) put(groupsOf(kind, side));
  }
  return buckets;
}

/**
 * Where statements say otherwise of an order than its entries, added up over all statements that speak of it. An entry of
 * after the last of them may stand in the next: it is no difference that it is not stated yet, nor that it is.
 */
export function differencesOf(entries: readonly Entry[], stated: readonly Stated[]): Difference[] {
  const together = grouped(stated, (s) => `${s.from} ${s.purchase ?? ''}`);
  return [...together.values()].flatMap((all) => {
    const last = all.at(-1)!;
    const { from, side, purchase, currency, statement } = last;
    const until = Math.max(...all.map((s) => s.until));
    const own = entries.filter((e) => isOf(e, last) && e.currency === currency);
    return bucketsOf(all, side).flatMap((groups) => {
      const said = all
        .flatMap((s) => s.amounts)
        .filter(({ kind }) => groupsOf(kind, side).some((g) => groups.includes(g)))
        .reduce((sum, a) => sum + a.amount, 0);
      let [inAll, byThen] = [0, 0];
      for (const e of own) {
        const group = groupOfEntry(e.kind, side);
        if (!group || !groups.includes(group)) continue;
        inAll += e.amount;
        if (e.at <= until || e.statement !== undefined) byThen += e.amount;
      }
      if (said === inAll || said === byThen) return [];
      const recorded = Math.abs(said - inAll) < Math.abs(said - byThen) ? inAll : byThen;
      const about = { statement, from, side, purchase, groups, currency };
      return [{ ...about, recorded, stated: said, minor: said - recorded }];
    });
  });
}

/** Differences that nobody has decided about. */
export const undecided = (all: readonly Difference[], kept: readonly Kept[]): Difference[] =>
  all.filter((d) => !kept.some((k) => k.slot === slotOf(d) && k.minor === d.minor));

/** The entry that brings what is recorded to what is stated. @param rate into the books, as the order's others have it */
export const correctionOf = (d: Difference, rate: number | null, at: Instant): Entry => ({
  kind: CORRECTED[d.side][d.groups[0]!],
  name: 'as stated',
  amount: d.minor,
  currency: d.currency,
  rate,
  at,
  from: d.from,
  purchase: d.purchase,
  statement: d.statement,
});

/**
 * What is taken off corrections because the other side now says itself, by its feed, what its statement said before: else
 * it would be counted twice.
 * @param added what the feed brings now
 */
export function takenOff(known: readonly Entry[], added: readonly Entry[], at: Instant): Entry[] {
  const out: Entry[] = [];
  for (const side of ['marketplace', 'supplier'] as const) {
    const nameOf = (e: Entry) => {
      const group = groupOfEntry(e.kind, side);
      const isTheirs = side === 'marketplace' ? e.purchase === null : e.purchase !== null;
      return group && isTheirs ? `${group} ${side === 'marketplace' ? '' : e.from} ${e.purchase ?? ''}` : '';
    };
    const corrections = grouped(
      known.filter((e) => e.statement !== undefined),
      nameOf,
    );
    for (const [name, own] of corrections) {
      if (!name) continue;
      const corrected = own.reduce((n, e) => n + e.amount, 0);
      const heard = added.reduce((n, e) => (nameOf(e) === name ? n + e.amount : n), 0);
      if (!corrected || Math.sign(heard) !== Math.sign(corrected)) continue;
      const amount = -Math.sign(corrected) * Math.min(Math.abs(corrected), Math.abs(heard));
      out.push({ ...own.at(-1)!, amount, at });
    }
  }
  return out;
}
