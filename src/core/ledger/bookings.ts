import type { Currency, Ppm } from '../money';
import { type Entry, type EntryKind, inBooks } from './ledger';

/** Accounts of the seller's books, by what they hold. A clearing account stands for each marketplace and supplier. */
export const ACCOUNTS = [
  'sales',
  'refunds',
  'tax due',
  'marketplace fees',
  'payment fees',
  'advertising',
  'goods',
  'shipping',
  'duty and import tax',
  'returns',
  'fixed costs',
  'bank',
] as const;
export type LedgerAccount = (typeof ACCOUNTS)[number];

const ACCOUNT: Readonly<Record<EntryKind, LedgerAccount>> = {
  sale: 'sales',
  'buyer shipping': 'sales',
  refund: 'refunds',
  tax: 'tax due',
  'sale fee': 'marketplace fees',
  'listing fee': 'marketplace fees',
  'payment fee': 'payment fees',
  paying: 'payment fees',
  advertising: 'advertising',
  goods: 'goods',
  'tax on cost': 'goods',
  cashback: 'goods',
  shipping: 'shipping',
  duty: 'duty and import tax',
  'import tax': 'duty and import tax',
  'return label': 'returns',
  credit: 'returns',
  restocking: 'returns',
  'sending again': 'returns',
};

/** One side of an entry. Debit above nothing, credit below; the two sides of an entry add up to nothing. */
export interface Booking {
  readonly at: number;
  /** One of {@link ACCOUNTS}, or the id of a connection for its clearing account. */
  readonly account: LedgerAccount | { readonly clearing: string };
  readonly text: string;
  /** In the currency of the books. */
  readonly minor: number;
  /** As it was paid or charged, with the same sign, and the rate into the books in hundred-millionths; null for the books' own. */
  readonly paid: number;
  readonly currency: Currency;
  readonly rate: number | null;
  /** Of the tax inside the price, in millionths; null where none is told by this line. */
  readonly taxRate: Ppm | null;
}

/**
 * An order's entries as double entries: what a marketplace pays and takes stands against its clearing account, what a
 * supplier charges against its own, and tax that is due is taken out of the sales.
 * @param taxRate of the tax inside the price; null for none
 * @returns the lines, and how many entries have no rate into the books and are left out
 */
export function bookingsOf(
  entries: readonly Entry[],
  {
    marketplace,
    books,
    taxRate,
  }: { readonly marketplace: string; readonly books: Currency; readonly taxRate: Ppm | null },
): { readonly lines: Booking[]; readonly unrated: number } {
  const lines: Booking[] = [];
  let unrated = 0;
  for (const e of entries) {
    const minor = inBooks(e, books);
    if (minor === null) {
      unrated++;
      continue;
    }
    const account = ACCOUNT[e.kind];
    // What comes in is owed by the other side (a debit there) and stands for income (a credit here).
    const own: Booking['account'] = account;
    const against: Booking['account'] =
      e.kind === 'tax' ? 'sales' : { clearing: e.purchase === null ? marketplace : e.from };
    const taxed = e.kind === 'sale' || e.kind === 'buyer shipping' || e.kind === 'refund' || e.kind === 'tax';
    const line = {
      at: e.at,
      text: e.name && !e.name.includes(':') ? `${e.kind}: ${e.name}` : e.kind,
      ...{ currency: e.currency, rate: e.currency === books ? null : e.rate },
      taxRate: taxed ? taxRate : null,
    };
    // Tax is told below nothing: it is due, a credit; sales bear it, a debit.
    const sign = e.kind === 'tax' ? 1 : -1;
    lines.push({ ...line, account: own, minor: sign * minor + 0, paid: sign * e.amount + 0 });
    lines.push({ ...line, account: against, minor: -sign * minor + 0, paid: -sign * e.amount + 0 });
  }
  return { lines, unrated };
}
