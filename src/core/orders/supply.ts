import { cameBack, chase, decideAgain, forget, keeps, settle, takeBack } from './cancelling';
import { askedBackOf, isAsking, isRecalling, outstanding } from './cases';
import type { Course } from './course';
import type { OrderEvent } from './events';
import type { OrderFact } from './facts';
import { byLine, countUnits, without } from './line-units';
import { reprintsHeard } from './misprint';
import { isAccepted, isPending, livingIn, openLines, type Purchase } from './order';
import { isFor } from './purchases';
import { claimsHeard, parcelsBack } from './returning';
import { tellParcels } from './sale';
import { afterStatement, unpackedIn } from './statement';

export function answeredOutside(
  course: Course,
  event: Extract<OrderEvent, { kind: 'answered outside' }>,
): void {
  const { supplier, reference, agreed } = event;
  const p = course.purchase(supplier, reference);
  if (!p) return;
  if (!agreed) {
    keeps(course, supplier, reference, { by: 'supplier', says: '' });
    return;
  }
  const asked = byLine(askedBackOf(course.order, supplier, reference).flatMap(outstanding));
  if (!asked.length) return;
  if (!isAccepted(p)) {
    neverBought(course, { supplier, reference });
    return;
  }
  const left = new Map(asked.map((u) => [u.line, u.units]));
  const lines = p.lines.map((l) => {
    const units = Math.min(left.get(l.line) ?? 0, livingIn(p, l));
    left.set(l.line, (left.get(l.line) ?? 0) - units);
    return { ...l, calledOff: l.calledOff + units };
  });
  const over = lines.every((l) => l.calledOff >= l.units);
  // A supplier that took all of it back charges nothing, as far as a person's word goes.
  course.put({ ...p, lines, ...(over && { charged: { goods: 0, shipping: 0 } }) });
  course.effects.push({ kind: 'post purchase', supplier, reference });
  cameBack(course, p, asked);
  settle(course);
}

export function supplierSaid(
  course: Course,
  { supplier, said, adopted }: Extract<OrderEvent, { kind: 'supplier said' }>,
): void {
  if (said.reprints) reprintsHeard(course, said.reprints);
  if (said.returns) claimsHeard(course, said.returns);
  if (said.back) parcelsBack(course, supplier, said);
  const known = course.purchase(supplier, said.reference);
  const more = known ? (adopted?.lines ?? []).filter((l) => !known.lines.some((k) => k.line === l.line)) : [];
  const before = known && more.length ? { ...known, lines: [...known.lines, ...more] } : (known ?? adopted);
  const number = before && isAccepted(before) ? before.number : null;
  if (!before || (number !== null && number !== said.number)) {
    if (said.status === 'cancelled') return;
    const id = `second purchase:${supplier}:${said.number}`;
    if (
      course.open({
        ...course.head(id),
        kind: 'second purchase',
        supplier,
        number: said.number,
        besides: number,
      })
    )
      course.facts.push({ kind: 'second purchase', supplier, number: said.number });
    return;
  }
  const asked = byLine(askedBackOf(course.order, supplier, said.reference).flatMap(outstanding));
  const { purchase: now, guesses } = afterStatement(
    before,
    said,
    asked,
    course.order.dispatched,
    course.world.at,
  );
  if (known && same(known, now)) return;
  course.put(now);
  course.effects.push({ kind: 'post purchase', supplier, reference: said.reference });
  if (!isAccepted(before)) {
    course.facts.push({ kind: 'accepted', supplier, number: now.number });
    // That it was refused before is past, now that it has it.
    course.change((c) =>
      c.kind === 'refused' && isFor(now, c.supplier, c.reference) ? { ...c, seenAt: course.world.at } : c,
    );
  }
  watchCharge(course, before, now);
  tellFacts(course, before, now);
  for (const { item, tracking, units, why } of guesses) {
    const id = `unclear:${supplier}:${said.reference}:${item}:${tracking ?? countUnits(units)}`;
    const { reference } = said;
    if (course.open({ ...course.head(id), kind: 'unclear', supplier, reference, item, tracking, units, why }))
      course.facts.push({ kind: 'unclear', supplier, item });
  }
  const wasOff = (line: string) => before.lines.reduce((n, l) => (l.line === line ? n + l.calledOff : n), 0);
  const off = byLine(now.lines.map((l) => ({ line: l.line, units: l.calledOff })));
  const gone = byLine(off.map((u) => ({ line: u.line, units: u.units - wasOff(u.line) })));
  if (gone.length) cameBack(course, now, gone);
  // What was asked for and lies in a parcel by now comes anyway.
  const left = unpackedIn(now);
  if (without(asked, byLine([...left, ...gone])).length) {
    course.change((c) => {
      if (!isAsking(c) || !isFor(now, c.supplier, c.reference)) return c;
      const late = without(outstanding(c), left);
      return late.length ? { ...c, late: byLine([...c.late, ...late]), why: { by: 'parcel' } } : c;
    });
    course.facts.push({ kind: 'comes anyway', supplier, why: { by: 'parcel' } });
  }
  chase(course);
  takeBack(course, now);
  tellParcels(course);
  settle(course);
  if (course.order.lines.some((l) => l.cancelled > 0)) course.effects.push({ kind: 'post sale' });
  if (!course.facts.length) course.facts.push({ kind: 'news', supplier, number: now.number });
}

/** Of what is expected, and in minor units, by which a charge may be more before a person is told. */
const DEARER = { share: 0.05, least: 50 };

/** A charge that is clearly more than expected is told, the first time that the supplier names it. */
function watchCharge(course: Course, before: Purchase, now: Extract<Purchase, { state: 'accepted' }>): void {
  // What a person bought by hand was seen by that person.
  if (!now.charged || now.lane === 'by hand' || (isAccepted(before) && before.charged)) return;
  const expected = now.expected.goods + now.expected.shipping;
  const charged = now.charged.goods + now.charged.shipping;
  // Of what was found at a supplier nothing was expected.
  if (expected === 0 || charged - expected <= Math.max(DEARER.least, expected * DEARER.share)) return;
  const { supplier, reference, number, currency } = now;
  const id = `dearer:${supplier}:${reference}`;
  if (
    course.open({
      ...course.head(id),
      kind: 'dearer',
      supplier,
      reference,
      number,
      expected,
      charged,
      currency,
    })
  )
    course.facts.push({ kind: 'dearer', supplier });
}

function tellFacts(course: Course, before: Purchase, now: Extract<Purchase, { state: 'accepted' }>): void {
  const known = new Map((isAccepted(before) ? before.parcels : []).map((one) => [one.tracking, one]));
  const part = unpackedIn(now).length > 0;
  for (const { carrier, tracking, inside } of now.parcels)
    if (!known.has(tracking))
      course.facts.push({ kind: 'shipped', supplier: now.supplier, carrier, tracking, inside, part });
  const arrived = now.parcels.filter(
    (one) => one.deliveredAt !== null && (known.get(one.tracking)?.deliveredAt ?? null) === null,
  );
  if (arrived.length) course.facts.push({ kind: 'delivered', tracking: arrived.map((one) => one.tracking) });
}

/** Ends a purchase that was never bought: what was asked back of it needs no answer. @returns it; null where it is none */
function end(
  course: Course,
  { supplier, reference }: { readonly supplier: string; readonly reference: string },
  state: 'refused' | 'withdrawn',
  fact: OrderFact,
): Purchase | null {
  const p = course.purchase(supplier, reference);
  if (!p || !isPending(p)) return null;
  course.put({ ...p, state });
  course.set({ checkedAt: null });
  course.facts.push(fact);
  forget(course, p);
  settle(course);
  return p;
}

export function supplierRefused(
  course: Course,
  event: Extract<OrderEvent, { kind: 'supplier refused' }>,
): void {
  const { supplier, reference, says } = event;
  const p = end(course, event, 'refused', { kind: 'refused', supplier, says });
  if (!p || !openLines(course.order).length) return;
  const n = course.order.cases.filter((c) => c.kind === 'refused' && isFor(p, c.supplier, c.reference));
  const id = `refused:${supplier}:${reference}:${n.length + 1}`;
  course.open({ ...course.head(id), kind: 'refused', supplier, reference, says });
  course.effects.push({ kind: 'decide', go: 'by rule' });
}

export function notSent(course: Course, supplier: string, reference: string): void {
  end(course, { supplier, reference }, 'withdrawn', { kind: 'withdrawn', supplier });
}

export function neverBought(
  course: Course,
  of: { readonly supplier: string; readonly reference: string },
): void {
  const ended = end(course, of, 'withdrawn', { kind: 'never bought', supplier: of.supplier });
  if (ended && !isRecalling(course.order)) decideAgain(course, true);
}

export function written(
  course: Course,
  { supplier, reference }: Extract<OrderEvent, { kind: 'written' }>,
): void {
  const p = course.purchase(supplier, reference);
  if (p?.state !== 'waiting') return;
  course.put({ ...p, state: 'sent' });
  course.facts.push({ kind: 'written', supplier });
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
