import type { Course } from './course';
import type { OrderEvent } from './events';
import { byLine, type LineUnits, unitsOf } from './line-units';
import { isAccepted, type OrderState, parcelsOf } from './order';
import {
  type Claim,
  type ClaimState,
  isReturn,
  type Return,
  type ReturnState,
  returnedUnits,
} from './return';
import type { Statement } from './statement';

type Of<K extends OrderEvent['kind']> = Extract<OrderEvent, { kind: K }>;

const NONE = {
  sent: null,
  refused: '',
  refunded: 0,
  label: 0,
  fees: 0,
  goods: 'with buyer',
  claim: null,
  closedAt: null,
} as const;

const find = (course: Course, id: string): Return | undefined =>
  course.order.cases.find((c): c is Return => c.id === id && isReturn(c));

function put(course: Course, next: Return): void {
  course.change((c) => (c.id === next.id ? next : c));
}

/** No more units of a line than were sold and are not in another return. */
function atMost(order: OrderState, units: readonly LineUnits[], but?: string): LineUnits[] {
  return byLine(
    units.map(({ line, units: n }) => {
      const sold = order.lines.find((l) => l.id === line);
      const left = sold ? sold.quantity - returnedUnits(order.cases, line, but) : 0;
      return { line, units: Math.max(0, Math.min(n, left)) };
    }),
  );
}

const STATES: readonly ReturnState[] = ['open', 'accepted', 'received', 'declined', 'closed'];

/**
 * What a marketplace says of returns. What is older than what is known changes nothing.
 * @returns `stale` where it is older, `won` where a bank gave back what it had taken
 */
export function returnsHeard(
  course: Course,
  said: NonNullable<Of<'marketplace said'>['returns']>,
): 'fresh' | 'stale' | 'won' {
  let heard: ReturnType<typeof returnsHeard> = 'fresh';
  for (const one of said) {
    const id = `return:${one.request}`;
    const known = find(course, id);
    if (!known) {
      const units = atMost(course.order, one.units);
      course.open({
        ...course.head(id),
        ...NONE,
        kind: 'return',
        ...{ what: one.what, request: one.request, units, reason: one.reason, words: one.words },
        ...{ answerBy: one.answerBy, state: one.state, refunded: one.refunded },
        ...{ label: one.label, fees: one.fees },
        goods: one.what === 'not received' ? 'lost' : one.isSent ? 'on the way' : 'with buyer',
        closedAt: null,
      });
      course.facts.push({ kind: 'return opened', what: one.what, units });
      if (one.refunded || one.label || one.fees) course.effects.push({ kind: 'post returns' });
      continue;
    }
    if (STATES.indexOf(one.state) < STATES.indexOf(known.state)) {
      heard = 'stale';
      continue;
    }
    const { state } = one;
    const isWon = known.what === 'chargeback' && state === 'closed' && one.refunded < known.refunded;
    if (isWon) heard = 'won';
    const refunded = isWon ? one.refunded : Math.max(known.refunded, one.refunded);
    const label = Math.max(known.label, one.label);
    const fees = isWon ? one.fees : Math.max(known.fees, one.fees);
    const goods =
      known.goods === 'with buyer' && (one.isSent || state === 'received') ? 'on the way' : known.goods;
    const moved = state !== known.state;
    const same =
      !moved &&
      refunded === known.refunded &&
      label === known.label &&
      fees === known.fees &&
      goods === known.goods &&
      one.answerBy === known.answerBy;
    if (same) continue;
    const next: Return = {
      ...known,
      ...{ state, refunded, label, fees, goods, answerBy: one.answerBy },
      ...(moved && { sent: null, refused: '', seenAt: null }),
    };
    put(course, next);
    course.facts.push({ kind: 'return moved', state, minor: refunded - known.refunded });
    if (refunded !== known.refunded || label !== known.label || fees !== known.fees)
      course.effects.push({ kind: 'post returns' });
  }
  return heard;
}

/** The seller opens a return that nobody outside told of. */
export function openReturn(course: Course, event: Of<'open return'>): void {
  const units = atMost(course.order, event.units);
  if (!units.length) return;
  const n = course.order.cases.filter((c) => isReturn(c) && c.request === null).length;
  course.open({
    ...course.head(`return:own:${n + 1}`),
    ...NONE,
    kind: 'return',
    ...{ what: event.what, request: null, units, reason: event.reason, words: event.words },
    ...{ answerBy: null, state: 'open' },
    ...(event.what === 'not received' && { goods: 'lost' as const }),
  });
  course.facts.push({ kind: 'return opened', what: event.what, units });
}

/** The seller answers a buyer. @throws never: what is answered already stays as it is */
export function answerReturn(
  course: Course,
  { case: id, answer, minor, label, says }: Of<'answer return'>,
): void {
  const c = find(course, id);
  if (!c || c.closedAt !== null || c.sent) return;
  if (
    c.state !== 'open' &&
    !(c.state === 'received' && answer === 'refund') &&
    !(c.state === 'accepted' && answer === 'refund')
  )
    return;
  const keeps = answer === 'refund' && c.goods === 'with buyer';
  put(course, {
    ...c,
    ...{ sent: { answer, minor }, refused: '', seenAt: course.world.at },
    ...(keeps && { goods: 'kept' as const }),
  });
  course.facts.push({ kind: 'return answered', answer, minor });
  course.effects.push({ kind: 'tell return', case: id, answer, minor, label, says });
}

/** The marketplace took an answer, or did not. */
export function returnTold(course: Course, { case: id, refused }: Of<'return told'>): void {
  const c = find(course, id);
  if (!c?.sent) return;
  if (refused !== null) {
    put(course, {
      ...c,
      sent: null,
      refused,
      goods: c.goods === 'kept' ? 'with buyer' : c.goods,
      seenAt: null,
    });
    course.facts.push({ kind: 'return told', refused });
    return;
  }
  const { answer, minor } = c.sent;
  // What the seller opened, no feed tells of.
  const state = answer === 'accept' ? 'accepted' : answer === 'decline' ? 'declined' : 'closed';
  put(course, {
    ...c,
    sent: null,
    state,
    ...(answer === 'refund' && c.request === null && { refunded: c.refunded + minor }),
  });
  if (answer === 'refund' && c.request === null) {
    course.set({ refunded: Math.max(course.order.refunded, refundedBy(course.order)) });
    course.effects.push({ kind: 'post sale' });
  }
  course.facts.push({ kind: 'return told', refused: null });
}

const refundedBy = (order: OrderState): number =>
  order.cases.filter(isReturn).reduce((sum, c) => sum + c.refunded, 0);

/** The supplier of returned goods is asked for money or for others in their place. */
export function claimOf(course: Course, event: Of<'claim'>): void {
  const c = find(course, event.case);
  const p = course.purchase(event.supplier, event.reference);
  if (!c || !p || !isAccepted(p) || (c.claim && c.claim.state !== 'refused')) return;
  const claim: Claim = {
    ...{ supplier: p.supplier, reference: p.reference, number: p.number },
    ...(p.lane !== 'service' && { outside: true as const }),
    ...{ wants: event.wants, says: event.says, photos: event.photos },
    ...{ state: 'asked', answer: '', answerBy: null, credit: 0, restocking: 0, carrier: '', tracking: null },
  };
  put(course, { ...c, claim, seenAt: course.world.at });
  course.facts.push({ kind: 'claimed', supplier: p.supplier, wants: event.wants });
  course.effects.push({ kind: 'tell claim', case: c.id });
}

const CLAIMS: readonly ClaimState[] = ['asked', 'granted', 'refused', 'settled'];

/** What a supplier says of returns that it was asked about. */
export function claimsHeard(course: Course, said: NonNullable<Statement['returns']>): void {
  for (const { id, ...now } of said) {
    const c = find(course, id);
    if (!c?.claim) continue;
    const { claim } = c;
    const state = CLAIMS.indexOf(now.state) > CLAIMS.indexOf(claim.state) ? now.state : claim.state;
    const next: Claim = { ...claim, ...now, state };
    if (JSON.stringify(next) === JSON.stringify(claim)) continue;
    const goods = now.isBack && c.goods !== 'kept' ? 'at the supplier' : c.goods;
    put(course, { ...c, claim: withoutBack(next), goods, ...(state !== claim.state && { seenAt: null }) });
    course.facts.push({ kind: 'claim heard', supplier: claim.supplier, state, says: now.answer });
    if (next.credit !== claim.credit || next.restocking !== claim.restocking)
      course.effects.push({ kind: 'post returns' });
  }
}

function withoutBack({ isBack: _, ...claim }: Claim & { isBack?: boolean }): Claim {
  return claim;
}

/** The supplier did not take a claim. */
export function claimRefused(course: Course, { case: id, says }: Of<'claim refused'>): void {
  const c = find(course, id);
  if (c?.claim?.state !== 'asked') return;
  put(course, { ...c, claim: { ...c.claim, state: 'refused', answer: says }, seenAt: null });
  course.facts.push({ kind: 'claim heard', supplier: c.claim.supplier, state: 'refused', says });
}

/** A person says what a return is: its reason, where its goods are, what a supplier answered outside of Sampan. */
export function noteReturn(course: Course, { case: id, reason, goods, claim }: Of<'note return'>): void {
  const c = find(course, id);
  if (!c) return;
  const next: Return = {
    ...c,
    ...(reason !== undefined && { reason }),
    ...(goods !== undefined && { goods }),
    ...(claim !== undefined && c.claim && { claim: { ...c.claim, ...claim } }),
  };
  if (JSON.stringify(next) === JSON.stringify(c)) return;
  put(course, next);
  course.facts.push({ kind: 'return noted', goods: goods ?? null });
  if (claim) course.effects.push({ kind: 'post returns' });
}

/** Puts a return away, or takes it up again. */
export function closeReturn(course: Course, { case: id, closed }: Of<'close return'>): void {
  const c = find(course, id);
  if (!c || (c.closedAt !== null) === closed) return;
  put(course, { ...c, closedAt: closed ? course.world.at : null, seenAt: course.world.at });
  course.facts.push({ kind: 'return closed', closed });
}

/** A supplier says that a parcel comes back to it. */
export function parcelsBack(
  course: Course,
  supplier: string,
  { reference, back }: Pick<Statement, 'reference' | 'back'>,
): void {
  const p = course.purchase(supplier, reference);
  for (const { tracking, heldUntil, why, again } of back ?? []) {
    const parcel = p && parcelsOf(p).find((one) => one.tracking === tracking);
    if (!parcel) continue;
    const id = `undeliverable:${supplier}:${tracking}`;
    const known = find(course, id);
    const about = { supplier, reference, tracking, heldUntil };
    if (!known) {
      course.open({
        ...course.head(id),
        ...NONE,
        kind: 'return',
        ...{
          what: 'undeliverable',
          request: null,
          units: parcel.inside,
          reason: 'undeliverable',
          words: null,
        },
        ...{ answerBy: null, state: 'accepted', goods: 'on the way' },
        parcel: { ...about, again: null },
      });
      course.facts.push({ kind: 'parcel back', supplier, tracking, why });
      continue;
    }
    const before = known.parcel;
    if (!before || !again || before.again?.charged === again.charged) continue;
    put(course, {
      ...known,
      parcel: {
        ...before,
        again: { address: before.again?.address ?? course.order.address, told: true, charged: again.charged },
      },
      // It is on its way to the buyer anew: what it cost is known.
      ...(known.state === 'accepted' && { goods: 'with buyer' as const, closedAt: course.world.at }),
    });
    course.facts.push({ kind: 'sent again', supplier, tracking });
    course.effects.push({ kind: 'post returns' });
  }
}

/** An undeliverable parcel goes out again, to an address of the buyer's. */
export function sendParcelAgain(course: Course, { case: id, address }: Of<'send again'>): void {
  const c = find(course, id);
  if (!c?.parcel || c.parcel.again || c.closedAt !== null) return;
  put(course, {
    ...c,
    parcel: { ...c.parcel, again: { address, told: false, charged: 0 } },
    seenAt: course.world.at,
  });
  course.facts.push({ kind: 'to send again', tracking: c.parcel.tracking });
  course.effects.push({ kind: 'tell again', case: id });
}

/** The supplier does not send it again. */
export function againRefused(course: Course, { case: id, says }: Of<'again refused'>): void {
  const c = find(course, id);
  if (!c?.parcel?.again || c.parcel.again.told) return;
  put(course, { ...c, parcel: { ...c.parcel, again: null }, refused: says, seenAt: null });
  course.facts.push({ kind: 'again refused', says });
}

/** What the buyer paid, with shipping. */
export const paidIn = ({
  lines,
  shipping,
}: Pick<OrderState, 'lines'> & { readonly shipping: number }): number =>
  lines.reduce((sum, l) => sum + l.unitPrice * l.quantity, 0) + shipping;

/** What a return's units were sold for. */
export const soldFor = (order: Pick<OrderState, 'lines'>, units: readonly LineUnits[]): number =>
  order.lines.reduce((sum, l) => sum + l.unitPrice * unitsOf(units, l.id), 0);
