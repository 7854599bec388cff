import {
  type AskedBack,
  askedBackOf,
  type Case,
  cancellationOf,
  isAsking,
  isGranted,
  isRecalling,
  isRequest,
  outstanding,
  type TooLate,
} from './cases';
import type { Course } from './course';
import type { OrderEvent } from './events';
import { byLine, countUnits, type LineUnits, unitsOf, without } from './line-units';
import {
  boughtFor,
  isAccepted,
  isActive,
  isCancelled,
  isPending,
  livingIn,
  type OrderState,
  openLines,
  type Purchase,
  packedIn,
} from './order';
import { isFor } from './purchases';
import { unpackedIn } from './statement';

/** Why a supplier is asked, where the marketplace cancelled. */
const CANCELLED = 'The order was cancelled.';

/** Raises the units cancelled of each line to totals. @returns by how many */
export function raiseCancelled(course: Course, totals: readonly LineUnits[]): LineUnits[] {
  const gone: LineUnits[] = [];
  const lines = course.order.lines.map((l) => {
    const cancelled = Math.min(l.quantity, unitsOf(totals, l.id));
    if (cancelled <= l.cancelled) return l;
    gone.push({ line: l.id, units: cancelled - l.cancelled });
    return { ...l, cancelled, cancelledAt: course.world.at };
  });
  if (gone.length) course.set({ lines });
  course.change((c) =>
    isRequest(c) && (c.answered === null || c.answered === 'accepted') && isGranted(course.order, c.totals)
      ? { ...c, answered: 'granted' }
      : c,
  );
  return gone;
}

export function cancel(course: Course, { units, reason }: Extract<OrderEvent, { kind: 'cancel' }>): void {
  const totals = course.order.lines.flatMap((l) => {
    const more = Math.min(unitsOf(units, l.id), l.quantity - l.cancelled);
    return more > 0 ? [{ line: l.id, units: l.cancelled + more }] : [];
  });
  if (!totals.length || cancellationOf(course.order)) return;
  const n = course.order.cases.filter((c) => c.kind === 'cancellation').length;
  course.open({
    ...course.head(`cancellation:${n + 1}`),
    kind: 'cancellation',
    reason,
    totals,
    cancelled: null,
  });
  course.facts.push({ kind: 'to cancel', reason, units: byLine(units) });
  chase(course);
  settle(course);
}

/** Units of a line that suppliers have and nobody wants, for which nothing was done yet. */
function unwanted(course: Course, line: string): number {
  const sold = course.order.lines.find((l) => l.id === line)!;
  const under = cancellationOf(course.order);
  const wanted = sold.quantity - Math.max(sold.cancelled, under ? unitsOf(under.totals, line) : 0);
  const chased = course.order.cases.reduce(
    (n, c) => (c.kind === 'asked back' ? n + unitsOf(c.units, line) - unitsOf(c.back, line) : n),
    0,
  );
  return boughtFor(course.order, line) - wanted - chased;
}

/**
 * Goes after units that are bought and not wanted any more: out of purchases that have not left, which are made anew
 * without them; asked back of what left, or may have; of what lies in a parcel a person is told.
 */
export function chase(course: Course): void {
  const under = cancellationOf(course.order);
  const [by, reason] = under ? (['seller', under.reason] as const) : (['marketplace', CANCELLED] as const);
  const lines = course.order.lines.map((l) => l.id);
  for (const p of course.order.purchases) {
    if (p.state !== 'waiting' || course.world.hasLeft(p.supplier, p.reference)) continue;
    if (!p.lines.some((l) => livingIn(p, l) > 0 && unwanted(course, l.line) > 0)) continue;
    course.put({ ...p, state: 'withdrawn' });
    course.set({ checkedAt: null });
    course.effects.push({ kind: 'withdraw', supplier: p.supplier, reference: p.reference });
    course.facts.push({ kind: 'withdrawn', supplier: p.supplier });
  }
  for (const packed of [false, true])
    for (const p of course.order.purchases) {
      if (!isActive(p)) continue;
      const units = byLine(
        lines.map((line) => ({
          line,
          units: Math.min(unwanted(course, line), reachable(course, p, line, packed)),
        })),
      );
      if (units.length) ask(course, p, units, by, reason, packed);
    }
}

/** Units of a purchase's line that were not asked back: in no parcel, or in one. */
function reachable(course: Course, p: Purchase, line: string, packed: boolean): number {
  let asked = 0;
  let late = 0;
  for (const c of askedBackOf(course.order, p.supplier, p.reference)) {
    asked += unitsOf(outstanding(c), line);
    late += unitsOf(c.late, line);
  }
  const inParcels = packedIn(p, line);
  const free = unitsOf(unpackedIn(p), line);
  // What the supplier keeps is, as far as it goes, what lies in parcels.
  return packed ? Math.max(0, inParcels - late) : Math.max(0, free - asked - Math.max(0, late - inParcels));
}

function ask(
  course: Course,
  p: Purchase,
  units: readonly LineUnits[],
  by: AskedBack['by'],
  reason: string,
  late: boolean,
): void {
  const { supplier, reference } = p;
  const n = askedBackOf(course.order, supplier, reference).length;
  const why: TooLate | null = late ? { by: 'parcel' } : null;
  course.open({
    ...course.head(`asked back:${supplier}:${reference}:${n + 1}`),
    ...{ kind: 'asked back', by, reason, supplier, reference, units, back: [], why },
    late: late ? units : [],
  });
  if (why) {
    course.facts.push({ kind: 'comes anyway', supplier, why });
    return;
  }
  if (isPending(p) && p.lane === 'service') course.facts.push({ kind: 'looked up', supplier });
  else
    course.facts.push({
      kind: 'asked back',
      supplier,
      number: isAccepted(p) ? p.number : null,
      by: p.lane,
    });
  takeBack(course, p);
}

/** Asks a supplier for all that it was not yet asked for, once it is known to have it. */
export function takeBack(course: Course, p: Purchase): void {
  if (!isAccepted(p) || p.lane !== 'service') return;
  const own = askedBackOf(course.order, p.supplier, p.reference);
  const asked = byLine(own.flatMap(outstanding));
  if (!asked.length) return;
  const totals = byLine([
    ...asked,
    ...p.lines.flatMap((l) => (unitsOf(asked, l.line) ? [{ line: l.line, units: l.calledOff }] : [])),
  ]);
  const all = p.lines.every(
    (l) => livingIn(p, l) === 0 || unitsOf(totals, l.line) >= unitsOf(p.lines, l.line),
  );
  course.effects.push({
    kind: 'take back',
    supplier: p.supplier,
    reference: p.reference,
    number: p.number,
    reason: own.find(isAsking)!.reason,
    totals: all ? null : totals,
    kept: countUnits(own.flatMap((c) => c.late)),
  });
}

/** Units that were asked back come anyway. */
export function keeps(course: Course, supplier: string, reference: string, why: TooLate): void {
  let any = false;
  course.change((c) => {
    if (!isAsking(c) || c.supplier !== supplier || c.reference !== reference) return c;
    any = true;
    return { ...c, late: byLine([...c.late, ...outstanding(c)]), why };
  });
  if (!any) return;
  course.facts.push({ kind: 'comes anyway', supplier, why });
  settle(course);
}

/** Units that a supplier will not send: what was asked back first, what is left it cancelled by itself. */
export function cameBack(course: Course, p: Purchase, units: readonly LineUnits[]): void {
  let left = [...units];
  const give = (c: AskedBack, waiting: readonly LineUnits[], late: boolean): AskedBack => {
    const back = byLine(
      waiting.map(({ line, units: n }) => ({ line, units: Math.min(n, unitsOf(left, line)) })),
    );
    left = without(left, back);
    return { ...c, back: byLine([...c.back, ...back]), ...(late && { late: without(c.late, back) }) };
  };
  const isOwn = (c: Case): c is AskedBack => c.kind === 'asked back' && isFor(p, c.supplier, c.reference);
  course.change((c) => (isOwn(c) && isAsking(c) ? give(c, outstanding(c), false) : c));
  course.change((c) => (isOwn(c) && c.late.length ? give(c, c.late, true) : c));
  const back = without(units, left);
  if (back.length) course.facts.push({ kind: 'came back', supplier: p.supplier, units: back });
  const lost = byLine(
    left.map(({ line, units: n }) => ({
      line,
      units: Math.min(n, unitsOf(openUnits(course.order), line)),
    })),
  );
  if (left.length) course.facts.push({ kind: 'called off', supplier: p.supplier, units: left });
  if (!lost.length) return;
  const { supplier, reference } = p;
  const n = course.order.cases.filter((c) => c.kind === 'called off' && isFor(p, c.supplier, c.reference));
  const id = `called off:${supplier}:${reference}:${n.length + 1}`;
  course.open({ ...course.head(id), kind: 'called off', supplier, reference, units: lost });
  course.set({ checkedAt: null });
}

/**
 * Ends the seller's cancellation once nothing is asked back any more: what nothing is bought for is cancelled and told.
 * What was taken out of a purchase together with it is decided anew.
 * @param fewer whether fewer units are sold than before
 */
export function settle(course: Course, fewer = false): void {
  if (isRecalling(course.order)) return;
  const under = cancellationOf(course.order);
  if (under) {
    const totals = course.order.lines.flatMap((l) => {
      const wanted = Math.min(unitsOf(under.totals, l.id), l.quantity - boughtFor(course.order, l.id));
      return wanted > l.cancelled ? [{ line: l.id, units: wanted }] : [];
    });
    const gone = raiseCancelled(course, totals);
    course.change((c) => (c.id === under.id ? { ...under, cancelled: gone } : c));
    // What was accepted and cannot be cancelled waits for an answer again.
    course.change((c) =>
      isRequest(c) && c.answered === 'accepted' ? { ...c, answered: null, kept: true } : c,
    );
    if (gone.length) {
      const all = isCancelled(course.order);
      if (!course.order.own)
        course.effects.push({ kind: 'tell cancellation', reason: under.reason, totals: all ? null : totals });
      course.effects.push({ kind: 'post sale' });
      course.facts.push({ kind: 'cancelled', reason: under.reason, units: gone, all });
    } else course.facts.push({ kind: 'not cancelled' });
  }
  const withdrew = course.effects.some((e) => e.kind === 'withdraw');
  // What was withdrawn while something else was still asked back was not decided then.
  if (withdrew || under || fewer || isRecalling(course.before)) decideAgain(course, withdrew);
}

/** @param forwarded whether a person or the rule had let it go already */
export function decideAgain(course: Course, forwarded: boolean): void {
  if (openLines(course.order).length)
    course.effects.push({ kind: 'decide', go: forwarded ? 'now' : 'by rule' });
}

/** Ends the cases of a purchase that was never bought: they need no answer. */
export function forget(course: Course, p: Purchase): void {
  course.set({
    cases: course.order.cases.filter((c) => !(isAsking(c) && isFor(p, c.supplier, c.reference))),
  });
}

const openUnits = (order: OrderState): LineUnits[] =>
  openLines(order).map((l) => ({ line: l.id, units: l.open }));
