import { ACCOUNTS, type Booking, bookingsOf, costDays, inBooks, rateFor } from '../../core/ledger';
import { type WrittenCell, writeDelimited } from '../../core/lists';
import { decimalOf, RATE_ONE } from '../../core/money';
import { applyChange, type LedgerRow, type Order, unpackRows, type WholeOrder } from '../../store';
import { nowOf, type Work } from '../context/work';
import { shopNow } from '../memory/assortment';
import type { Said } from '../orders/actions';
import { dayFromNumber, dayNumber } from './order-columns';

/** What a ledger file says, and what was left out of it. */
export interface LedgerFile {
  readonly file: Blob;
  readonly lines: number;
  readonly orders: number;
  /** Entries that have no rate into the books yet. */
  readonly unrated: number;
  /** What all lines add up to, in minor units of the books: nothing. */
  readonly balance: number;
}

const HEAD = [
  'day',
  'document',
  'account',
  'code',
  'text',
  'tax code',
  'tax rate',
  'debit',
  'credit',
  'books',
  'amount paid',
  'currency',
  'rate',
  'country',
] as const;

const DAY = 86_400_000;
/** Rows that are written at once. */
const ROWS = 5_000;
/** Orders that are read at once. */
const AT_ONCE = 2_000;

/**
 * The ledger of some days for the bookkeeper, as CSV: two lines an entry, by the day on which it was entered, with the
 * order's number as the document; balanced to nothing for each order. Orders are read piece by piece, those laid away too.
 * @param goesOn told how many orders were read; false stops it
 * @returns null where it was stopped
 */
export async function ledgerFile(
  work: Work,
  { from, to }: { readonly from: string; readonly to: string },
  goesOn: (orders: number) => boolean | Promise<boolean>,
): Promise<LedgerFile | null> {
  const { db } = work;
  const shop = await shopNow(work);
  const { currency: books, zone, accounts = {} } = shop.settings;
  const nameOf = (id: string) => shop.connections.get(id)?.name ?? id;
  const pieces: string[] = ['\uFEFF', writeDelimited([[...HEAD]])];
  const sum = { lines: 0, orders: 0, unrated: 0, balance: 0 };
  const seen = new Set<string>();
  let read = 0;
  let rows: WrittenCell[][] = [];
  const write = () => {
    if (rows.length) pieces.push(writeDelimited(rows));
    rows = [];
  };
  const [first, last] = [Date.parse(from) / DAY, Date.parse(to) / DAY];
  const accountOf = (a: Booking['account']) =>
    typeof a === 'string' ? a : `clearing: ${nameOf(a.clearing)}`;
  const add = (
    order: Pick<Order, 'id' | 'number' | 'marketplace' | 'country'>,
    ledger: LedgerRow | null | undefined,
  ) => {
    // One that is laid away or brought back meanwhile stands at both places.
    if (seen.has(order.id)) return;
    seen.add(order.id);
    read++;
    const entries = (ledger?.entries ?? []).filter((e) => {
      const day = dayNumber(e.at, zone);
      return day >= first && day <= last;
    });
    if (!entries.length) return;
    const tax = ledger?.terms?.tax;
    const taxRate = tax?.model === 'inside' ? tax.rate : null;
    const { lines, unrated } = bookingsOf(entries, { marketplace: order.marketplace, books, taxRate });
    sum.unrated += unrated;
    if (!lines.length) return;
    sum.orders++;
    sum.lines += lines.length;
    sum.balance += lines.reduce((n, l) => n + l.minor, 0);
    for (const l of lines) {
      const account = accountOf(l.account);
      rows.push([
        dayFromNumber(dayNumber(l.at, zone)),
        order.number,
        account,
        accounts[account] ?? '',
        l.text,
        l.taxRate === null
          ? tax?.model === 'added' && l.account === 'sales'
            ? 'collected by the marketplace'
            : ''
          : `${order.country} inside`,
        l.taxRate === null ? '' : String(l.taxRate / 10_000),
        l.minor > 0 ? decimalOf(l.minor, books) : '',
        l.minor < 0 ? decimalOf(-l.minor, books) : '',
        books,
        decimalOf(l.paid, l.currency),
        l.currency,
        l.rate === null ? '' : (l.rate / RATE_ONE).toFixed(8),
        order.country,
      ]);
    }
    if (rows.length > ROWS) write();
  };
  const ids = (await db.orders.toCollection().primaryKeys()) as string[];
  for (let k = 0; k < ids.length; k += AT_ONCE) {
    const some = ids.slice(k, k + AT_ONCE);
    const [orders, ledgers] = await Promise.all([db.orders.bulkGet(some), db.ledger.bulkGet(some)]);
    for (const [n, order] of orders.entries()) if (order) add(order, ledgers[n]);
    if (!(await goesOn(read))) return null;
  }
  // An entry is never older than its order: blocks of later months have none of these days.
  const blocks = (await db.archive.toCollection().primaryKeys()).filter(
    (id) => id.slice(0, 7) <= to.slice(0, 7),
  );
  for (const id of blocks) {
    const [block, packed] = await Promise.all([db.archive.get(id), db.archivedRows.get(id)]);
    if (block && packed) {
      const places = block.ids.flatMap((one, place) => (one ? [place] : []));
      for (const { order, ledger } of unpackRows<Omit<WholeOrder, 'buyer'>>(packed, places))
        add(order, ledger);
    }
    if (!(await goesOn(read))) return null;
  }
  for (const l of await apartBookings(work, from, to, (currency) => rateFor(shop.rates, currency), books)) {
    if (l.minor === null) {
      sum.unrated++;
      continue;
    }
    const two = [
      [l.debit, l.minor, l.amount],
      [l.credit, -l.minor, -l.amount],
    ] as const;
    for (const [account, minor, paid] of two) {
      sum.lines++;
      sum.balance += minor;
      const name = accountOf(account);
      rows.push([
        ...[l.day, l.document, name, accounts[name] ?? '', l.text, '', ''],
        minor > 0 ? decimalOf(minor, books) : '',
        minor < 0 ? decimalOf(-minor, books) : '',
        ...[books, decimalOf(paid, l.currency), l.currency],
        l.rate === null ? '' : (l.rate / RATE_ONE).toFixed(8),
        '',
      ]);
    }
  }
  write();
  return { file: new Blob(pieces, { type: 'text/csv' }), ...sum };
}

/** What is booked besides orders: costs of the shop on the days on which they are paid, and payouts to the bank. */
async function apartBookings(
  { db }: Work,
  from: string,
  to: string,
  rateOf: (currency: string) => number | null,
  books: string,
) {
  const [costs, statements] = await Promise.all([db.costs.toArray(), db.statements.toArray()]);
  const out: {
    readonly day: string;
    readonly document: string;
    readonly text: string;
    readonly debit: Booking['account'];
    readonly credit: Booking['account'];
    readonly amount: number;
    readonly minor: number | null;
    readonly currency: string;
    readonly rate: number | null;
  }[] = [];
  for (const c of costs) {
    const statement = c.stated && statements.find((s) => s.id === c.stated!.statement);
    for (const day of costDays(c, from, to))
      out.push({
        ...{
          day,
          document: statement?.number ?? c.name,
          text: c.name,
          amount: c.minor,
          currency: c.currency,
        },
        ...{ debit: 'fixed costs', credit: statement ? { clearing: statement.from } : 'bank', rate: c.rate },
        minor: inBooks({ amount: c.minor, currency: c.currency, rate: c.rate }, books),
      });
  }
  for (const s of statements)
    for (const p of s.payouts) {
      if (p.day < from || p.day > to) continue;
      const rate = rateOf(p.currency);
      // What was paid out is off the account with the other side and in the bank.
      const amount = -p.minor;
      out.push({
        ...{ day: p.day, document: s.number, text: 'payout', amount, currency: p.currency, rate },
        ...{ debit: 'bank', credit: { clearing: s.from } },
        minor: inBooks({ amount, currency: p.currency, rate }, books),
      });
    }
  return out.sort((a, b) => (a.day < b.day ? -1 : 1));
}

/** Names of all accounts that a ledger file may have: the shop's, and a clearing account for each connection. */
export async function ledgerAccounts(work: Work): Promise<string[]> {
  const shop = await shopNow(work);
  return [...ACCOUNTS, ...[...shop.connections.values()].map((c) => `clearing: ${c.name}`)];
}

/** Keeps under which codes accounts stand in the bookkeeper's program, as one change. '' for none. */
export async function setAccountCodes(work: Work, codes: Readonly<Record<string, string>>): Promise<Said> {
  const long = Object.entries(codes).find(([, code]) => code.length > 20);
  if (long) return { ok: false, reason: `The code of “${long[0]}” has more than 20 characters.` };
  const { db } = work;
  const accounts = Object.fromEntries(Object.entries(codes).filter(([, code]) => code.trim()));
  await db.transaction('rw', db.shopTables, () =>
    applyChange(
      db,
      { by: 'person', name: 'Account codes', undoable: true },
      [{ table: 'settings', id: 'shop', set: { accounts } }],
      nowOf(work),
    ),
  );
  return { ok: true };
}
