import type { Instant } from '../../core/units';
import type { Order, OutboxKind, OutboxRow } from '../../store';

/**
 * The idempotency key of an order's purchase. It is the same however often it is tried, refused or restored
 * from a copy, until the supplier cancels it.
 */
export const purchaseKey = (order: Pick<Order, 'id' | 'ended'>) =>
  `buy:${order.id}${order.ended.length ? `:${order.ended.length}` : ''}`;

/**
 * A fresh row for the outbox. Its id is the idempotency key, so the same id must always mean the same thing
 * asked.
 */
export function outgoing(
  id: string,
  connection: string,
  kind: OutboxKind,
  subject: string,
  body: unknown,
  at: Instant,
): OutboxRow {
  return {
    id,
    connection,
    kind,
    subject,
    body,
    state: 'waiting',
    at,
    sentAt: null,
    attempts: 0,
    nextAt: at,
    says: null,
  };
}
