import { type Effect, isFor, isReturn, type LineUnits, type Return } from '../../core/orders';
import type { Order, OutboxRow } from '../../store';
import { outgoing } from '../outbox/row';

const caseOf = (order: Order, id: string): Return | undefined =>
  order.cases.find((c): c is Return => c.id === id && isReturn(c));

/** The row that answers a return. Its key names the answer, so that another one after a refusal is another message. */
export function returnRow(
  order: Order,
  e: Extract<Effect, { kind: 'tell return' }>,
  at: number,
): OutboxRow<'return'> {
  const { answer, minor, label, says } = e;
  const request = caseOf(order, e.case)?.request ?? null;
  return outgoing(
    `return:${order.id}:${e.case}:${answer}:${minor}`,
    order.marketplace,
    'return',
    order.id,
    { case: e.case, number: order.number, request, answer, minor, label, says },
    at,
  );
}

/** Pieces of a purchase's items that units of an order's lines are made of. */
function piecesOf(order: Order, supplier: string, reference: string, units: readonly LineUnits[]) {
  const p = order.purchases.find((one) => isFor(one, supplier, reference));
  return units.flatMap(({ line, units: n }) => {
    const own = p?.lines.find((l) => l.line === line);
    return own ? [{ line, sku: own.item, quantity: n * own.pack }] : [];
  });
}

/** The row that asks a supplier about returned goods; null where nothing is asked, or a person asks. */
export function claimRow(order: Order, id: string, at: number): OutboxRow<'claim'> | null {
  const c = caseOf(order, id);
  if (!c?.claim || c.claim.outside) return null;
  const { supplier, reference, number, wants, says, photos } = c.claim;
  const lines = piecesOf(order, supplier, reference, c.units);
  return outgoing(
    // Asked again after a refusal it is another message: with other words, or a photograph.
    `claim:${order.id}:${id}:${wants}:${at}`,
    supplier,
    'claim',
    order.id,
    { case: id, number, lines, reason: c.reason, wants, says, photos },
    at,
  );
}

/** The row that has an undeliverable parcel sent again; null where it is not to be. */
export function sendAgainRow(order: Order, id: string, at: number): OutboxRow<'send again'> | null {
  const c = caseOf(order, id);
  if (!c?.parcel?.again) return null;
  const { supplier, reference, tracking, again } = c.parcel;
  const p = order.purchases.find((one) => isFor(one, supplier, reference));
  const number = p && 'number' in p ? p.number : '';
  return outgoing(
    `send-again:${order.id}:${tracking}:${again.address}`,
    supplier,
    'send again',
    order.id,
    { case: id, number, tracking, address: again.address },
    at,
  );
}
