import type { Instant } from '../units';
import { cancellationOf, isRecalling } from './cases';
import { unitsOf } from './line-units';
import {
  activeOf,
  awaitedParcels,
  isAccepted,
  isCancelled,
  type OrderState,
  openLines,
  soldIn,
} from './order';

export const MARKS = [
  'paid',
  'checked',
  'with supplier',
  'shipped',
  'marketplace told',
  'delivered',
] as const;
export type Mark = (typeof MARKS)[number];

const latest = (times: readonly (Instant | null)[]): Instant | null =>
  times.length === 0 || times.includes(null) ? null : Math.max(...(times as Instant[]));

/**
 * The times of the six marks of the passage, null for those not reached by every unit that is sold. A parcel may be
 * delivered before the marketplace is told. What was bought for units that were cancelled since, and is not taken back,
 * holds nothing up: nobody waits for its parcel.
 */
export function marksOf(order: OrderState): readonly (Instant | null)[] {
  const active = activeOf(order);
  const whole = isCancelled(order);
  const isAwaited = (line: string) => {
    const sold = order.lines.find((l) => l.id === line);
    return whole || (sold !== undefined && soldIn(sold) > 0);
  };
  const bought =
    openLines(order).length === 0 ? active.filter((p) => p.lines.some((l) => isAwaited(l.line))) : [];
  const parcels = bought.length ? awaitedParcels(order) : [];
  const packed = parcels.flatMap((one) => one.inside);
  const sent =
    parcels.length > 0 &&
    (whole
      ? bought.every((p) => isAccepted(p) && p.parcels.length > 0)
      : order.lines.every((l) => unitsOf(packed, l.id) >= soldIn(l)))
      ? parcels.map((one) => one.parcel)
      : [];
  return [
    order.paidAt,
    order.checkedAt ?? (active.length ? Math.min(...active.map((p) => p.at)) : null),
    latest(bought.map((p) => (isAccepted(p) ? p.acceptedAt : null))),
    latest(sent.map((p) => p.shippedAt)),
    latest(sent.map((p) => p.toldAt)),
    latest(sent.map((p) => p.deliveredAt)),
  ];
}

/** Where an order stands for the seller. */
export type Standing =
  | 'held'
  | 'ready'
  | 'forwarding'
  | 'with supplier'
  | 'shipped'
  | 'told'
  | 'delivered'
  | 'being cancelled'
  | 'cancelled'
  | 'set aside';

/** The standing of an order, derived from its lines, purchases, parcels and cases: as far as all of it has come. */
export function standingOf(order: OrderState): Standing {
  if (cancellationOf(order) || isRecalling(order)) return 'being cancelled';
  if (isCancelled(order)) return 'cancelled';
  if (order.aside) return 'set aside';
  if (openLines(order).length) return order.checkedAt === null ? 'held' : 'ready';
  if (order.elsewhere && activeOf(order).length === 0) return 'told';
  const [, , bought, shipped, told, delivered] = marksOf(order);
  if (order.elsewhere && shipped !== null) return 'told';
  if (told !== null && delivered !== null) return 'delivered';
  if (told !== null) return 'told';
  if (shipped !== null) return 'shipped';
  return bought === null ? 'forwarding' : 'with supplier';
}

/** Whether there is still something to do or to await. */
export function isOpen(standing: Standing): boolean {
  return (
    standing !== 'delivered' && standing !== 'cancelled' && standing !== 'told' && standing !== 'set aside'
  );
}

/** Steps an order may take next; everything else is refused where orders are changed. */
export function mayDo(
  step: 'edit' | 'release' | 'forward' | 'cancel' | 'set aside',
  order: OrderState,
): boolean {
  if (cancellationOf(order) || isRecalling(order) || isCancelled(order) || order.aside) return false;
  const [, , , shipped] = marksOf(order);
  if (shipped !== null) return false;
  if (step === 'cancel') return true;
  // An address that a supplier has already, or may have, is no longer changed here.
  if (step === 'edit' || step === 'set aside') return activeOf(order).length === 0;
  if (openLines(order).length === 0) return false;
  return step === 'forward' ? order.checkedAt !== null : order.checkedAt === null;
}

/** After which time an order is late, as it stands: paid, not all shipped, and within `warn` of the ship-by time. */
export function lateFrom(order: OrderState, shipBy: Instant, warn = 6 * 3600_000): Instant {
  return !order.elsewhere && !order.aside && !isCancelled(order) && marksOf(order)[3] === null
    ? shipBy - warn
    : Number.POSITIVE_INFINITY;
}

/** A silent supplier: paid, not all shipped, and either past the ship-by time or within `warn` of it. */
export const isLate = (order: OrderState, shipBy: Instant, now: Instant, warn?: number): boolean =>
  now > lateFrom(order, shipBy, warn);
