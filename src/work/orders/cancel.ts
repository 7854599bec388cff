import { formatMoney } from '../../core/money';
import {
  activeOf,
  isCancelled,
  isRecalling,
  linesIn,
  openLines,
  type Purchase,
  type Recall,
} from '../../core/orders';
import type { MarketConnection, Order, OutboxRow, SupplierConnection } from '../../store';
import { shopNow } from '../assortment/assortment';
import type { Work } from '../context';
import { outgoing, purchaseKey } from '../outbox/row';
import { postSale } from './accounts';
import { changed, openOf } from './decide';

/** An order after a step, and the step in words. */
export interface Moved {
  readonly order: Order;
  readonly says: string;
}

/** The outbox row that asks a supplier to take a purchase back, or some lines of it. */
export function takeBackRow(order: Order, p: Purchase, recall: Recall, at: number): OutboxRow<'take back'> {
  const asked = linesIn(p).filter((l) => recall.lines.includes(l.line));
  const all = asked.length === linesIn(p).length;
  const part = all ? '' : `:${asked.map((l) => l.line).join('+')}`;
  return outgoing(
    `take-back:${p.supplier}:${p.reference}:${p.number}${part}`,
    p.supplier,
    'take back',
    order.id,
    {
      reference: p.reference,
      number: p.number!,
      reason: recall.reason,
      lines: all ? null : asked.map((l) => ({ sku: l.item, quantity: l.quantity })),
    },
    at,
  );
}

const nameOf = async (work: Work, id: string) => (await work.db.connections.get(id))?.name ?? id;

/** ` It costs £12.40.`; what a purchase costs that is cancelled or cannot be. */
export function costInWords(p: Purchase): string {
  const cost = (p.charged?.goods ?? 0) + (p.charged?.shipping ?? 0);
  return cost > 0 ? ` It costs ${formatMoney({ minor: cost, currency: p.currency })}.` : '';
}

/**
 * Cancels lines of an order at whatever step they stand. What was not sent to a supplier is withdrawn; what was, or may
 * have been, is being cancelled. What the marketplace cancelled is over at once; what the seller cancels goes on until it is
 * sure that nothing stays bought. Runs inside the caller's transaction.
 */
export async function cancelLines(
  work: Work,
  order: Order,
  by: Recall['by'],
  reason: string,
  ids: readonly string[],
): Promise<Moved> {
  const at = work.clock();
  const lines = order.lines.flatMap((l) => (ids.includes(l.id) && l.cancelledAt === null ? [l.id] : []));
  let next: Order =
    by === 'marketplace'
      ? { ...order, lines: order.lines.map((l) => (lines.includes(l.id) ? { ...l, cancelledAt: at } : l)) }
      : { ...order, cancelling: { reason, at, lines } };
  const said: string[] = [
    by === 'marketplace' ? 'Cancelled on the marketplace.' : `To be cancelled: ${reason}`,
  ];
  for (const p of activeOf(order)) {
    const mine = linesIn(p).flatMap((l) => (lines.includes(l.line) ? [l.line] : []));
    if (!mine.length) continue;
    const step = await callBack(work, next, p, { by, reason, at, lines: mine, state: 'asked' });
    next = { ...next, ...step.set, purchases: changed(next, p.reference, p.supplier, step.purchase) };
    said.push(step.says);
  }
  return settle(work, next, said);
}

/** Withdraws a purchase that has not left, asks back one that has or may have, and says where it is too late. */
async function callBack(
  work: Work,
  order: Order,
  p: Purchase,
  recall: Recall,
): Promise<{ purchase: Partial<Purchase>; set: Partial<Order>; says: string }> {
  const { outbox } = work.db;
  const supplier = await nameOf(work, p.supplier);
  if (p.complete) {
    const notice = `Cancelled after ${p.number} of ${supplier} was shipped.${costInWords(p)}`;
    return { purchase: { recall: { ...recall, state: 'refused' } }, set: { notice }, says: notice };
  }
  if (p.state === 'waiting') {
    const row = p.lane === 'service' ? await outbox.get(purchaseKey(p.supplier, p.reference)) : undefined;
    if (row?.state === 'waiting' && row.sentAt !== null)
      return { purchase: { recall }, set: {}, says: `Whether ${supplier} took it is being looked up.` };
    if (row)
      await outbox.update(row.id, {
        state: 'withdrawn',
        says: 'The order was cancelled before it was sent.',
      });
    return {
      purchase: { state: 'withdrawn' },
      set: { checkedAt: null },
      says: `Nothing was sent to ${supplier}.`,
    };
  }
  if (p.state === 'accepted' && p.lane === 'service') {
    await outbox.put(takeBackRow(order, p, recall, work.clock()));
    return { purchase: { recall }, set: {}, says: `${p.number} of ${supplier} is being cancelled.` };
  }
  return { purchase: { recall }, set: {}, says: `Ask ${supplier} to cancel it, then record the outcome.` };
}

/**
 * Ends a cancellation once no purchase is asked back any more: what nothing is bought for is cancelled, and the
 * marketplace told where the seller did it. Runs inside the caller's transaction.
 */
export async function settle(work: Work, order: Order, said: readonly string[]): Promise<Moved> {
  const at = work.clock();
  let next = order;
  const words = [...said];
  if (order.cancelling && !isRecalling(order)) {
    const { lines, reason } = order.cancelling;
    const free = openLines(order).flatMap((l) => (lines.includes(l.id) ? [l.id] : []));
    next = {
      ...order,
      cancelling: null,
      lines: order.lines.map((l) => (free.includes(l.id) ? { ...l, cancelledAt: at } : l)),
    };
    if (free.length) await work.db.outbox.put(cancelRow(next, reason, free, at));
    words.push(
      free.length === lines.length
        ? `Cancelled: ${reason}`
        : free.length
          ? 'A part of it was cancelled.'
          : 'It was not cancelled.',
    );
  }
  const market = (await work.db.connections.get(order.marketplace)) as MarketConnection | undefined;
  if (market && next.lines.some((l) => l.cancelledAt !== null))
    await postSale(work, next, market, await shopNow(work));
  return { order: { ...next, open: openOf(next) }, says: words.filter(Boolean).join(' ') };
}

function cancelRow(order: Order, reason: string, lines: readonly string[], at: number): OutboxRow<'cancel'> {
  const all = isCancelled(order);
  return outgoing(
    all ? `cancel:${order.id}` : `cancel:${order.id}:${[...lines].sort().join('+')}`,
    order.marketplace,
    'cancel',
    order.id,
    { number: order.number, reason, lines: all ? null : lines },
    at,
  );
}

/** A supplier took a purchase, or the lines asked back, out again. Runs inside the caller's transaction. */
export async function takenBack(work: Work, order: Order, p: Purchase, supplier: string): Promise<Moved> {
  const at = work.clock();
  const recall = p.recall!;
  const lines = p.lines.map((l) =>
    recall.lines.includes(l.line) ? { ...l, cancelledAt: l.cancelledAt ?? at } : l,
  );
  const over = lines.every((l) => l.cancelledAt !== null);
  const notice = over
    ? `Cancelled after it was bought: ${supplier} took ${p.number} back.${costInWords(p) || ' It costs nothing.'}`
    : `${supplier} took a part of ${p.number} back.`;
  const set: Partial<Purchase> = {
    lines,
    state: over ? 'cancelled' : p.state,
    recall: { ...recall, state: 'agreed' },
  };
  const next = { ...order, notice, purchases: changed(order, p.reference, p.supplier, set) };
  return settle(work, next, [notice]);
}

/** A supplier does not take a purchase back. What the seller wanted to cancel goes on. Runs inside the caller's transaction. */
export async function notTakenBack(work: Work, order: Order, p: Purchase, why: string): Promise<Moved> {
  const recall: Recall = { ...p.recall!, state: 'refused' };
  const over = recall.by === 'marketplace';
  const notice = over
    ? `Cancelled after it was bought. ${why}${costInWords(p)}`
    : `It was not cancelled. ${why}`;
  const next = { ...order, notice, purchases: changed(order, p.reference, p.supplier, { recall }) };
  return settle(work, next, [notice]);
}

/** The supplier of a purchase that was looked up for cannot have it: it never left. Runs inside the caller's transaction. */
export async function neverBought(
  work: Work,
  order: Order,
  p: Purchase,
  c: SupplierConnection,
): Promise<Moved> {
  const set = { state: 'withdrawn', recall: null } as const;
  const next = { ...order, checkedAt: null, purchases: changed(order, p.reference, p.supplier, set) };
  return settle(work, next, [`${c.name} has no purchase of it.`]);
}

/** The marketplace did not take a cancellation: lines that are sold as before, and wait to be bought. */
export function reopened(order: Order, lines: readonly string[], notice: string): Order {
  return {
    ...order,
    lines: order.lines.map((l) => (lines.includes(l.id) ? { ...l, cancelledAt: null } : l)),
    checkedAt: null,
    notice,
    open: 1,
  };
}
