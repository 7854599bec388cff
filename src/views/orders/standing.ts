import { isLate, marksOf } from '../../core/orders';
import { spanOf, whenOf } from '../../core/units';
import type { Order } from '../../store';
import type { Tone } from '../../ui/state-mark';
import { actualOf, standingFor } from '../../work/orders/decide';

export const paidFor = (order: Order) => order.lines.reduce((sum, l) => sum + l.unitPrice * l.quantity, 0);

/** Profit by what was charged, else as expected when it was forwarded; null before that. */
export const profitOf = (order: Order): number | null => (actualOf(order) ?? order.expected)?.profit ?? null;

/** Where an order stands, in a few words. */
export function standsAt(order: Order, now: number, zone: string): { tone: Tone; says: string } {
  const { facts } = order;
  const failed = order.checks.filter((c) => !c.passed && !order.released.includes(c.kind));
  const when = (at: number) => (now ? whenOf(at, now, zone) : '');
  switch (standingFor(order)) {
    case 'being cancelled':
      return {
        tone: 'waits',
        says: `Being cancelled; ${order.supplierNumber ?? 'its purchase'} is asked back`,
      };
    case 'cancelled':
      if (order.refusal) return { tone: 'person', says: order.refusal };
      return { tone: 'waits', says: `Cancelled ${when(facts.cancelledAt!)}` };
    case 'held':
      return { tone: 'person', says: order.refusal ?? failed[0]?.says ?? 'Held' };
    case 'ready':
      return { tone: 'waits', says: 'Ready to be forwarded' };
    case 'forwarding':
      return { tone: 'waits', says: 'On its way to the supplier' };
    case 'with supplier':
      if (order.refusal) return { tone: 'person', says: order.refusal };
      return isLate(facts, order.shipBy, now)
        ? { tone: 'loss', says: `No parcel for ${spanOf(now - facts.boughtAt!)}, ${order.supplierNumber}` }
        : { tone: 'well', says: `Accepted, ${order.supplierNumber}` };
    case 'shipped':
      return order.refusal
        ? { tone: 'person', says: order.refusal }
        : { tone: 'well', says: `Shipped, ${order.parcels[0]?.tracking}` };
    case 'told':
      return { tone: 'well', says: `Marketplace told ${when(facts.toldAt!)}` };
    case 'delivered':
      return { tone: 'well', says: `Delivered ${when(facts.deliveredAt!)}` };
  }
}

/**
 * The leg of the passage on which an order is held (0 lies behind “paid”): at once, or behind the last mark
 * it reached; null where it is not held.
 */
export function heldAt(order: Order): number | null {
  if (standingFor(order) === 'held') return 0;
  return order.refusal === null
    ? null
    : Math.min(
        4,
        marksOf(order.facts).findLastIndex((mark) => mark !== null),
      );
}
