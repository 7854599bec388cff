import {
  activeOf,
  caseInWords,
  checkInWords,
  holdsOf,
  isCancelled,
  isLate,
  marksOf,
  numberOf,
  type Purchase,
  parcelsOf,
  standingOf,
  unseenOf,
} from '../../core/orders';
import { countOf, spanOf, whenOf } from '../../core/units';
import type { Tone } from '../../ui/state-mark';
import type { Order } from '../../work/model';
import { toPlace } from '../../work/orders/decide';
import type { ToldOrder } from './buyer-words';

const numbers = (purchases: readonly Purchase[]) => purchases.flatMap((p) => numberOf(p) ?? []).join(', ');

/** Where an order stands, in a few words. */
export function standsAt(
  order: ToldOrder,
  now: number,
  zone: string,
  nameOf: (connection: string) => string,
): { tone: Tone; says: string } {
  const standing = standingOf(order);
  const when = (at: number | null) => (now && at !== null ? ` ${whenOf(at, now, zone)}` : '');
  const [, , bought, , told, delivered] = marksOf(order);
  const active = activeOf(order);
  const [unseen, ...more] = unseenOf(order);
  if (unseen && standing !== 'being cancelled') {
    const says = caseInWords(unseen, order, { nameOf }, nameOf(order.marketplace));
    return { tone: 'person', says: more.length ? `${says} (+${more.length})` : says };
  }
  switch (standing) {
    case 'being cancelled':
      return { tone: 'waits', says: `Being cancelled; ${numbers(active) || 'its purchase'} is asked back` };
    case 'cancelled':
      return { tone: 'waits', says: `Cancelled${when(latestCancelled(order))}` };
    case 'held': {
      const [first] = holdsOf(order.checks, order.released);
      return { tone: 'person', says: first ? checkInWords(first) : 'Held' };
    }
    case 'set aside':
      return { tone: 'waits', says: 'Set aside, not yours to forward' };
    case 'ready':
      return {
        tone: 'waits',
        says: order.kept
          ? 'Kept back'
          : order.due
            ? `Goes${when(order.due.at)} by “${order.due.rule}”`
            : 'Ready to be forwarded',
      };
    case 'forwarding': {
      const [place] = toPlace(order);
      if (place)
        return {
          tone: 'person',
          says: place.lane === 'file' ? 'For the next order file' : 'To order by hand',
        };
      return {
        tone: 'waits',
        says: active.some((p) => p.state === 'sent') ? 'In an order file' : 'On its way to the supplier',
      };
    }
    case 'with supplier': {
      const parcels = active.flatMap(parcelsOf).length;
      if (isLate(order, order.shipBy, now))
        return {
          tone: 'loss',
          says: `${parcels ? 'Not all sent' : 'No parcel'} for ${spanOf(now - bought!)}, ${numbers(active)}`,
        };
      return {
        tone: 'well',
        says: parcels ? `${countOf(parcels, 'parcel')} sent, more to come` : `Accepted, ${numbers(active)}`,
      };
    }
    case 'shipped':
      return {
        tone: 'well',
        says: `Shipped, ${active.flatMap((p) => parcelsOf(p).map((one) => one.tracking)).join(', ')}`,
      };
    case 'told':
      return { tone: 'well', says: `Marketplace told${when(told!)}` };
    case 'delivered':
      return { tone: 'well', says: `Delivered${when(delivered!)}` };
  }
}

const latestCancelled = (order: Order) => Math.max(...order.lines.map((l) => l.cancelledAt ?? 0));

/**
 * The leg of the passage on which an order is held (0 lies behind “paid”): at once, or behind the last mark
 * it reached; null where it is not held.
 */
export function heldAt(order: Order): number | null {
  if (standingOf(order) === 'held') return 0;
  if (!unseenOf(order).length) return null;
  if (isCancelled(order)) return 0;
  return Math.min(
    4,
    marksOf(order).findLastIndex((mark) => mark !== null),
  );
}
