import type { SupplierOrder } from '../../connect/supplier';
import { formatMinor } from '../../core/money';
import type { Order, OutboxRow, Recall, SupplierConnection } from '../../store';
import type { Work } from '../context';
import { outgoing, purchaseKey } from '../outbox/row';

/** What an outbox row of kind `take back` carries. */
export interface TakeBackBody {
  readonly number: string;
  readonly reason: string;
}

/** What an outbox row of kind `cancel` carries. */
export interface CancelBody {
  readonly number: string;
  readonly reason: string;
}

export const takeBackRow = (order: Order, number: string, reason: string, at: number): OutboxRow =>
  outgoing(
    `take-back:${order.id}:${number}`,
    order.supplier!,
    'take back',
    `order:${order.id}`,
    { number, reason } satisfies TakeBackBody,
    at,
  );

const cancelRow = (order: Order, reason: string, at: number): OutboxRow =>
  outgoing(
    `cancel:${order.id}`,
    order.marketplace,
    'cancel',
    `order:${order.id}`,
    { number: order.number, reason } satisfies CancelBody,
    at,
  );

interface Moved {
  readonly set: Partial<Order>;
  readonly says: string;
}

/**
 * The sale ends with nothing bought for it; the marketplace is told where it does not know. Runs inside the
 * caller's transaction.
 */
export async function endSale(
  work: Work,
  order: Order,
  { by, reason }: Pick<Recall, 'by' | 'reason'>,
): Promise<Moved> {
  const at = work.clock();
  if (by === 'seller') await work.db.outbox.put(cancelRow(order, reason, at));
  const facts = { ...order.facts, cancelledAt: order.facts.cancelledAt ?? at };
  return {
    set: { facts, forwarding: false, recall: null, refusal: null, open: 0 },
    says: by === 'seller' ? `Cancelled: ${reason}` : 'Cancelled on the marketplace.',
  };
}

/**
 * Cancels an order at whatever step it stands. What was not sent to the supplier is withdrawn; what was, or
 * may have been, is asked back. A sale the marketplace cancelled is over at once; one the seller cancels goes
 * on until it is sure that nothing stays bought. Runs inside the caller's transaction.
 */
export async function callOff(work: Work, order: Order, by: Recall['by'], reason: string): Promise<Moved> {
  const { db } = work;
  const at = work.clock();
  const purchase = order.forwarding ? await db.outbox.get(purchaseKey(order)) : undefined;
  const mayBeBought = purchase?.state === 'waiting' && purchase.sentAt !== null;
  if (order.facts.boughtAt === null && !mayBeBought) {
    if (purchase)
      await db.outbox.update(purchase.id, {
        state: 'withdrawn',
        says: 'The order was cancelled before it was sent.',
      });
    return endSale(work, order, { by, reason });
  }
  const facts = by === 'marketplace' ? { ...order.facts, cancelledAt: at } : order.facts;
  const recall: Recall = { by, reason, at, state: 'asked' };
  if (order.facts.shippedAt !== null) {
    const refusal = `Cancelled on the marketplace after it was shipped as ${order.supplierNumber}.${await costs(work, order)}`;
    return { set: { facts, recall: { ...recall, state: 'refused' }, refusal, open: 1 }, says: refusal };
  }
  if (order.supplierNumber) await db.outbox.put(takeBackRow(order, order.supplierNumber, reason, at));
  const who = by === 'marketplace' ? 'Cancelled on the marketplace' : `To be cancelled: ${reason}`;
  return {
    set: { facts, recall, open: 1 },
    says: order.supplierNumber
      ? `${who}; ${order.supplierNumber} is asked back.`
      : `${who}; whether it was bought is being looked up.`,
  };
}

/** ` It costs 12.40.`; nothing where it costs nothing. */
async function costs(work: Work, order: Pick<Order, 'charged' | 'supplier'>): Promise<string> {
  const supplier = (await work.db.connections.get(order.supplier ?? '')) as SupplierConnection | undefined;
  const cost = (order.charged.goods ?? 0) + (order.charged.shipping ?? 0);
  return cost > 0 && supplier ? ` It costs ${formatMinor(cost, supplier.currency)}.` : '';
}

/**
 * The supplier cancelled a purchase: because it was asked back, or by itself. Runs inside the caller's
 * transaction.
 */
export async function afterCancelled(
  work: Work,
  order: Order,
  said: SupplierOrder,
  supplier: string,
): Promise<Moved> {
  const charged = { ...order.charged, goods: said.goods, shipping: said.shipping };
  const { recall } = order;
  if (recall) {
    const ended = await endSale(work, order, recall);
    const cost = await costs(work, { ...order, charged });
    const says = `Cancelled after it was bought: ${supplier} took ${said.number} back.${cost || ' It costs nothing.'}`;
    const facts = { ...ended.set.facts!, boughtAt: order.facts.boughtAt ?? said.acceptedAt };
    return {
      set: {
        ...ended.set,
        facts,
        supplierNumber: said.number,
        charged,
        recall: { ...recall, state: 'agreed' },
        refusal: says,
        open: 1,
      },
      says,
    };
  }
  const says = `${supplier} cancelled ${said.number}.${await costs(work, { ...order, charged })}`;
  return {
    set: {
      facts: { ...order.facts, checkedAt: null, boughtAt: null },
      ended: [...order.ended, said.number],
      charged: { ...order.charged, goods: null, shipping: null },
      supplierNumber: null,
      parcels: [],
      forwarding: false,
      refusal: says,
      open: 1,
    },
    says,
  };
}

/**
 * The supplier does not take a purchase back. A sale the seller wanted to end goes on. Runs inside the
 * caller's transaction.
 */
export async function notTakenBack(work: Work, order: Order, why: string): Promise<Moved> {
  const recall: Recall = { ...order.recall!, state: 'refused' };
  const ended = recall.by === 'marketplace';
  const says = ended
    ? `Cancelled after it was bought. ${why}${await costs(work, order)}`
    : `It was not cancelled. ${why}`;
  return { set: { recall: ended ? recall : null, refusal: says, open: 1 }, says };
}
