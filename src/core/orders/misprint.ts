import type { Misprint } from './cases';
import type { Course } from './course';
import type { OrderEvent } from './events';
import { byLine } from './line-units';
import { isAccepted, parcelsOf } from './order';
import type { Statement } from './statement';

/** A person says that something came out wrong: its maker is asked to print it again. */
export function reportMisprint(
  course: Course,
  event: Extract<OrderEvent, { kind: 'report misprint' }>,
): void {
  const { supplier, reference, reason, photo } = event;
  const p = course.purchase(supplier, reference);
  if (!p || !isAccepted(p)) return;
  // Only what was sent can have come out wrong.
  const sent = byLine(parcelsOf(p).flatMap((parcel) => parcel.inside));
  const units = byLine(
    event.units.map(({ line, units: n }) => ({
      line,
      units: Math.min(n, sent.find((s) => s.line === line)?.units ?? 0),
    })),
  );
  if (!units.length) return;
  const id = `misprint:${supplier}:${reference}:${course.order.cases.filter((c) => c.kind === 'misprint').length + 1}`;
  const { number } = p;
  const base = { kind: 'misprint', supplier, reference, number, units, reason, photo } as const;
  course.open({ ...course.head(id), ...base, state: 'asked', says: '', carrier: '', tracking: null });
  course.facts.push({ kind: 'misprint reported', supplier, units });
  course.effects.push({ kind: 'tell misprint', case: id });
}

/** The maker did not take word of a misprint. */
export function misprintRefused(course: Course, id: string, says: string): void {
  change(course, id, { state: 'refused', says });
}

const ORDER: readonly Misprint['state'][] = ['asked', 'granted', 'refused', 'sent'];

/** What a maker says of what it prints again. What is older than what is known changes nothing. */
export function reprintsHeard(course: Course, reprints: NonNullable<Statement['reprints']>): void {
  for (const { id, state, says, carrier, tracking } of reprints) {
    const known = course.order.cases.find((c) => c.kind === 'misprint' && c.id === id);
    if (known?.kind !== 'misprint' || ORDER.indexOf(state) <= ORDER.indexOf(known.state)) continue;
    change(course, id, { state, says, carrier, tracking });
  }
}

function change(course: Course, id: string, to: Partial<Misprint>): void {
  const before = course.order.cases.find((c) => c.id === id);
  if (before?.kind !== 'misprint' || before.state === to.state) return;
  const next: Misprint = { ...before, ...to, seenAt: null };
  course.change((c) => (c.id === id ? next : c));
  course.facts.push({ kind: 'reprint', supplier: next.supplier, state: next.state, says: next.says });
}
