import type { Count } from '../../core/orders';
import { cleanTracking } from '../../core/tracking';
import type { Instant } from '../../core/units';
import { timeOf } from '../amounts';
import { amountIn, type Cell, type FileRead, needed, readRows, unitsIn } from './rows';

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
    readonly lines: readonly Count[] | null;
  } | null;
  /** What of it is cancelled; null for all, where the row says so. */
  readonly cancelled: Count | null;
  /** Null where the row does not say. */
  readonly charge: { readonly goods: number; readonly shipping: number } | null;
  readonly status: 'accepted' | 'shipped' | 'cancelled';
}

/** By how much a supplier's clock may be ahead. */
const DAY = 86_400_000;

/**
 * Reads a tracking file: comma, semicolon or tab separated, UTF-8, a header row. Columns: reference, number, status
 * (accepted, shipped, cancelled), and where known carrier, tracking, shipped at (RFC 3339, at most a day after `now`), line,
 * sku and quantity (of a part), goods and shipping (amounts in `currency`).
 */
export const readTrackingFile = (text: string, currency: string, now: Instant): FileRead<TrackingRow> =>
  readRows(text, ['reference', 'number', 'status'], (cell, line) => {
    const [reference, number] = [needed(cell, 'reference'), needed(cell, 'number')];
    const status = cell('status').toLowerCase();
    if (status !== 'accepted' && status !== 'shipped' && status !== 'cancelled')
      throw new RangeError(`status: “${status}” is none of accepted, shipped, cancelled`);
    const [goods, shipping] = [amountIn(cell, 'goods', currency), amountIn(cell, 'shipping', currency)];
    return {
      line,
      reference,
      number,
      status,
      parcel: cell('tracking') && status === 'shipped' ? parcelOf(cell, now) : null,
      cancelled: status === 'cancelled' ? countIn(cell) : null,
      charge: goods === null || shipping === null ? null : { goods, shipping },
    };
  });

function parcelOf(cell: Cell, now: Instant): NonNullable<TrackingRow['parcel']> {
  const lines = countIn(cell);
  const shippedAt = timeOf(cell('shipped at'));
  if (shippedAt > now + DAY) throw new RangeError(`shipped at: ${cell('shipped at')} has not come yet`);
  return {
    carrier: needed(cell, 'carrier'),
    tracking: cleanTracking(cell('tracking')),
    shippedAt,
    lines: lines && [lines],
  };
}

/** What a row is about, where it names a line or an SKU. */
function countIn(cell: Cell): Count | null {
  const [sku, line] = [cell('sku'), cell('line')];
  const quantity = cell('quantity') ? unitsIn(cell, 'quantity') : 1;
  return sku || line ? { line: line || null, sku, quantity } : null;
}
