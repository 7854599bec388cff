import { carrierFor, trackingProblem } from '../tracking';
import { chase, raiseCancelled, settle } from './cancelling';
import { type Case, isGranted, isRequest } from './cases';
import type { Course } from './course';
import type { OrderEvent } from './events';
import type { OrderFact } from './facts';
import type { LineUnits } from './line-units';
import { awaitedParcels, isAccepted, isCancelled, openLines } from './order';
import { NO_PROOF } from './proof';
import { requestHeard } from './request';
import { returnsHeard } from './returning';

export function marketplaceSaid(
  course: Course,
  event: Extract<OrderEvent, { kind: 'marketplace said' }>,
): void {
  if (event.settled && course.order.settledAt === null) {
    course.set({ settledAt: course.world.at });
    course.facts.push({ kind: 'settled' });
  }
  const news = event.dispatched.filter((tracking) => !course.order.dispatched.includes(tracking));
  if (news.length) {
    course.set({ dispatched: [...course.order.dispatched, ...news] });
    told(course, news, { kind: 'marketplace has', tracking: news });
  }
  const gone = raiseCancelled(course, event.cancelled);
  if (gone.length) {
    course.facts.push({ kind: 'sale cancelled', units: gone });
    chase(course);
    settle(course, true);
    course.effects.push({ kind: 'post sale' });
  }
  if (event.words) wordsHeard(course, event.words);
  if (event.request) requestHeard(course, event.request);
  const heard = event.returns ? returnsHeard(course, event.returns) : 'fresh';
  // Only a bank gives a refund back.
  const isMore = event.refunded > course.order.refunded && heard !== 'stale';
  if (isMore || (heard === 'won' && event.refunded !== course.order.refunded)) {
    course.set({ refunded: event.refunded });
    course.facts.push({ kind: 'refunded', minor: event.refunded });
    course.effects.push({ kind: 'post sale' });
  }
}

/** The buyer's words are others now: what is not bought is made with these, once they are read and approved anew. */
function wordsHeard(
  course: Course,
  words: readonly { readonly line: string; readonly text: number }[],
): void {
  for (const { line, text } of words) {
    const before = course.order.lines.find((l) => l.id === line);
    if (!before || before.personalisation === text) continue;
    const { askedAt: _, ...proof } = before.proof ?? NO_PROOF;
    const open = openLines(course.order).some((l) => l.id === line);
    course.set({
      lines: course.order.lines.map((l) =>
        l === before
          ? {
              ...l,
              personalisation: text,
              ...(l.proof && { proof: open ? { ...proof, words: null } : proof }),
            }
          : l,
      ),
    });
    course.facts.push({ kind: 'words came', line, bought: !open });
    if (open) course.effects.push({ kind: 'decide', go: 'no' });
    else {
      const n = course.order.cases.filter((c) => c.kind === 'note').length;
      const says = `The buyer sent other words for “${before.title}”, which is bought already. Ask the maker whether it can still change them.`;
      course.open({ ...course.head(`words:${line}:${n + 1}`), kind: 'note', says });
    }
  }
}

export function told(course: Course, trackings: readonly string[], fact: OrderFact): void {
  markTold(course, trackings);
  course.facts.push(fact);
}

/** Notes that nobody has to be told of parcels any more. */
function markTold(course: Course, trackings: readonly string[]): void {
  const isNew = (tracking: string) => trackings.includes(tracking);
  course.set({
    purchases: course.order.purchases.map((p) =>
      isAccepted(p) && p.parcels.some((one) => isNew(one.tracking) && one.toldAt === null)
        ? {
            ...p,
            parcels: p.parcels.map((one) =>
              isNew(one.tracking) ? { ...one, toldAt: one.toldAt ?? course.world.at } : one,
            ),
          }
        : p,
    ),
  });
}

export function notTold(
  course: Course,
  tracking: string,
  problem: Extract<Case, { kind: 'tracking' }>['problem'],
): void {
  // Nobody waits for a parcel of a sale that is over.
  if (isCancelled(course.order)) return;
  const id = `tracking:${tracking}:${problem.why}`;
  if (course.open({ ...course.head(id), kind: 'tracking', tracking, problem }))
    course.facts.push({ kind: 'not told', tracking, problem });
}

/** Which other order has a parcel of a number, as it is known now or was when it was asked about. */
function usedBy(course: Course, tracking: string): string | null {
  const before = course.order.cases.find(
    (c) => c.kind === 'tracking' && c.tracking === tracking && c.problem.why === 'used',
  );
  if (before?.kind === 'tracking' && before.problem.why === 'used') return before.problem.by;
  return course.world.usedBy?.(tracking) ?? null;
}

/** Tells the marketplace of parcels that it does not know; of one that looks wrong by a person's word only. */
export function tellParcels(course: Course, anyway: string | null = null): void {
  if (isCancelled(course.order)) return;
  for (const { parcel, inside } of awaitedParcels(course.order)) {
    if (parcel.toldAt !== null || course.order.dispatched.includes(parcel.tracking)) continue;
    if (course.order.own) {
      markTold(course, [parcel.tracking]);
      continue;
    }
    const problem = trackingProblem(parcel.tracking);
    if (problem && parcel.tracking !== anyway) {
      notTold(course, parcel.tracking, { why: 'number', what: problem });
      continue;
    }
    const used = parcel.tracking === anyway ? null : usedBy(course, parcel.tracking);
    if (used !== null) {
      notTold(course, parcel.tracking, { why: 'used', by: used });
      continue;
    }
    const { carriers } = course.world;
    const carrier = carriers.length
      ? (carrierFor(parcel.carrier, carriers) ?? carrierFor('other', carriers))?.code
      : parcel.carrier;
    if (!carrier) {
      notTold(course, parcel.tracking, { why: 'carrier', carrier: parcel.carrier });
      continue;
    }
    course.effects.push({
      kind: 'tell parcel',
      carrier,
      tracking: parcel.tracking,
      // A supplier's clock may be ahead of ours; a marketplace takes no time that is to come.
      shippedAt: Math.min(parcel.shippedAt, course.world.at),
      inside,
      anyway: parcel.tracking === anyway,
    });
  }
}

export function cancellationRefused(
  course: Course,
  event: Extract<OrderEvent, { kind: 'cancellation refused' }>,
): void {
  const again: LineUnits[] = [];
  const lines = course.order.lines.map((l) => {
    const there = event.there.find((u) => u.line === l.id);
    if (!there || there.units >= l.cancelled) return l;
    again.push({ line: l.id, units: l.cancelled - there.units });
    return { ...l, cancelled: there.units };
  });
  if (!again.length) {
    course.facts.push({ kind: 'cancellation known' });
    return;
  }
  course.set({ lines, checkedAt: null });
  course.change((c) =>
    isRequest(c) && c.answered === 'granted' && !isGranted(course.order, c.totals)
      ? { ...c, answered: null }
      : c,
  );
  const n = course.order.cases.filter((c) => c.kind === 'cancellation refused').length;
  const { says } = event;
  course.open({
    ...course.head(`cancellation refused:${n + 1}`),
    kind: 'cancellation refused',
    units: again,
    says,
  });
  course.facts.push({ kind: 'cancellation refused', says });
  course.effects.push({ kind: 'post sale' });
  tellParcels(course);
}
