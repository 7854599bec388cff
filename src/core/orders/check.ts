import type { Currency } from '../money';
import type { Address } from './address';
import { fitsPostcode, isBox, needsPostcode } from './postal';

/** Every check made before money is spent, in the order shown. */
export const CHECKS = [
  'linked',
  'stock',
  'stopped',
  'delivery',
  'profit',
  'costs',
  'address',
  'personalised',
  'proof',
  'note',
  'unusual',
  'repeat',
  'watched',
  'balance',
] as const;
export type CheckKind = (typeof CHECKS)[number];

/** Parts of an address that people write. */
const WRITTEN = ['name', 'line1', 'line2', 'town', 'postcode'] as const;

/** What is wrong with an address. It names parts and repeats none: what is kept of an order holds nothing of its buyer. */
export type AddressProblem =
  | { readonly why: 'name' | 'street' | 'town' | 'no postcode' | 'postcode' }
  | { readonly why: 'garbled'; readonly part: (typeof WRITTEN)[number] }
  | { readonly why: 'country code'; readonly value: string }
  | { readonly why: 'destination'; readonly value: string; readonly supplier: string }
  /** A post-office box or a locker, where the supplier's carrier does not deliver. */
  | { readonly why: 'box'; readonly supplier: string }
  /** A part that is longer than the supplier takes. */
  | {
      readonly why: 'long';
      readonly part: (typeof WRITTEN)[number];
      readonly longest: number;
      readonly supplier: string;
    };

/** The outcome of a check, with the figures it went by. */
export type Check = {
  readonly passed: boolean;
  /** Where it failed and does not hold: it is said, or let pass, by the seller's rule. */
  readonly weight?: 'warn' | 'pass';
} & (
  | { readonly kind: 'linked'; readonly unlinked: readonly string[] }
  | {
      readonly kind: 'stock';
      readonly short: readonly {
        readonly title: string;
        readonly supplier: string;
        readonly has: number;
        readonly sold: number;
      }[];
    }
  | {
      readonly kind: 'profit';
      /** Currency of the books; null where it cannot be told. */
      readonly profit: number | null;
      readonly least: number;
      readonly currency: Currency;
    }
  /** Suppliers of which nothing is bought for now. */
  | { readonly kind: 'stopped'; readonly suppliers: readonly string[] }
  /** What suppliers say of their deliveries to the buyer's country for now. */
  | {
      readonly kind: 'delivery';
      readonly notices: readonly (Pick<DeliveryNotice, 'kind' | 'days' | 'why'> & {
        readonly supplier: string;
      })[];
    }
  /** Suppliers whose costs were read longer ago than is allowed, with the days since. */
  | {
      readonly kind: 'costs';
      readonly old: readonly { readonly supplier: string; readonly days: number }[];
      readonly most: number;
    }
  | { readonly kind: 'address'; readonly problem: AddressProblem | null }
  | { readonly kind: 'note' }
  | {
      readonly kind: 'unusual';
      /** What was paid, in the currency of the books; null where it cannot be told. */
      readonly paid: number | null;
      readonly mostPaid: number;
      /** Of the line with the most units. */
      readonly units: number;
      readonly mostUnits: number;
      readonly currency: Currency;
    }
  /** Numbers of other orders of the same goods by the same buyer, within a day. */
  | { readonly kind: 'repeat'; readonly others: readonly string[] }
  /** What the seller wrote of the buyer on the list of those to watch; '' where it is another. */
  | { readonly kind: 'watched'; readonly why: string }
  /** Titles of the lines that are made with the buyer's own words. */
  | { readonly kind: 'personalised'; readonly titles: readonly string[] }
  /** Titles of the lines whose proof nobody approved. */
  | { readonly kind: 'proof'; readonly titles: readonly string[] }
  | {
      readonly kind: 'balance';
      readonly short: readonly {
        readonly supplier: string;
        readonly balance: number;
        readonly spend: number;
        readonly currency: Currency;
      }[];
    }
);

/** What the checks look at; the caller gathers it at the moment of checking. Amounts in minor units. */
export interface CheckInput {
  readonly lines: readonly {
    readonly title: string;
    readonly quantity: number;
    readonly personalised: boolean;
    /** It is made with the buyer's words, and nobody approved how. */
    readonly unproofed: boolean;
    /** Null where no listing of ours is linked to a supplier item. */
    readonly item: {
      /** Names the item among all; lines of one item take of the same stock. */
      readonly key: string;
      readonly supplier: string;
      /** Pieces that are to be had: stock less what other purchases on their way will take. */
      readonly pieces: number;
      /** Pieces that one unit is made of. */
      readonly pack: number;
    } | null;
  }[];
  readonly address: Address;
  /** Each supplier that something would be bought of. */
  readonly suppliers: readonly {
    readonly name: string;
    readonly shipsTo: readonly string[];
    /** What its carrier takes of an address. */
    readonly takes: AddressLimits;
    readonly stopped: boolean;
    /** Of its deliveries to this address. */
    readonly notices: readonly DeliveryNotice[];
    /** Days since its costs were read; null where that is not known. */
    readonly costDays: number | null;
    readonly currency: Currency;
    /** Prepaid balance less what is on its way; null for other ways of payment. */
    readonly balance: number | null;
    /** Null where it cannot be told. */
    readonly spend: number | null;
  }[];
  /** In the currency of the books, at today's cost; null where cost, shipping or a rate is not known. */
  readonly profit: number | null;
  readonly least: number;
  readonly books: Currency;
  readonly note: boolean;
  /** What the buyer paid, in the currency of the books; null where it cannot be told. */
  readonly paid: number | null;
  readonly repeats: readonly string[];
  readonly watched: string | null;
  readonly usual: { readonly paid: number; readonly units: number };
  readonly costDays: number;
}

/** What a supplier says of its deliveries to some countries for the time being. */
export interface DeliveryNotice {
  /** Parcels take longer, or none are sent. */
  readonly kind: 'delayed' | 'restricted';
  readonly to: readonly string[];
  /** Days that parcels take longer; 0 where none are sent. */
  readonly days: number;
  readonly why: string;
}

/** What a carrier takes of an address. */
export interface AddressLimits {
  /** It delivers to post-office boxes and lockers. */
  readonly boxes: boolean;
  /** Characters of a line; null for any. */
  readonly longest: number | null;
}

/** What an address lacks, or null where it is complete and plausible and every supplier ships there. */
export function addressProblem(
  address: Address,
  suppliers: readonly {
    readonly name: string;
    readonly shipsTo: readonly string[];
    readonly takes: AddressLimits;
  }[],
): AddressProblem | null {
  // Where a text was read in a wrong encoding, a mark stands for what was lost.
  const lost = WRITTEN.find((part) => address[part].includes('\uFFFD'));
  if (lost) return { why: 'garbled', part: lost };
  if (!address.name.trim()) return { why: 'name' };
  if (!address.line1.trim()) return { why: 'street' };
  if (!address.town.trim()) return { why: 'town' };
  const { country } = address;
  if (!/^[A-Z]{2}$/.test(country)) return { why: 'country code', value: country };
  const unwilling = suppliers.find((s) => !s.shipsTo.includes(country));
  if (unwilling) return { why: 'destination', value: country, supplier: unwilling.name };
  const box = isBox(address) ? suppliers.find((s) => !s.takes.boxes) : undefined;
  if (box) return { why: 'box', supplier: box.name };
  for (const { name, takes } of suppliers) {
    const part =
      takes.longest === null ? null : WRITTEN.find((p) => address[p].trim().length > takes.longest!);
    if (part) return { why: 'long', part, longest: takes.longest!, supplier: name };
  }
  if (!address.postcode.trim()) return needsPostcode(country) ? { why: 'no postcode' } : null;
  return fitsPostcode(address.postcode, country) === false ? { why: 'postcode' } : null;
}

/** Runs every check. A failed one holds the order until it is mended, or released by a person. */
export function checkOrder(input: CheckInput): Check[] {
  const unlinked = input.lines.flatMap((l) => (l.item ? [] : [l.title]));
  const taken = new Map<string, number>();
  const short = input.lines.flatMap(({ title, quantity, item }) => {
    if (!item) return [];
    const before = taken.get(item.key) ?? 0;
    const has = Math.max(0, Math.floor((item.pieces - before) / item.pack));
    taken.set(item.key, before + quantity * item.pack);
    return has < quantity ? [{ title, supplier: item.supplier, has, sold: quantity }] : [];
  });
  const problem = addressProblem(input.address, input.suppliers);
  const titles = input.lines.flatMap((l) => (l.personalised ? [l.title] : []));
  const unproofed = input.lines.flatMap((l) => (l.unproofed ? [l.title] : []));
  const uncovered = input.suppliers.flatMap(({ name, balance, spend, currency }) =>
    balance !== null && spend !== null && balance < spend
      ? [{ supplier: name, balance, spend, currency }]
      : [],
  );
  const { profit, least, books, usual, paid } = input;
  const stopped = input.suppliers.flatMap((one) => (one.stopped ? [one.name] : []));
  const notices = input.suppliers.flatMap(({ name, notices: own }) =>
    own.map(({ kind, days, why }) => ({ supplier: name, kind, days, why })),
  );
  const old = input.suppliers.flatMap(({ name, costDays }) =>
    costDays !== null && costDays > input.costDays ? [{ supplier: name, days: costDays }] : [],
  );
  const units = Math.max(0, ...input.lines.map((l) => l.quantity));
  return [
    { kind: 'linked', passed: unlinked.length === 0, unlinked },
    { kind: 'stock', passed: unlinked.length === 0 && short.length === 0, short },
    { kind: 'stopped', passed: stopped.length === 0, suppliers: stopped },
    { kind: 'delivery', passed: notices.length === 0, notices },
    { kind: 'profit', passed: profit !== null && profit >= least, profit, least, currency: books },
    { kind: 'costs', passed: old.length === 0, old, most: input.costDays },
    { kind: 'address', passed: problem === null, problem },
    { kind: 'personalised', passed: titles.length === 0, titles },
    { kind: 'proof', passed: unproofed.length === 0, titles: unproofed },
    { kind: 'note', passed: !input.note },
    {
      kind: 'unusual',
      passed: (paid ?? 0) <= usual.paid && units <= usual.units,
      ...{ paid, mostPaid: usual.paid, units, mostUnits: usual.units, currency: books },
    },
    { kind: 'repeat', passed: input.repeats.length === 0, others: input.repeats },
    { kind: 'watched', passed: input.watched === null, why: input.watched ?? '' },
    { kind: 'balance', passed: uncovered.length === 0, short: uncovered },
  ];
}

/** Holds that no word of a person lifts: there is nothing to buy, nothing is bought there, or it is not known how it is made. */
export const FIRM: readonly CheckKind[] = ['linked', 'stopped', 'proof'];

/** The checks that hold an order: failed and not released by a person. */
export function holdsOf(checks: readonly Check[], released: readonly CheckKind[]): Check[] {
  return checks.filter(
    (c) => !c.passed && c.weight === undefined && (FIRM.includes(c.kind) || !released.includes(c.kind)),
  );
}
