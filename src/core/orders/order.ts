import type { Instant } from '../units';

export interface Address {
  readonly name: string;
  readonly line1: string;
  readonly line2: string;
  readonly town: string;
  readonly postcode: string;
  /** ISO 3166-1 alpha-2. */
  readonly country: string;
}

/** When each thing happened to an order; the state is read from these and stored nowhere else. */
export interface Facts {
  readonly paidAt: Instant;
  readonly checkedAt: Instant | null;
  readonly boughtAt: Instant | null;
  readonly shippedAt: Instant | null;
  readonly toldAt: Instant | null;
  readonly deliveredAt: Instant | null;
  readonly cancelledAt: Instant | null;
}

export const MARKS = [
  'paid',
  'checked',
  'with supplier',
  'shipped',
  'marketplace told',
  'delivered',
] as const;
export type Mark = (typeof MARKS)[number];

/**
 * The times of the six marks of the passage, null for those not reached. A parcel may be delivered before the
 * marketplace is told.
 */
export function marksOf(f: Facts): readonly (Instant | null)[] {
  return [f.paidAt, f.checkedAt, f.boughtAt, f.shippedAt, f.toldAt, f.deliveredAt];
}

/** Where an order stands for the person at the desk. */
export type Standing =
  | 'held'
  | 'ready'
  | 'forwarding'
  | 'with supplier'
  | 'shipped'
  | 'told'
  | 'delivered'
  | 'being cancelled'
  | 'cancelled';

/**
 * @param forwarding whether the buying of it has been decided, so that an answer of the supplier is awaited
 * @param recalling whether its purchase is asked back, so that it is not known yet how the cancellation ends
 */
export function standingOf(f: Facts, forwarding: boolean, recalling: boolean): Standing {
  if (recalling) return 'being cancelled';
  if (f.cancelledAt !== null) return 'cancelled';
  if (f.deliveredAt !== null && f.toldAt !== null) return 'delivered';
  if (f.toldAt !== null) return 'told';
  if (f.shippedAt !== null) return 'shipped';
  if (f.boughtAt !== null) return 'with supplier';
  if (forwarding) return 'forwarding';
  return f.checkedAt !== null ? 'ready' : 'held';
}

/** Whether there is still something to do or to await. */
export function isOpen(standing: Standing): boolean {
  return standing !== 'delivered' && standing !== 'cancelled' && standing !== 'told';
}

/** Steps an order may take next; everything else is refused where orders are changed. */
export function mayDo(
  step: 'edit' | 'release' | 'forward' | 'cancel',
  f: Facts,
  forwarding: boolean,
  recalling: boolean,
): boolean {
  if (f.cancelledAt !== null || f.shippedAt !== null || recalling) return false;
  if (step === 'cancel') return true;
  if (f.boughtAt !== null || forwarding) return false;
  if (step === 'forward') return f.checkedAt !== null;
  return step === 'edit' || f.checkedAt === null;
}

/** A silent supplier: bought, not shipped, and either past the ship-by time or within `warn` of it. */
export function isLate(f: Facts, shipBy: Instant, now: Instant, warn = 6 * 3600_000): boolean {
  return f.cancelledAt === null && f.shippedAt === null && now > shipBy - warn;
}
