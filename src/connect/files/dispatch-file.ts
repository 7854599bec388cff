import { writeDelimited } from '../../core/lists';
/** A parcel, or a cancellation, as a shop without a service is told of it. */
export interface DispatchFileRow {
  readonly order: string;
  readonly status: 'shipped' | 'cancelled';
  readonly carrier: string;
  readonly tracking: string;
  readonly shippedAt: string;
  /** SKUs with their units; empty for all that is left of the order. */
  readonly units: readonly { readonly sku: string; readonly units: number }[];
  readonly reason: string;
}

export const DISPATCH_COLUMNS = [
  'order',
  'status',
  'carrier',
  'tracking',
  'shipped at',
  'skus',
  'units',
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
    r.units.map(({ sku }) => sku).join(' '),
    r.units.map(({ units }) => units).join(' '),
    r.reason,
  ]);
  return writeDelimited([[...DISPATCH_COLUMNS], ...data]);
}
