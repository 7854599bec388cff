import type { Currency } from '../money';
import type { Address } from './address';

/** Every check made before money is spent, in the order shown. */
export const CHECKS = ['linked', 'stock', 'profit', 'address', 'personalised', 'balance'] as const;
export type CheckKind = (typeof CHECKS)[number];

/** Parts of an address that people write. */
const WRITTEN = ['name', 'line1', 'line2', 'town', 'postcode'] as const;

/** What is wrong with an address. It names parts and repeats none: what is kept of an order holds nothing of its buyer. */
export type AddressProblem =
  | { readonly why: 'name' | 'street' | 'town' | 'no postcode' | 'postcode' }
  | { readonly why: 'garbled'; readonly part: (typeof WRITTEN)[number] }
  | { readonly why: 'country code'; readonly value: string }
  | { readonly why: 'destination'; readonly value: string; readonly supplier: string };

/** The outcome of a check, with the figures it went by. */
export type Check = { readonly passed: boolean } & (
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
  | { readonly kind: 'address'; readonly problem: AddressProblem | null }
  /** Titles of the lines that are made with the buyer's own words. */
  | { readonly kind: 'personalised'; readonly titles: readonly string[] }
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
}

/** Royal Mail postcode shape, from the BS 7666 pattern. */
const GB_POSTCODE = /^([A-Z]{1,2}\d[A-Z\d]?) ?\d[ABD-HJLNP-UW-Z]{2}$/;
/** ZIP and ZIP+4 codes of the United States Postal Service. */
const US_POSTCODE = /^\d{5}(-\d{4})?$/;
const SHAPES: Readonly<Record<string, RegExp>> = { GB: GB_POSTCODE, US: US_POSTCODE };
/** Countries that have addresses without a postcode. */
const NO_POSTCODES = ['IE', 'HK', 'AE'];

/** What an address lacks, or null where it is complete and plausible and every supplier ships there. */
export function addressProblem(
  address: Address,
  suppliers: readonly { readonly name: string; readonly shipsTo: readonly string[] }[],
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
  const postcode = address.postcode.trim().toUpperCase();
  if (!postcode) return NO_POSTCODES.includes(country) ? null : { why: 'no postcode' };
  const shape = Object.hasOwn(SHAPES, country) ? SHAPES[country]! : null;
  return shape && !shape.test(postcode) ? { why: 'postcode' } : null;
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
  const uncovered = input.suppliers.flatMap(({ name, balance, spend, currency }) =>
    balance !== null && spend !== null && balance < spend
      ? [{ supplier: name, balance, spend, currency }]
      : [],
  );
  const { profit, least, books } = input;
  return [
    { kind: 'linked', passed: unlinked.length === 0, unlinked },
    { kind: 'stock', passed: unlinked.length === 0 && short.length === 0, short },
    { kind: 'profit', passed: profit !== null && profit >= least, profit, least, currency: books },
    { kind: 'address', passed: problem === null, problem },
    { kind: 'personalised', passed: titles.length === 0, titles },
    { kind: 'balance', passed: uncovered.length === 0, short: uncovered },
  ];
}

/** Holds that no word of a person lifts: there is nothing to buy. */
export const FIRM: readonly CheckKind[] = ['linked'];

/** The checks that hold an order: failed and not released by a person. */
export function holdsOf(checks: readonly Check[], released: readonly CheckKind[]): Check[] {
  return checks.filter((c) => !c.passed && (FIRM.includes(c.kind) || !released.includes(c.kind)));
}
