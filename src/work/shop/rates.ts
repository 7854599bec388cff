import Papa from 'papaparse';
import { type ExchangeRate, formatExchange, parseExchange } from '../../core/money';
import { dayName, isDay } from '../../core/units';
import type { RateRow } from '../../store';
import { settingsOf } from '../../store';
import { shopNow } from '../assortment/assortment';
import type { Work } from '../context';
import { saveRules } from '../listings/bench';
import { fillRates } from '../orders/accounts';
import { recheckOrders } from '../orders/actions';

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
  const name = `1 ${rate.currency} is ${formatExchange(rate.value)} ${books} from ${dayName(rate.day)} on`;
  const told = await saveRules(
    work,
    [known ? { table: 'rates', id, set: { ...set } } : { table: 'rates', add: row }],
    name,
  );
  await db.transaction('rw', db.shopTables, async () => fillRates(work, await shopNow(work)));
  await recheckOrders(work);
  return told;
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

/** Reads rates out of a CSV file with the columns currency, day and rate: good rows go on record, the others are told. */
export async function readRatesFile(
  work: Work,
  text: string,
): Promise<
  { ok: true; taken: number; refused: { line: number; reason: string }[] } | { ok: false; reason: string }
> {
  const { db } = work;
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (h) => h.trim().toLowerCase(),
  });
  const missing = ['currency', 'day', 'rate'].filter((name) => !meta.fields?.includes(name));
  if (missing.length) return { ok: false, reason: `The header row lacks ${missing.join(', ')}.` };
  if (data.length > MOST_ROWS) return { ok: false, reason: `It has more than ${MOST_ROWS} rows.` };
  const { currency: books } = await settingsOf(db);
  const rows = new Map<string, RateRow>();
  const refused: { line: number; reason: string }[] = [];
  for (const [k, cells] of data.entries()) {
    const currency = (cells.currency ?? '').trim().toUpperCase();
    const day = (cells.day ?? '').trim();
    const rate = parseExchange(cells.rate ?? '');
    const reason = !/^[A-Z]{3}$/.test(currency)
      ? `currency: “${currency}” is not a code such as USD`
      : currency === books
        ? 'currency: the books are kept in it'
        : !isDay(day)
          ? `day: “${day}” is not a day such as 2026-11-26`
          : rate.ok
            ? null
            : `rate: ${rate.reason}`;
    if (reason || !rate.ok) {
      refused.push({ line: k + 2, reason: reason ?? '' });
      continue;
    }
    const id = `${currency}:${books}:${day}`;
    rows.set(id, { id, currency, books, day, value: rate.value, origin: 'file', at: work.clock() });
  }
  const known = new Set((await db.rates.bulkGet([...rows.keys()])).flatMap((r) => (r ? [r.id] : [])));
  const changes = [...rows.values()].map(({ id, ...set }) =>
    known.has(id)
      ? ({ table: 'rates', id, set } as const)
      : ({ table: 'rates', add: { id, ...set } } as const),
  );
  await saveRules(work, changes, `${rows.size} exchange rates from a file`);
  await db.transaction('rw', db.shopTables, async () => fillRates(work, await shopNow(work)));
  await recheckOrders(work);
  return { ok: true, taken: rows.size, refused };
}

export const allRates = ({ db }: Pick<Work, 'db'>) => db.rates.toArray();
