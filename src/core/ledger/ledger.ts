import { type Currency, convert, digitsOf, type Factor, RATE_ONE, type Rates } from '../money';
import type { Instant } from '../units';

/** What an entry is for. */
export type EntryKind =
  | 'sale'
  | 'buyer shipping'
  | 'refund'
  | 'goods'
  | 'shipping'
  | 'tax on cost'
  | 'duty'
  | 'import tax'
  | 'paying'
  | 'cashback'
  | 'sale fee'
  | 'payment fee'
  | 'advertising'
  | 'listing fee'
  | 'tax'
  | ReturnEntry;

/** What a return brings and costs besides the refund: told by its case, whose id is the entry's name. */
export const RETURN_ENTRIES = ['return label', 'credit', 'restocking', 'sending again'] as const;
export type ReturnEntry = (typeof RETURN_ENTRIES)[number];

export const isReturnEntry = (e: Pick<Entry, 'kind'>): boolean =>
  (RETURN_ENTRIES as readonly string[]).includes(e.kind);

/** One entry: an amount in its own currency, towards the seller above nothing, away below. Never changed, only added to. */
export interface Entry {
  readonly kind: EntryKind;
  /** The other side's name for it, where there are several of a kind; else ''. */
  readonly name: string;
  readonly amount: number;
  readonly currency: Currency;
  /** Value of one unit in the currency of the books when it was entered, in hundred-millionths; null where there was no rate on record, or both are the same. */
  readonly rate: number | null;
  readonly at: Instant;
  /** Connection that it was heard from; '' for the shop itself. */
  readonly from: string;
  /** Reference of the purchase it belongs to; null for what belongs to the sale. */
  readonly purchase: string | null;
  /** The account statement that it brings the record to; missing of what was told of the order itself. */
  readonly statement?: string;
}

/** Where an entry belongs: what is charged again there comes in as the difference. */
const slotOf = (e: Pick<Entry, 'kind' | 'name' | 'purchase' | 'from'>) =>
  `${e.kind} ${e.name} ${e.purchase ?? ''} ${e.from}`;

/**
 * Entries that bring what is on record to what the other side says now: for each kind the difference, nothing where it
 * says the same again, and the whole back where it no longer charges it at all.
 * @param known entries of one side and one purchase
 * @param said totals as told now, complete
 */
export function differences(known: readonly Entry[], said: readonly Entry[], at: Instant): Entry[] {
  const sums = new Map<string, number>();
  for (const e of known) sums.set(slotOf(e), (sums.get(slotOf(e)) ?? 0) + e.amount);
  const wanted = new Map<string, Entry>();
  for (const e of said) {
    const before = wanted.get(slotOf(e));
    wanted.set(slotOf(e), before ? { ...e, amount: before.amount + e.amount } : e);
  }
  for (const e of known) if (!wanted.has(slotOf(e))) wanted.set(slotOf(e), { ...e, amount: 0, at });
  return [...wanted].flatMap(([slot, e]) => {
    const amount = e.amount - (sums.get(slot) ?? 0);
    return amount ? [{ ...e, amount }] : [];
  });
}

/** The value of a currency in the books, as an entry keeps it. */
export const rateFor = (rates: Rates, currency: Currency): number | null =>
  currency === rates.books ? null : (rates.by.get(currency)?.value ?? null);

/** An entry's amount in the currency of the books, by the rate it was entered with; null where it has none. */
export function inBooks(e: Pick<Entry, 'amount' | 'currency' | 'rate'>, books: Currency): number | null {
  if (e.currency === books) return e.amount;
  if (e.rate === null) return null;
  const digits = digitsOf(books) - digitsOf(e.currency);
  const factor: Factor = {
    num: e.rate * (digits > 0 ? 10 ** digits : 1),
    den: RATE_ONE * (digits < 0 ? 10 ** -digits : 1),
  };
  return convert(e.amount, factor);
}

/** One order's account, in the currency of the books. Costs stand above nothing. */
export interface Account {
  readonly revenue: number;
  readonly goods: number;
  readonly shipping: number;
  readonly fee: number;
  readonly payment: number;
  readonly tax: number;
  readonly profit: number;
}

const PART: Readonly<Record<EntryKind, keyof Omit<Account, 'profit'>>> = {
  sale: 'revenue',
  'buyer shipping': 'revenue',
  refund: 'revenue',
  goods: 'goods',
  'tax on cost': 'goods',
  duty: 'goods',
  'import tax': 'goods',
  cashback: 'goods',
  paying: 'payment',
  shipping: 'shipping',
  'sale fee': 'fee',
  'listing fee': 'fee',
  advertising: 'fee',
  'payment fee': 'payment',
  tax: 'tax',
  'return label': 'shipping',
  credit: 'goods',
  restocking: 'goods',
  'sending again': 'shipping',
};

export const NOTHING: Account = { revenue: 0, goods: 0, shipping: 0, fee: 0, payment: 0, tax: 0, profit: 0 };

/** The account that entries add up to; null where one of them has no rate into the books. */
export function accountOf(entries: readonly Entry[], books: Currency): Account | null {
  const sum = { ...NOTHING } as { -readonly [K in keyof Account]: Account[K] };
  for (const e of entries) {
    const amount = inBooks(e, books);
    if (amount === null) return null;
    const part = PART[e.kind];
    sum[part] += part === 'revenue' ? amount : -amount;
    sum.profit += amount;
  }
  // No minus before nothing.
  for (const part of Object.keys(sum) as (keyof Account)[]) sum[part] += 0;
  return sum;
}

export function addAccounts(a: Account, b: Account): Account {
  return {
    revenue: a.revenue + b.revenue,
    goods: a.goods + b.goods,
    shipping: a.shipping + b.shipping,
    fee: a.fee + b.fee,
    payment: a.payment + b.payment,
    tax: a.tax + b.tax,
    profit: a.profit + b.profit,
  };
}

/**
 * A day's totals; `best` takes the actual account of an order where it is known and the expected one where not.
 */
export interface DayTotal {
  readonly day: string;
  readonly orders: number;
  readonly best: Account;
  readonly expectedProfit: number;
  readonly actualKnown: number;
}
