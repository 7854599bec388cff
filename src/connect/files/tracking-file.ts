import Papa from 'papaparse';
import { plainText } from '../../core/copy';
import type { Instant } from '../../core/units';
import { minorOf, timeOf } from '../amounts';

/** One row of a tracking file: a purchase that was taken, or a parcel of it. */
export interface TrackingRow {
  readonly line: number;
  readonly reference: string;
  /** The supplier's number. */
  readonly number: string;
  /** Null where nothing was shipped yet. */
  readonly parcel: {
    readonly carrier: string;
    readonly tracking: string;
    readonly shippedAt: number;
    /** Null where it is all that is left. */
    readonly lines: readonly { readonly sku: string; readonly quantity: number }[] | null;
  } | null;
  /** Null where the row does not say. */
  readonly charge: { readonly goods: number; readonly shipping: number } | null;
  readonly status: 'accepted' | 'shipped' | 'cancelled';
}

export interface TrackingFile {
  readonly rows: readonly TrackingRow[];
  /** What could not be read: where, and why. The other rows go on. */
  readonly refused: readonly { readonly line: number; readonly reason: string }[];
}

const NEEDED = ['reference', 'number', 'status'] as const;
/** By how much a supplier's clock may be ahead. */
const DAY = 86_400_000;
const MOST_BYTES = 5_000_000;
const AMOUNT = /^\d{1,8}(\.\d{1,4})?$/;

/**
 * Reads a tracking file: comma, semicolon or tab separated, UTF-8, a header row. Columns: reference, number, status
 * (accepted, shipped, cancelled), and where known carrier, tracking, shipped at (RFC 3339, at most a day after `now`), sku
 * and quantity (of a part), goods and shipping (amounts in `currency`).
 */
export function readTrackingFile(
  text: string,
  currency: string,
  now: Instant,
): { readonly ok: true; readonly value: TrackingFile } | { readonly ok: false; readonly reason: string } {
  if (text.length > MOST_BYTES)
    return { ok: false, reason: 'The file is larger than 5 MB: it is no tracking file.' };
  const parsed = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (h) => h.trim().toLowerCase(),
  });
  const fields = parsed.meta.fields ?? [];
  const missing = NEEDED.filter((name) => !fields.includes(name));
  if (missing.length)
    return {
      ok: false,
      reason: `The header row lacks ${missing.join(', ')}. It has: ${fields.slice(0, 12).join(', ') || 'nothing'}.`,
    };
  const rows: TrackingRow[] = [];
  const refused: { line: number; reason: string }[] = [];
  parsed.data.forEach((cells, k) => {
    const line = k + 2;
    try {
      rows.push(rowOf(cells, line, currency, now));
    } catch (error) {
      refused.push({ line, reason: (error as Error).message });
    }
  });
  return { ok: true, value: { rows, refused } };
}

/** Throws with the reason where a cell cannot be read. */
function rowOf(
  cells: Readonly<Record<string, string | undefined>>,
  line: number,
  currency: string,
  now: Instant,
): TrackingRow {
  const cell = (name: string) => plainText(cells[name] ?? '').slice(0, 200);
  const [reference, number] = [cell('reference'), cell('number')];
  if (!reference) throw new RangeError('reference: is missing');
  if (!number) throw new RangeError('number: is missing');
  const status = cell('status').toLowerCase();
  if (status !== 'accepted' && status !== 'shipped' && status !== 'cancelled')
    throw new RangeError(`status: “${status}” is none of accepted, shipped, cancelled`);
  const amount = (name: string) => {
    const value = cell(name);
    if (!value) return null;
    if (!AMOUNT.test(value)) throw new RangeError(`${name}: “${value}” is not an amount such as 12.50`);
    return minorOf(value, currency);
  };
  const [goods, shipping] = [amount('goods'), amount('shipping')];
  return {
    line,
    reference,
    number,
    status,
    parcel: cell('tracking') ? parcelOf(cell, now) : null,
    charge: goods === null || shipping === null ? null : { goods, shipping },
  };
}

function parcelOf(cell: (name: string) => string, now: Instant): NonNullable<TrackingRow['parcel']> {
  const quantity = cell('quantity');
  if (quantity && !/^[1-9]\d{0,5}$/.test(quantity))
    throw new RangeError(`quantity: “${quantity}” is not a number of units`);
  const sku = cell('sku');
  const shippedAt = timeOf(cell('shipped at'));
  if (shippedAt > now + DAY) throw new RangeError(`shipped at: ${cell('shipped at')} has not come yet`);
  if (!cell('carrier')) throw new RangeError('carrier: is missing');
  return {
    carrier: cell('carrier'),
    tracking: cell('tracking'),
    shippedAt,
    lines: sku ? [{ sku, quantity: Number(quantity || 1) }] : null,
  };
}
