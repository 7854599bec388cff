import { fold } from '../../core/copy';
import { type Account, NOTHING } from '../../core/ledger';
import {
  type Buyer,
  isCancelled,
  isRequest,
  isReturn,
  livingIn,
  marksOf,
  numberOf,
  paidIn,
  parcelsOf,
  type ReturnKind,
  returnStep,
  soldIn,
  standingOf,
  unseenOf,
} from '../../core/orders';
import { lossOf, rateAmong } from '../../core/returns';
import { differencesOf, slotOf, undecided } from '../../core/statements';
import { dayOf, type Instant } from '../../core/units';
import type { LedgerRow, Order } from '../../store';
import { accountsOf, isCounted } from '../orders/accounts';
import { toPlace } from '../orders/decide';
import type { ShopTerms } from '../quoting/worth';

/** Stands for a number that is not known. */
export const UNKNOWN = -2_147_483_648;

/** The flags of an order, one bit each, as far as time does not change them. */
export const IS = {
  open: 1,
  held: 2,
  ready: 4,
  shipped: 8,
  delivered: 16,
  cancelled: 32,
  personalised: 64,
  /** Something of it is to be ordered by file or by hand. */
  place: 128,
  /** Something of it is to be seen by a person, returns aside. */
  unseen: 256,
  /** It belongs to the sums. */
  counted: 512,
  /** Its account is by what was really paid and charged. */
  actual: 1024,
  /** Late unless its parcel comes before the ship-by time. */
  awaited: 2048,
  aside: 4096,
  kept: 8192,
  noted: 16_384,
  asked: 32_768,
} as const;

/** Parts of an account, in the order in which they lie side by side. */
export const PARTS = Object.keys(NOTHING) as (keyof Account)[];

/** Derived values of orders as columns, for searching, sorting and sums. */
/** What was sold of one listing in an order: enough to tell whose revenue and profit it is. */
export interface SoldNote {
  readonly sku: string;
  /** Units that are still sold. */
  readonly units: number;
  /** What was paid for them, in the order's currency. */
  readonly paid: number;
  /** Of whom it was bought, the most of it; '' for nobody yet. */
  readonly supplier: string;
}

/** A return as it is counted. Amounts in the books; null where a rate is missing. */
export interface ReturnNote {
  readonly id: string;
  readonly what: ReturnKind;
  readonly reason: string;
  readonly at: Instant;
  readonly closedAt: Instant | null;
  /** A person has to do something for it. */
  readonly needs: boolean;
  /** The marketplace did not have it, or the seller declined it. */
  readonly declined: boolean;
  readonly units: readonly { readonly sku: string; readonly units: number; readonly supplier: string }[];
  readonly lost: number | null;
}

/** What of an order is stated otherwise than it is recorded. */
export interface DifferenceNote {
  readonly from: string;
  readonly statement: string;
  readonly slot: string;
  /** In minor units of its currency; below nothing where it is worse for the seller. */
  readonly minor: number;
  readonly currency: string;
}

export interface OrderColumns {
  /** The currency of the books that accounts are in, and the zone that days are of. */
  readonly books: string;
  readonly zone: string;
  paidAt: Float64Array;
  shipBy: Float64Array;
  /** Days since 1970 in the zone. */
  day: Int32Array;
  flags: Uint16Array;
  /** When the first parcel on its way is overdue; 0 for none. Of orders in memory, not where they are laid away. */
  overdue: Float64Array;
  /** The amount that the buyer paid, in the order’s currency. */
  paid: Int32Array;
  /** Accounts, {@link PARTS} of each side by side; `UNKNOWN` where it cannot be told. */
  expected: Int32Array;
  actual: Int32Array;
  readonly marketplace: string[];
  readonly country: string[];
  units: Int32Array;
  /** The seller's labels, with commas. */
  readonly labels: string[];
  /** The mark of the feed that the buyer came by; '' for none. */
  readonly mark: string[];
  readonly sold: (readonly SoldNote[])[];
  /** Missing where an order has none. */
  readonly returns: (readonly ReturnNote[] | undefined)[];
  /** Where account statements say otherwise and nobody decided yet; missing where none does. */
  readonly differing: (readonly DifferenceNote[] | undefined)[];
  /** Of orders in memory, not where they are laid away; see {@link foundBy}. */
  readonly town: string[];
  /** The text that words are searched in, folded; in memory it includes the buyer’s name and town. */
  readonly words: string[];
}

export function emptyColumns({ settings }: Pick<ShopTerms, 'settings'>, room: number): OrderColumns {
  return {
    books: settings.currency,
    zone: settings.zone,
    paidAt: new Float64Array(room),
    shipBy: new Float64Array(room),
    day: new Int32Array(room),
    flags: new Uint16Array(room),
    overdue: new Float64Array(room),
    paid: new Int32Array(room),
    expected: new Int32Array(room * PARTS.length),
    actual: new Int32Array(room * PARTS.length),
    marketplace: [],
    country: [],
    units: new Int32Array(room),
    labels: [],
    mark: [],
    sold: [],
    returns: [],
    differing: [],
    town: [],
    words: [],
  };
}

const DAY = 86_400_000;
/** Days by quarter hours: all zones' days begin at one. Asking for the day of an instant is dear. */
const days = new Map<string, number>();

export function dayNumber(at: number, zone: string): number {
  const key = `${zone} ${Math.floor(at / 900_000)}`;
  let day = days.get(key);
  if (day === undefined) {
    day = Math.round(Date.parse(dayOf(at, zone)) / DAY);
    if (days.size > 50_000) days.clear();
    days.set(key, day);
  }
  return day;
}

export const dayFromNumber = (day: number): string => new Date(day * DAY).toISOString().slice(0, 10);

/** Days after which a supplier's parcel to a country is overdue; null where that is not watched. */
export type UsualDays = (supplier: string, country: string) => number | null;

/** When the first of an order's parcels is overdue that are on their way; 0 for none. */
function overdueAt({ purchases, country }: Order, usual: UsualDays): number {
  let first = Number.POSITIVE_INFINITY;
  for (const p of purchases) {
    // Nobody tells that a parcel arrived which was bought without a service.
    const days = p.lane === 'service' ? usual(p.supplier, country) : null;
    if (days === null) continue;
    for (const parcel of parcelsOf(p))
      if (parcel.deliveredAt === null) first = Math.min(first, parcel.shippedAt + days * DAY);
  }
  return Number.isFinite(first) ? first : 0;
}

/** Derives all of one order again, but for what its buyer is found by. */
export function deriveOrder(
  columns: OrderColumns,
  place: number,
  order: Order,
  ledger: LedgerRow | undefined,
  usual: UsualDays = () => null,
): void {
  const { expected, actual } = accountsOf(order, ledger, columns.books);
  const marks = marksOf(order);
  const standing = standingOf(order);
  columns.paidAt[place] = order.paidAt;
  columns.shipBy[place] = order.shipBy;
  columns.day[place] = dayNumber(order.paidAt, columns.zone);
  columns.paid[place] = paidIn(order);
  PARTS.forEach((part, i) => {
    columns.expected[place * PARTS.length + i] = expected?.[part] ?? UNKNOWN;
    columns.actual[place * PARTS.length + i] = actual?.[part] ?? UNKNOWN;
  });
  let bits = 0;
  if (order.open === 1) bits |= IS.open;
  if (standing === 'held') bits |= IS.held;
  if (standing === 'ready') bits |= IS.ready;
  if (marks[3] !== null) bits |= IS.shipped;
  if (standing === 'delivered') bits |= IS.delivered;
  if (isCancelled(order)) bits |= IS.cancelled;
  if (order.lines.some((l) => l.personalisation !== null)) bits |= IS.personalised;
  if (toPlace(order).length) bits |= IS.place;
  if (unseenOf(order).some((c) => !isReturn(c))) bits |= IS.unseen;
  if (isCounted(order)) bits |= IS.counted;
  if (actual) bits |= IS.actual;
  if (!order.elsewhere && !order.aside && !isCancelled(order) && marks[3] === null) bits |= IS.awaited;
  if (order.aside) bits |= IS.aside;
  if (order.kept) bits |= IS.kept;
  if (order.buyerNote !== undefined) bits |= IS.noted;
  if (order.cases.some((c) => isRequest(c) && c.answered === null)) bits |= IS.asked;
  columns.flags[place] = bits;
  columns.overdue[place] = isCancelled(order) ? 0 : overdueAt(order, usual);
  columns.marketplace[place] = order.marketplace;
  columns.country[place] = order.country;
  columns.units[place] = order.lines.reduce((n, l) => n + soldIn(l), 0);
  columns.labels[place] = order.labels?.join(', ') ?? '';
  columns.mark[place] = order.mark ?? '';
  columns.sold[place] = soldNotes(order);
  columns.returns[place] = returnNotes(order, ledger, columns.books);
  columns.differing[place] = differenceNotes(ledger);
  const bought = order.purchases.map(
    (p) =>
      `${numberOf(p) ?? ''} ${p.reference} ${parcelsOf(p)
        .map((one) => one.tracking)
        .join(' ')}`,
  );
  const sold = order.lines.map((l) => `${l.title} ${l.sku}`);
  const labels = columns.labels[place];
  columns.words[place] = fold(`${order.number} ${bought.join(' ')} ${sold.join(' ')} ${labels}`);
}

/** Of whom the most units of a line are bought. */
function supplierOfLine(order: Order, line: string): string {
  let [most, of] = [0, ''];
  for (const p of order.purchases) {
    const units = p.lines.reduce((n, l) => (l.line === line ? n + livingIn(p, l) : n), 0);
    if (units > most) [most, of] = [units, p.supplier];
  }
  return of;
}

const soldNotes = (order: Order): SoldNote[] =>
  order.lines.map((l) => ({
    sku: l.sku,
    units: soldIn(l),
    paid: soldIn(l) * l.unitPrice,
    supplier: supplierOfLine(order, l.id),
  }));

function differenceNotes(ledger: LedgerRow | undefined): DifferenceNote[] | undefined {
  if (!ledger?.stated?.length) return undefined;
  const open = undecided(differencesOf(ledger.entries, ledger.stated), ledger.kept ?? []);
  if (!open.length) return undefined;
  return open.map((d) => ({
    ...{ from: d.from, statement: d.statement, slot: slotOf(d), minor: d.minor, currency: d.currency },
  }));
}

const NO_TAX = { model: 'none', rate: 0 } as const;

function returnNotes(order: Order, ledger: LedgerRow | undefined, books: string): ReturnNote[] | undefined {
  const cases = order.cases.filter(isReturn);
  if (!cases.length) return undefined;
  const terms = {
    ...{ paid: paidIn(order), tax: ledger?.terms?.tax ?? NO_TAX, books },
    rateOf: rateAmong(ledger?.entries ?? []),
  };
  return cases.map((c) => ({
    ...{ id: c.id, what: c.what, reason: c.reason, at: c.at, closedAt: c.closedAt },
    needs: returnStep(c) !== null,
    declined: c.state === 'declined',
    units: c.units.flatMap(({ line, units }) => {
      const l = order.lines.find((one) => one.id === line);
      return l ? [{ sku: l.sku, units, supplier: supplierOfLine(order, line) }] : [];
    }),
    lost: lossOf(c, order, terms).total,
  }));
}

/** The name and town of a buyer, folded for the search. */
export function foundBy(
  { name, addresses, texts }: Buyer,
  order: Pick<Order, 'address' | 'note' | 'buyerNote'>,
) {
  const town = addresses[order.address]?.town ?? '';
  const notes = [order.note, order.buyerNote].map((n) => (n === undefined ? '' : (texts[n] ?? '')));
  return { who: fold(`${name} ${town} ${notes.join(' ')}`.trim()), town: fold(town) };
}

/** Notes at a place what a buyer is found by. */
export function noteBuyer(
  columns: OrderColumns,
  place: number,
  { who, town }: ReturnType<typeof foundBy>,
): void {
  columns.town[place] = town;
  columns.words[place] = `${columns.words[place]} ${who}`;
}

/** The account at a place; null where it cannot be told. */
export function accountAt(accounts: Int32Array, place: number): Account | null {
  const from = place * PARTS.length;
  if (accounts[from] === UNKNOWN) return null;
  const account = { ...NOTHING } as { -readonly [K in keyof Account]: Account[K] };
  for (let i = 0; i < PARTS.length; i++) account[PARTS[i]!] = accounts[from + i]!;
  return account;
}

/** A time before its ship-by at which an order without a parcel counts as late. */
const WARN = 6 * 3_600_000;

export const isLateAt = (columns: OrderColumns, place: number, now: number): boolean =>
  (columns.flags[place]! & IS.awaited) !== 0 && now > columns.shipBy[place]! - WARN;

export const isOverdueAt = (columns: OrderColumns, place: number, now: number): boolean =>
  columns.overdue[place]! > 0 && now > columns.overdue[place]!;
