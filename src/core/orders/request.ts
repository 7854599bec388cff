import { cancel } from './cancelling';
import { type CancelRequest, cancellationOf, isGranted, isRequest } from './cases';
import type { Course } from './course';
import type { OrderEvent } from './events';
import { byLine, type LineUnits, unitsOf } from './line-units';
import { type OrderState, openLines } from './order';

/** Why units are cancelled that the buyer does not want any more. */
const ASKED = 'The buyer asked for it.';

/** What a marketplace says of a buyer's request to cancel. Nothing is bought for the order before it is answered. */
export function requestHeard(
  course: Course,
  said: NonNullable<Extract<OrderEvent, { kind: 'marketplace said' }>['request']>,
): void {
  const id = `cancel request:${said.id}`;
  const known = course.order.cases.find((c): c is CancelRequest => c.id === id && isRequest(c));
  if (!known) {
    if (!said.open || isGranted(course.order, said.totals)) return;
    const { id: request, totals, reason, answerBy } = said;
    course.open({
      ...course.head(id),
      ...{ kind: 'cancel request', request, totals, reason, answerBy, answered: null, kept: false },
    });
    course.facts.push({ kind: 'cancel asked', units: wantedOf(course.order, totals) });
    holdOpen(course);
    return;
  }
  if (said.open || known.answered !== null) return;
  course.change((c) => (c === known ? { ...known, answered: 'over' } : c));
  course.facts.push({ kind: 'request over' });
  if (openLines(course.order).length) course.effects.push({ kind: 'decide', go: 'by rule' });
}

/** Units that are to be cancelled besides those that are. */
const wantedOf = ({ lines }: Pick<OrderState, 'lines'>, totals: readonly LineUnits[]): LineUnits[] =>
  byLine(
    lines.map((l) => ({
      line: l.id,
      units: Math.max(0, Math.min(unitsOf(totals, l.id), l.quantity) - l.cancelled),
    })),
  );

/** What stands ready is held now. */
function holdOpen(course: Course): void {
  if (!openLines(course.order).length) return;
  course.set({ checkedAt: null, due: null });
  course.effects.push({ kind: 'decide', go: 'no' });
}

/** A person's answer to a buyer's request to cancel. */
export function answerRequest(
  course: Course,
  { case: id, accept, says }: Extract<OrderEvent, { kind: 'answer request' }>,
): void {
  const asked = course.order.cases.find((c): c is CancelRequest => c.id === id && isRequest(c));
  if (!asked || asked.answered !== null || (accept && cancellationOf(course.order))) return;
  course.change((c) => (c === asked ? { ...asked, answered: accept ? 'accepted' : 'declined' } : c));
  if (accept) {
    cancel(course, { kind: 'cancel', units: wantedOf(course.order, asked.totals), reason: ASKED });
    return;
  }
  course.facts.push({ kind: 'request declined' });
  course.effects.push({ kind: 'tell decline', request: asked.request, says });
  if (openLines(course.order).length) course.effects.push({ kind: 'decide', go: 'by rule' });
}
