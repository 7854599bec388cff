import { BROKEN, tableOfText, widthProblem } from '../../connect/files';
import { type ExchangeRate, formatExchange, isCurrency, parseExchange } from '../../core/money';
import { countOf, dayName, isDay } from '../../core/units';
import type { RateRow } from '../../store';
import { settingsOf } from '../../store';
import type { Work } from '../context/work';
import { saveRules } from '../listings/rules';
import { shopNow } from '../memory/assortment';
import { bringBackUnrated, fillRates } from '../orders/accounts';
import { recheckOrders } from '../orders/due';

/**
 * Puts an exchange rate on record, as one change: prices that depend on it follow, entries that had none get theirs,
 * orders that were held for want of it are checked again. The same day again replaces the rate of that day.
 */
export async function saveRate(work: Work, rate: Omit<ExchangeRate, 'books'>): Promise<number> {
  const { db } = work;
  const { currency: books } = await settingsOf(db);
  const row: RateRow = { ...rate, books, id: `${rate.currency}:${books}:${rate.day}`, at: work.clock() };
  const { id, ...set } = row;
  const known = await db.rates.get(id);
  const unrated = await firstOf(work, [row]);
  const name = `1 ${rate.currency} is ${formatExchange(rate.value)} ${books} from ${dayName(rate.day)} on`;
  const told = await saveRules(
    work,
    [known ? { table: 'rates', id, set: { ...set } } : { table: 'rates', add: row }],
    name,
  );
  await follow(work, unrated);
  return told;
}

/** Currencies that get their first rate with some. */
async function firstOf({ db }: Pick<Work, 'db'>, rates: readonly RateRow[]): Promise<ReadonlySet<string>> {
  const rated = new Set((await db.rates.toArray()).map((r) => `${r.currency} ${r.books}`));
  return new Set(rates.filter((r) => !rated.has(`${r.currency} ${r.books}`)).map((r) => r.currency));
}

/** Fills in rates where they were missing. @param unrated currencies that had none, of which archived orders may lack it too */
async function follow(work: Work, unrated: ReadonlySet<string>): Promise<void> {
  const { db } = work;
  if (unrated.size) await bringBackUnrated(work, unrated);
  await db.transaction('rw', db.shopTables, async () => fillRates(work, await shopNow(work)));
  await recheckOrders(work);
}

/** A rate that moved by more than this is asked about, in percent. */
const LEAP_PERCENT = 10;

/** Why a rate is asked about before it is on record; null where it is near the one before, or the first after it. */
export function rateAsks(rate: Dated, known: readonly Dated[]): string | null {
  const own = known.filter((r) => r.currency === rate.currency && r.day !== rate.day).sort(byDay);
  const before = own.findLast((r) => r.day < rate.day) ?? own[0];
  return before ? leapInWords(rate, before) : null;
}

type Dated = Pick<ExchangeRate, 'currency' | 'day' | 'value'>;
const byDay = (a: Dated, b: Dated) => (a.day < b.day ? -1 : 1);

/** Each rate of a file that leaps from the one before it, in the file or on record. Cost: sorting. */
function leapsAmong(rates: readonly Dated[], known: readonly Dated[]): string[] {
  const found: string[] = [];
  const mine = new Set(rates);
  const last = new Map<string, Dated>();
  for (const rate of [...rates, ...known].sort(byDay)) {
    const before = last.get(rate.currency);
    const says = before && mine.has(rate) ? leapInWords(rate, before) : null;
    if (says) found.push(says);
    last.set(rate.currency, rate);
  }
  return found;
}

/** How a rate leaps from another; null where it does not. */
function leapInWords(rate: Dated, before: Dated): string | null {
  const rises = rate.value > before.value;
  const moved = (Math.abs(rate.value - before.value) * 100) / before.value;
  if (moved <= LEAP_PERCENT) return null;
  const times = rises ? rate.value / before.value : before.value / rate.value;
  const words =
    times >= 2
      ? `${times >= 9.5 ? Math.round(times) : times.toFixed(1)} times ${rises ? 'as much as' : 'less than'}`
      : `${Math.round(moved)} % ${rises ? 'more' : 'less'} than`;
  return `1 ${rate.currency} = ${formatExchange(rate.value)} is ${words} ${formatExchange(before.value)} of ${dayName(before.day)}.`;
}

/** Takes a rate off the record, as one change; what was entered with it keeps it. */
export async function dropRate(work: Work, rate: RateRow): Promise<void> {
  await saveRules(
    work,
    [{ table: 'rates', remove: rate.id }],
    `Rate of ${rate.currency} of ${dayName(rate.day)} removed`,
  );
}

const MOST_ROWS = 20_000;

/** Rates of a file, before they are on record. */
export type RatesOfFile =
  | {
      readonly ok: true;
      readonly rates: readonly RateRow[];
      readonly refused: readonly { readonly line: number; readonly reason: string }[];
      /** The question about some of them; null for none. */
      readonly asks: string | null;
    }
  | { readonly ok: false; readonly reason: string };

/** Reads rates out of a CSV file with the columns currency, day and rate; nothing is saved. */
export async function readRatesFile(work: Work, text: string): Promise<RatesOfFile> {
  const { db } = work;
  const { rows: all, brokenAt } = tableOfText(text);
  const [head, ...data] = all;
  const header = (head?.cells ?? []).map((h) => h.trim().toLowerCase());
  const missing = ['currency', 'day', 'rate'].filter((name) => !header.includes(name));
  if (missing.length) return { ok: false, reason: `The header row lacks ${missing.join(', ')}.` };
  if (data.length > MOST_ROWS) return { ok: false, reason: `It has more than ${MOST_ROWS} rows.` };
  const { currency: books } = await settingsOf(db);
  const rows = new Map<string, RateRow>();
  const refused: { line: number; reason: string }[] = [];
  for (const { line, cells } of data) {
    const cell = (name: string) => cells[header.indexOf(name)] ?? '';
    const currency = cell('currency').trim().toUpperCase();
    const day = cell('day').trim();
    const rate = parseExchange(cell('rate'));
    const shifted = line === brokenAt ? BROKEN : widthProblem(cells, header);
    const reason = shifted
      ? shifted
      : !isCurrency(currency)
        ? `currency: “${currency}” is no currency of ISO 4217, such as USD`
        : currency === books
          ? 'currency: the books are kept in it'
          : !isDay(day)
            ? `day: “${day}” is not a day such as 2026-11-26`
            : rate.ok
              ? null
              : `rate: ${rate.reason}`;
    if (reason || !rate.ok) {
      refused.push({ line, reason: reason ?? '' });
      continue;
    }
    const id = `${currency}:${books}:${day}`;
    rows.set(id, { id, currency, books, day, value: rate.value, origin: 'file', at: work.clock() });
  }
  const onRecord = (await db.rates.toArray()).filter((r) => r.books === books && !rows.has(r.id));
  const doubtful = leapsAmong([...rows.values()], onRecord);
  const more = doubtful.length > 1 ? ` And ${doubtful.length - 1} more that leap.` : '';
  return { ok: true, rates: [...rows.values()], refused, asks: doubtful.length ? doubtful[0] + more : null };
}

/** Puts rates of a file on record, as one change: {@link saveRate}. @returns how many listings are told */
export async function saveRates(work: Work, rates: readonly RateRow[]): Promise<number> {
  const { db } = work;
  const known = new Set((await db.rates.bulkGet(rates.map((r) => r.id))).flatMap((r) => (r ? [r.id] : [])));
  const changes = rates.map(({ id, ...set }) =>
    known.has(id)
      ? ({ table: 'rates', id, set } as const)
      : ({ table: 'rates', add: { id, ...set } } as const),
  );
  const unrated = await firstOf(work, rates);
  const told = await saveRules(work, changes, `${countOf(rates.length, 'exchange rate')} from a file`);
  await follow(work, unrated);
  return told;
}

export const allRates = ({ db }: Pick<Work, 'db'>) => db.rates.toArray();
