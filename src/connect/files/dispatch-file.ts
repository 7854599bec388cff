import { writeDelimited } from '../../core/lists';
/** A parcel, or a cancellation, as a shop without a service is told of it. */
export interface DispatchFileRow {
  readonly order: string;
  readonly status: 'shipped' | 'cancelled';
  readonly carrier: string;
  readonly tracking: string;
  readonly shippedAt: string;
  /** SKUs; empty for all that is left of the order. */
  readonly skus: readonly string[];
  readonly reason: string;
}

export const DISPATCH_COLUMNS = [
  'order',
  'status',
  'carrier',
  'tracking',
  'shipped at',
  'skus',
  'reason',
] as const;

/** Writes a dispatch file: what was shipped, and what the seller cancelled. */
export function writeDispatchFile(rows: readonly DispatchFileRow[]): string {
  const data = rows.map((r) => [
    r.order,
    r.status,
    r.carrier,
    r.tracking,
    r.shippedAt,
    r.skus.join(' '),
    r.reason,
  ]);
  return writeDelimited([[...DISPATCH_COLUMNS], ...data]);
}
