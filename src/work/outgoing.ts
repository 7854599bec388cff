import type { Instant } from '../core/units';
import type { OutboxKind, OutboxRow } from '../store';

/** A fresh row for the outbox. Its id is the idempotency key, so the same id must always mean the same thing asked. */
export function outgoing(id: string, connection: string, kind: OutboxKind, subject: string, body: unknown, at: Instant): OutboxRow {
  return { id, connection, kind, subject, body, state: 'waiting', at, attempts: 0, nextAt: at, says: null };
}
