import { type OpenLine, type OrderLine, openLines } from '../../core/orders';
import { Promised } from '../../core/sourcing';
import type { Order, Source } from '../../store';

/** By order, which stays the same object in memory: lines of which units are not bought yet. */
const unboughtOf = new WeakMap<Order, readonly OpenLine[]>();

function unbought(order: Order): readonly OpenLine[] {
  let lines = unboughtOf.get(order);
  if (!lines) {
    lines = openLines(order);
    unboughtOf.set(order, lines);
  }
  return lines;
}

/** Pieces of each item that buyers paid for and the supplier's stock, as last read, does not know of yet. */
export function promisedPieces(
  openOrders: readonly Order[],
  sourceOf: (listing: string) => Source | null | undefined,
  readAt: (supplier: string) => number,
): Map<string, number> {
  const promised = new Promised(openOrders, readAt);
  for (const order of openOrders)
    for (const line of unbought(order)) {
      const source = sourceOf(listingOf(order, line));
      if (source) promised.addPieces(source.supplier, source.item, line.open * source.pack);
    }
  return promised.pieces;
}

/** The listing that an order's line was bought of. */
export const listingOf = (order: Pick<Order, 'marketplace'>, line: Pick<OrderLine, 'sku'>): string =>
  `${order.marketplace}:${line.sku}`;
