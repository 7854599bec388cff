import type { Instant } from '../../core/units';
import {
  bucketOf,
  type Listing,
  type ListingKind,
  type OrderOf,
  type OutboxBodies,
  type OutboxKind,
  type OutboxRow,
} from '../../store';

/**
 * A fresh row for the outbox. Its id is the idempotency key, so the same id must always mean the same thing
 * asked.
 */
export function outgoing<K extends OutboxKind>(
  id: string,
  connection: string,
  kind: K,
  order: OrderOf<K>,
  body: OutboxBodies[K],
  at: Instant,
): OutboxRow<K> {
  const row = { id, connection, kind, order, body, at, nextAt: at };
  return { ...row, state: 'waiting', sentAt: null, attempts: 0, says: null } as OutboxRow<K>;
}

/**
 * The idempotency key of a purchase: made of its reference, the same however often it is tried, refused or restored
 * from a copy.
 */
export const purchaseKey = (supplier: string, reference: string): string => `buy:${supplier}:${reference}`;

/**
 * The row that tells of a listing. Of rows that are due at once the next ids leave together: by their bucket, so that a
 * batch touches few records of listings, not one for each.
 */
export const listingRowId = (kind: ListingKind, listing: string): string =>
  `${kind}:${bucketOf(listing)}:${listing}`;

/** The listing that a row of it tells of. */
export const listingOfRow = (id: string): string => id.split(':').slice(2).join(':');

export const publishRow = ({ id, sku, marketplace }: Listing, at: Instant, draft = false) =>
  outgoing(
    listingRowId('publish', id),
    marketplace,
    'publish',
    null,
    { listing: id, sku, ...(draft && { draft }) },
    at,
  );

export const offerRow = (
  { id, sku, marketplace }: Listing,
  offer: Pick<OutboxBodies['offer'], 'price' | 'quantity' | 'state'>,
  at: Instant,
) => outgoing(listingRowId('offer', id), marketplace, 'offer', null, { listing: id, sku, ...offer }, at);
