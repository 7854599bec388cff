import type {
  WireOrder,
  WireRefund,
  WireReturn,
  WireReturnAnswer,
  WireReturnKind,
} from '../../src/connect/wire';
import type { Chance } from '../random';
import { chargesOf, type Market, soldOf, touch } from './market';

const DAY = 86_400_000;
const minorOf = (amount: string | undefined) => Math.round(Number(amount ?? 0) * 100);
const decimal = (minor: number) => (minor / 100).toFixed(2);

/** What buyers write, by the reason that they chose. */
const WORDS: Readonly<Record<string, readonly string[]>> = {
  'changed mind': ['It is lovely but too big for the shelf.', 'I found mine again, sorry.'],
  faulty: ['The lamp flickers and goes out after a minute.', 'The hinge is loose, it does not hold.'],
  damaged: ['The box was crushed and the glass is cracked.'],
  'wrong goods': ['I ordered the blue one and got green.'],
  'not as described': ['The picture shows a case, there is none.'],
  'not received': ['It should have been here a week ago.'],
};

/** What the label of a parcel back costs. */
const LABEL = 320;
/** Days that a seller has to answer. */
const ANSWER = 3;
/** What a bank asks of the seller for its work; nobody gives it back. */
const CHARGEBACK = 1_500;

export interface ReturnWish {
  kind?: WireReturnKind;
  reason?: string;
  units?: number;
  line?: string;
}

const paidOf = (o: WireOrder) =>
  o.lines.reduce((sum, l) => sum + minorOf(l.unitPrice) * l.quantity, 0) + minorOf(o.shipping);

const feesOf = (charges: WireOrder['charges']) =>
  (charges ?? []).reduce((sum, c) => sum + minorOf(c.amount), 0);

function change(m: Market, order: WireOrder, id: string, to: Partial<WireReturn>): void {
  touch(m, order, { returns: order.returns?.map((r) => (r.id === id ? { ...r, ...to } : r)) });
}

/** A buyer opens a return of an order that was sent. @returns null where nothing can be returned */
export function openReturn(
  m: Market,
  order: WireOrder,
  luck: Chance,
  at: number,
  wish: ReturnWish = {},
): WireReturn | null {
  const taken = (id: string) =>
    (order.returns ?? [])
      .filter((r) => r.state !== 'declined')
      .flatMap((r) => r.lines)
      .reduce((n, l) => (l.id === id ? n + l.quantity : n), 0);
  const line = order.lines.find((l) => (wish.line ? l.id === wish.line : true) && soldOf(l) > taken(l.id));
  if (!line || order.status === 'paid' || order.status === 'cancelled') return null;
  const kind = wish.kind ?? 'return';
  const reason =
    wish.reason ?? (kind === 'not received' ? 'not received' : luck.pick(Object.keys(WORDS).slice(0, 5)));
  const made: WireReturn = {
    id: `${order.number}-r-${(order.returns?.length ?? 0) + 1}`,
    kind,
    lines: [{ id: line.id, quantity: Math.min(wish.units ?? 1, soldOf(line) - taken(line.id)) }],
    reason,
    says: luck.pick(WORDS[reason] ?? ['Please see the picture.']),
    openedAt: new Date(at).toISOString(),
    answerBy: new Date(at + (kind === 'chargeback' ? 7 : ANSWER) * DAY).toISOString(),
    state: 'open',
  };
  touch(m, order, { returns: [...(order.returns ?? []), made] });
  // A bank takes the money first and asks afterwards.
  if (kind === 'chargeback') {
    refund(m, order, made.id, lineMinor(order, made));
    change(m, order, made.id, { label: decimal(CHARGEBACK) });
  }
  return made;
}

const lineMinor = (order: WireOrder, r: WireReturn) =>
  r.lines.reduce(
    (sum, one) => sum + minorOf(order.lines.find((l) => l.id === one.id)?.unitPrice) * one.quantity,
    0,
  );

/** Gives a buyer money back. What it took of that in percent it gives back, the fixed parts it keeps. */
function refund(m: Market, order: WireOrder, id: string | null, minor: number): void {
  const paid = paidOf(order);
  const before = minorOf(order.refunded);
  const given = Math.min(minor, paid - before);
  const left = paid - before - given;
  const now = chargesFor(m, order, paid > 0 ? left / paid : 0);
  const back = feesOf(order.charges) - feesOf(now);
  touch(m, order, { refunded: decimal(before + given), ...(order.charges && { charges: now }) });
  const r = order.returns?.find((one) => one.id === id);
  if (id && r)
    change(m, order, id, {
      refunded: decimal(minorOf(r.refunded) + given),
      ...(order.charges && { fees: decimal(minorOf(r.fees) + back) }),
    });
}

/** Its fees where only a share of the sale is left: sale fees by that share, others as they were. */
function chargesFor(m: Market, order: WireOrder, share: number): WireOrder['charges'] {
  return chargesOf(m, order).map((c) =>
    c.kind === 'sale' || c.kind === 'advertising'
      ? { ...c, amount: decimal(Math.round(minorOf(c.amount) * share)) }
      : c,
  );
}

/** The seller answers. @returns what is wrong with it; null for taken */
export function answerReturn(m: Market, order: WireOrder, id: string, said: WireReturnAnswer): string | null {
  const r = order.returns?.find((one) => one.id === id);
  if (!r) return 'There is no such return.';
  const refunds = said?.answer === 'refund' && ['open', 'accepted', 'received'].includes(r.state);
  if (r.state !== 'open' && !refunds) return `The return is ${r.state}.`;
  if (said.answer === 'decline') {
    if (!said.says?.trim()) return 'Say why.';
    change(m, order, id, { state: 'declined' });
    return null;
  }
  if (said.answer === 'accept') {
    if (r.kind !== 'return') return 'There is nothing to send back.';
    change(m, order, id, { state: 'accepted', ...(said.label === 'seller' && { label: decimal(LABEL) }) });
    return null;
  }
  if (said.answer !== 'refund') return 'It is not understood.';
  const minor = minorOf(said.amount);
  if (r.kind === 'chargeback') {
    change(m, order, id, { state: 'closed' });
    return null;
  }
  if (!(minor > 0) || minor > paidOf(order) - minorOf(order.refunded)) return 'More than what was paid.';
  refund(m, order, id, minor);
  change(m, order, id, { state: 'closed' });
  return null;
}

/** A refund of the seller's own. @returns what is wrong with it; null for taken */
export function refundOrder(m: Market, order: WireOrder, said: WireRefund): string | null {
  const minor = minorOf(said?.amount);
  if (!(minor > 0) || minor > paidOf(order) - minorOf(order.refunded)) return 'More than what was paid.';
  refund(m, order, null, minor);
  return null;
}

/** Brings returns on: what was accepted is sent, then comes back; what nobody answered in time is refunded. */
export function workOnReturns(m: Market, now: number): void {
  for (const order of m.orders)
    for (const r of order.returns ?? [])
      if (r.state === 'open' && r.answerBy && Date.parse(r.answerBy) <= now) {
        if (r.kind !== 'chargeback') refund(m, order, r.id, lineMinor(order, r));
        change(m, order, r.id, { state: 'closed' });
      }
}

/** The next thing happens to each return that was accepted: the buyer sends it, then it is back. @returns how many */
export function moveReturns(m: Market, now: number): number {
  let n = 0;
  for (const order of m.orders)
    for (const r of order.returns ?? []) {
      if (r.state !== 'accepted') continue;
      n++;
      if (!r.sent) change(m, order, r.id, { sent: true });
      else change(m, order, r.id, { state: 'received', answerBy: new Date(now + 2 * DAY).toISOString() });
    }
  return n;
}

/** A bank decides for the seller in what was declined: the money comes back, its charge does not. */
export function winChargebacks(m: Market): number {
  let n = 0;
  for (const order of m.orders)
    for (const r of order.returns ?? []) {
      if (r.kind !== 'chargeback' || r.state !== 'declined') continue;
      n++;
      const given = minorOf(r.refunded);
      touch(m, order, { refunded: decimal(minorOf(order.refunded) - given) });
      const left = paidOf(order) - minorOf(order.refunded);
      if (order.charges) touch(m, order, { charges: chargesFor(m, order, left / paidOf(order)) });
      change(m, order, r.id, { state: 'closed', refunded: '0.00', fees: '0.00' });
    }
  return n;
}
