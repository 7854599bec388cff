import type { Instant } from '../../core/units';
import type { OrderOf, OutboxBodies, OutboxKind, OutboxRow } from '../../store';

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
