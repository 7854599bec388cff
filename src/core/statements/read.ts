import { once, plainName, readAmount } from '../lists';
import { type Currency, digitsOf, isCurrency } from '../money';
import { isDay, readDay } from '../units';
import {
  type DayOrder,
  formProblems,
  meaningOf,
  STATEMENT_PARTS,
  type StatementColumn,
  type StatementForm,
} from './form';
import { type KindSum, type ReadStatement, type StatementLine, sumsByKind } from './lines';
import type { LineKind, Side } from './stated';

/** What came of reading the rows of a statement file, before a person has said yes to it. */
export interface StatementRead extends Omit<ReadStatement, 'number' | 'closing' | 'due'> {
  readonly problems: readonly string[];
  /** Words of the column of kinds that nobody has said anything of yet, with how many rows have them. */
  readonly unknown: readonly { readonly word: string; readonly rows: number }[];
  readonly sums: readonly KindSum[];
  /** Kinds whose amounts stand with the other sign than they would: asked before they are turned round. */
  readonly odd: readonly LineKind[];
}

/** The sign that amounts of a kind have as a rule, towards the seller; 0 where either is usual. */
const USUAL_SIGN: Readonly<Record<LineKind, (side: Side) => -1 | 0 | 1>> = {
  sale: () => 1,
  'buyer shipping': () => 1,
  refund: () => -1,
  'sale fee': () => -1,
  'listing fee': () => -1,
  advertising: () => -1,
  'payment fee': () => -1,
  fees: () => -1,
  goods: () => -1,
  shipping: () => -1,
  tax: (side) => (side === 'supplier' ? -1 : 0),
  return: () => 0,
  'in all': () => 0,
  charge: () => -1,
  payout: (side) => (side === 'supplier' ? 1 : -1),
};

const LONGEST = 120;

/** A day as a statement writes it, with or without a time behind; null for none. */
export function readStatementDay(text: string, order: DayOrder): string | null {
  const t = text.trim();
  const [, a, b, c] = /^(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})(?:[T ,].*)?$/.exec(t) ?? [];
  if (a === undefined) return readDay(t);
  const [year, month, day] = a.length === 4 ? [a, b, c] : order === 'month first' ? [c, a, b] : [c, b, a];
  const full = year!.length === 2 ? `20${year}` : year!;
  const iso = `${full}-${month!.padStart(2, '0')}-${day!.padStart(2, '0')}`;
  return isDay(iso) ? iso : null;
}

/** An amount with its sign: `-12.50`, `12,50-`, `(12.50)`, `−3`. More decimals than the currency has are refused. */
export function readSigned(
  text: string,
  decimal: '.' | ',',
  currency: Currency,
): { readonly ok: true; readonly value: number } | { readonly ok: false; readonly reason: string } {
  let t = text.trim().replace(/[−–]/g, '-');
  let sign = 1;
  if (/^\(.*\)$/.test(t)) [t, sign] = [t.slice(1, -1), -1];
  else if (/^\D{0,4}-/.test(t)) [t, sign] = [t.replace('-', ''), -1];
  else if (/-$/.test(t)) [t, sign] = [t.slice(0, -1), -1];
  else t = t.replace(/^\+/, '');
  const fraction = t.split(decimal)[1]?.replace(/\D.*$/, '') ?? '';
  if (/[1-9]/.test(fraction.slice(digitsOf(currency))))
    return { ok: false, reason: `“${text.trim()}” has more decimals than ${currency} has` };
  const read = readAmount(t, decimal, currency);
  return read.ok ? { ok: true, value: sign * read.value + 0 } : read;
}

/**
 * Reads the rows of a statement file by its form: good rows go on, the others are told with line and reason. Nothing whose
 * meaning is not known is taken.
 * @param lines where each row stands in the file, from 1
 */
export function readStatementRows(
  header: readonly string[],
  rows: readonly (readonly string[])[],
  lines: readonly number[],
  form: StatementForm,
  side: Side,
): StatementRead {
  const problems = formProblems(header, form);
  const columns = header.map((h) => form.columns[plainName(h)]);
  const at = (column: StatementColumn) => columns.indexOf(column);
  const parts: ReadonlySet<string> = new Set(STATEMENT_PARTS);
  const byKind = columns.flatMap((c, k) => (c && !parts.has(c) ? [{ kind: c as LineKind, k }] : []));
  const turned = new Set(form.turned);
  const dayOf = once((text: string) => readStatementDay(text, form.days));
  const plain = once(plainName);
  const found: StatementLine[] = [];
  const refused: { line: number; reason: string }[] = [];
  const totals: { currency: Currency; minor: number }[] = [];
  const unknown = new Map<string, number>();
  const kindAt = at('kind');
  const readRow = (cells: readonly string[], r: number): void => {
    const line = lines[r] ?? r + 1;
    const cell = (column: StatementColumn) => {
      const k = at(column);
      return k < 0 ? '' : (cells[k] ?? '').trim();
    };
    const refuse = (reason: string) => refused.push({ line, reason });
    const word = cell('kind');
    const meaning = kindAt < 0 ? undefined : form.words[plain(word)];
    if (meaning === 'nothing') return;
    const currency = cell('currency').toUpperCase() || form.currency;
    if (!isCurrency(currency))
      return void refuse(`currency: “${cell('currency').slice(0, 20)}” is no currency`);
    const amountAt = (text: string) => readSigned(text, form.decimal, currency);
    /** All amounts of a row that has a column for each kind. */
    const inRow = (all: readonly string[]) => {
      let value = 0;
      for (const { kind, k } of byKind) {
        const text = (all[k] ?? '').trim();
        const one = text && text !== '-' ? amountAt(text) : { ok: true as const, value: 0 };
        if (!one.ok) return one;
        value += turned.has(kind) ? -one.value : one.value;
      }
      return { ok: true, value } as const;
    };
    const single = () => {
      if (at('amount') >= 0) return amountAt(cell('amount'));
      const [inn, out] = [cell('money in'), cell('money out')];
      const [a, b] = [inn ? amountAt(inn) : null, out ? amountAt(out) : null];
      if (a && !a.ok) return a;
      if (b && !b.ok) return b;
      if (!a && !b) return { ok: false, reason: 'neither money in nor money out is filled' } as const;
      return { ok: true, value: (a?.value ?? 0) - Math.abs(b?.value ?? 0) } as const;
    };
    // Without a column of kinds the last row says “Total” in any of its cells.
    const isTotal = byKind.length > 0 && !cell('day') && cells.some((c) => meaningOf(c, side) === 'total');
    if (meaning === 'total' || isTotal) {
      const sum = isTotal ? inRow(cells) : single();
      if (sum.ok) totals.push({ currency, minor: sum.value });
      else refuse(`total: ${sum.reason}`);
      return;
    }
    const day = dayOf(cell('day'));
    if (day === null) return void refuse(`day: “${cell('day').slice(0, 30)}” is no day`);
    const about = {
      ...{ line, day, currency },
      order: cell('order').slice(0, LONGEST),
      document: cell('document').slice(0, LONGEST),
    };
    const add = (kind: LineKind, amount: number) => {
      const text =
        kind === 'charge' || kind === 'payout' || !about.order
          ? (cell('text') || word).slice(0, LONGEST)
          : '';
      found.push({ ...about, kind, text, amount: turned.has(kind) ? -amount + 0 : amount });
    };
    if (byKind.length) {
      for (const { kind, k } of byKind) {
        const text = (cells[k] ?? '').trim();
        if (!text || text === '-') continue;
        const amount = amountAt(text);
        if (!amount.ok) return void refuse(`${header[k]}: ${amount.reason}`);
        if (amount.value) add(kind, amount.value);
      }
      return;
    }
    if (meaning === undefined) {
      unknown.set(word, (unknown.get(word) ?? 0) + 1);
      return;
    }
    const amount = single();
    if (!amount.ok) return void refuse(amount.reason);
    if (amount.value) add(meaning, amount.value);
  };
  for (const [r, cells] of rows.entries()) readRow(cells, r);
  const days = found.map((l) => l.day).sort();
  const sums = sumsByKind(found);
  const odd = sums
    .filter(({ kind, minor }) => USUAL_SIGN[kind](side) * Math.sign(minor) < 0)
    .map((s) => s.kind);
  return {
    problems,
    unknown: [...unknown].map(([word, n]) => ({ word, rows: n })),
    firstDay: days[0] ?? '',
    lastDay: days.at(-1) ?? '',
    lines: found,
    ...{ totals, refused, sums, odd: [...new Set(odd)] },
  };
}
