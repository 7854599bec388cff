import { type Parcel, type Purchase, parcelLines, soldLines } from '../../core/orders';
import { carrierFor, trackingProblem } from '../../core/tracking';
import type { MarketConnection, Order, OutboxRow } from '../../store';
import { outgoing } from '../outbox/row';

/**
 * The outbox row that tells the marketplace of a parcel, or why it cannot be told; null where all that it holds was
 * cancelled, so that nobody waits for it.
 */
export function dispatchRow(
  order: Order,
  p: Purchase,
  parcel: Parcel,
  market: MarketConnection,
  at: number,
  anyway = false,
): OutboxRow<'dispatch'> | { readonly problem: string } | null {
  const sold = soldLines(order);
  const held = parcelLines(p, parcel);
  const lines = sold.filter((l) => held.includes(l));
  if (!lines.length) return null;
  const problem = trackingProblem(parcel.tracking);
  if (problem && !anyway) return { problem: `${problem}; the marketplace was not notified.` };
  const known = market.site.carriers;
  // A marketplace that lists no carriers takes their names as they are.
  const carrier = known.length
    ? (carrierFor(parcel.carrier, known) ?? carrierFor('other', known))?.code
    : parcel.carrier;
  if (!carrier) return { problem: `${market.name} does not list the carrier ${parcel.carrier}.` };
  return outgoing(
    `dispatch:${order.id}:${parcel.tracking}`,
    market.id,
    'dispatch',
    order.id,
    {
      number: order.number,
      carrier,
      tracking: parcel.tracking,
      // A supplier's clock may be ahead of ours; a marketplace takes no time that is to come.
      shippedAt: new Date(Math.min(parcel.shippedAt, at)).toISOString(),
      // Named one by one where a line was cancelled here: the marketplace may not know of it yet, or not take it.
      lines: lines.length === order.lines.length ? null : lines,
    },
    at,
  );
}

/** An order with a parcel's number taken by the marketplace. */
export const parcelTold = (order: Order, tracking: string, at: number): Order => ({
  ...order,
  purchases: order.purchases.map((p) => ({
    ...p,
    parcels: p.parcels.map((one) => (one.tracking === tracking ? { ...one, toldAt: one.toldAt ?? at } : one)),
  })),
});
