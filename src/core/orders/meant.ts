import { decideAgain } from './cancelling';
import { isUnseen, type Unclear } from './cases';
import type { Course } from './course';
import type { OrderEvent } from './events';
import { byLine, countUnits, type LineUnits, unitsOf, without } from './line-units';
import { type AcceptedPurchase, isAccepted, type OrderState, openLines, packedIn } from './order';
import { isFor } from './purchases';

/** Whether a person can say which lines a supplier meant. */
export const isAskingWhich = (c: { readonly kind: string }): c is Unclear =>
  c.kind === 'unclear' && (c as Unclear).why === 'which';

/** Units of each line that a supplier may have meant: those it was taken for, and what of the same item is in no parcel. */
export function couldBeMeant(order: Pick<OrderState, 'purchases'>, about: Unclear): LineUnits[] {
  const p = order.purchases.find((one) => isFor(one, about.supplier, about.reference));
  if (!p || !isAccepted(p)) return [];
  const own = p.lines.filter((l) => l.item === about.item);
  const free = byLine(own.map((l) => ({ line: l.line, units: l.units - l.calledOff })));
  return byLine(
    [...new Set(own.map((l) => l.line))].map((line) => ({
      line,
      units: Math.max(0, unitsOf(free, line) - packedIn(p, line)) + unitsOf(about.units, line),
    })),
  );
}

/** Puts right what a supplier's word was taken for: a person found out which lines it meant. */
export function meant(course: Course, event: Extract<OrderEvent, { kind: 'meant' }>): void {
  const { units } = event;
  const about = course.order.cases.find((c) => c.id === event.case);
  if (!about || !isAskingWhich(about) || !isUnseen(about)) return;
  const p = course.purchase(about.supplier, about.reference);
  const most = couldBeMeant(course.order, about);
  if (!p || !isAccepted(p) || countUnits(units) !== countUnits(about.units)) return;
  if (without(units, most).length) return;
  const [from, to] = [without(about.units, units), without(units, about.units)];
  course.put(about.tracking === null ? calledOffAs(p, about.item, from, to) : packedAs(p, about, units));
  course.change((c) => (c.id === about.id ? { ...about, units, seenAt: course.world.at } : c));
  course.facts.push({ kind: 'meant', supplier: about.supplier, item: about.item, units });
  if (about.tracking !== null) return;
  const open = openLines(course.order).map((l) => ({ line: l.id, units: l.open }));
  const lost = byLine(to.map(({ line, units: n }) => ({ line, units: Math.min(n, unitsOf(open, line)) })));
  course.change((c) =>
    c.kind === 'called off' &&
    isUnseen(c) &&
    isFor(p, c.supplier, c.reference) &&
    without(from, c.units).length === 0
      ? { ...c, units: byLine([...without(c.units, from), ...lost]) }
      : c,
  );
  course.set({ checkedAt: null });
  decideAgain(course, false);
}

/** A purchase whose units of some lines were called off instead of others. */
function calledOffAs(
  p: AcceptedPurchase,
  item: string,
  from: readonly LineUnits[],
  to: readonly LineUnits[],
): AcceptedPurchase {
  const back = new Map(from.map((u) => [u.line, u.units]));
  const off = new Map(to.map((u) => [u.line, u.units]));
  const lines = p.lines.map((l) => {
    if (l.item !== item) return l;
    const less = Math.min(back.get(l.line) ?? 0, l.calledOff);
    const more = Math.min(off.get(l.line) ?? 0, l.units - l.calledOff);
    back.set(l.line, (back.get(l.line) ?? 0) - less);
    off.set(l.line, (off.get(l.line) ?? 0) - more);
    return less || more ? { ...l, calledOff: l.calledOff - less + more } : l;
  });
  return { ...p, lines };
}

/** A purchase with other units in the parcel that a case is about. */
const packedAs = (p: AcceptedPurchase, about: Unclear, units: readonly LineUnits[]): AcceptedPurchase => ({
  ...p,
  parcels: p.parcels.map((one) =>
    one.tracking === about.tracking
      ? { ...one, inside: byLine([...without(one.inside, about.units), ...units]) }
      : one,
  ),
});
