import { cancel, keeps } from './cancelling';
import { holdsBack } from './cases';
import { Course } from './course';
import type { Effect, OrderEvent, Surroundings } from './events';
import type { OrderFact } from './facts';
import { meant } from './meant';
import { misprintRefused, reportMisprint } from './misprint';
import { type OrderState, openLines } from './order';
import { NO_PROOF } from './proof';
import { answerRequest } from './request';
import {
  againRefused,
  answerReturn,
  claimOf,
  claimRefused,
  closeReturn,
  noteReturn,
  openReturn,
  returnTold,
  sendParcelAgain,
} from './returning';
import { cancellationRefused, marketplaceSaid, notTold, tellParcels, told } from './sale';
import { answeredOutside, neverBought, notSent, supplierRefused, supplierSaid, written } from './supply';

export interface Step<O extends OrderState> {
  readonly order: O;
  readonly effects: readonly Effect[];
  readonly facts: readonly OrderFact[];
}

/**
 * What an event makes of an order: the order after it, what is to be done outside, and what happened. Pure; an event that
 * is heard again changes nothing.
 */
export function step<O extends OrderState>(order: O, event: OrderEvent, world: Surroundings): Step<O> {
  const course = new Course(order, world);
  take(course, event);
  return { order: course.order as O, effects: course.effects, facts: course.facts };
}

function take(course: Course, event: OrderEvent): void {
  switch (event.kind) {
    case 'marketplace said':
      marketplaceSaid(course, event);
      return;
    case 'supplier said':
      supplierSaid(course, event);
      return;
    case 'supplier refused':
      supplierRefused(course, event);
      return;
    case 'never bought':
      neverBought(course, event);
      return;
    case 'not sent':
      notSent(course, event.supplier, event.reference);
      return;
    case 'keeps it':
      keeps(course, event.supplier, event.reference, { by: 'supplier', says: event.says });
      return;
    case 'answered outside':
      answeredOutside(course, event);
      return;
    case 'written':
      written(course, event);
      return;
    case 'parcel told':
      told(course, [event.tracking], { kind: 'told', tracking: event.tracking });
      return;
    case 'parcel refused':
      notTold(course, event.tracking, { why: 'refused', says: event.says });
      return;
    case 'cancellation told':
      course.facts.push({ kind: 'cancellation told' });
      return;
    case 'message told':
      course.facts.push({ kind: 'message', about: event.about, refused: event.refused });
      return;
    case 'decline told':
      course.facts.push({ kind: 'decline told', refused: event.refused });
      return;
    case 'answer request':
      answerRequest(course, event);
      return;
    case 'cancellation refused':
      cancellationRefused(course, event);
      return;
    case 'decided':
      decided(course, event);
      return;
    case 'set proof':
      setProof(course, event);
      return;
    case 'ask about words':
      course.set({
        lines: course.order.lines.map((l) =>
          l.id === event.line ? { ...l, proof: { ...NO_PROOF, ...l.proof, askedAt: course.world.at } } : l,
        ),
      });
      course.facts.push({ kind: 'asked about words', line: event.line });
      return;
    case 'report misprint':
      reportMisprint(course, event);
      return;
    case 'misprint refused':
      misprintRefused(course, event.case, event.says);
      return;
    case 'open return':
      openReturn(course, event);
      return;
    case 'answer return':
      answerReturn(course, event);
      return;
    case 'return told':
      returnTold(course, event);
      return;
    case 'claim':
      claimOf(course, event);
      return;
    case 'claim refused':
      claimRefused(course, event);
      return;
    case 'note return':
      noteReturn(course, event);
      return;
    case 'close return':
      closeReturn(course, event);
      return;
    case 'send again':
      sendParcelAgain(course, event);
      return;
    case 'again refused':
      againRefused(course, event);
      return;
    case 'approve proof':
      approveProof(course, event);
      return;
    case 'release':
      release(course, event);
      return;
    case 'edit':
      course.pass();
      course.set({
        ...event.to,
        ...(event.slip !== null && { slip: event.slip }),
        ...(event.gift !== undefined && { gift: event.gift ?? undefined }),
      });
      course.facts.push({ kind: 'edited', address: event.to?.address ?? null, slip: event.slip });
      course.effects.push({ kind: 'decide', go: 'no' });
      return;
    case 'forward':
      course.set({ kept: false });
      course.effects.push({ kind: 'decide', go: 'now' });
      return;
    case 'keep back':
      course.set({ kept: event.kept });
      course.facts.push({ kind: 'kept back', kept: event.kept });
      course.effects.push({ kind: 'decide', go: event.kept ? 'no' : 'by rule' });
      return;
    case 'set aside':
      if (Boolean(course.order.aside) === event.aside) return;
      course.set({ aside: event.aside, due: null });
      course.facts.push({ kind: 'set aside', aside: event.aside });
      if (!event.aside) course.effects.push({ kind: 'decide', go: 'no' });
      return;
    case 'choose source':
      choose(course, event);
      return;
    case 'split line':
      splitLine(course, event);
      return;
    case 'choose service':
      chooseService(course, event);
      return;
    case 'cancel':
      cancel(course, event);
      return;
    case 'seen':
      course.change((c) => (c.id === event.case ? { ...c, seenAt: course.world.at } : c));
      return;
    case 'meant':
      meant(course, event);
      return;
    case 'tell anyway':
      course.change((c) =>
        c.kind === 'tracking' && c.tracking === event.tracking ? { ...c, seenAt: course.world.at } : c,
      );
      tellParcels(course, event.tracking);
      return;
  }
}

function setProof(course: Course, { line, print, words }: Extract<OrderEvent, { kind: 'set proof' }>): void {
  const before = course.order.lines.find((l) => l.id === line);
  if (!before || (before.print === print && before.proof?.words === words)) return;
  course.set({
    lines: course.order.lines.map((l) =>
      l === before ? { ...l, print, proof: { ...NO_PROOF, ...l.proof, words } } : l,
    ),
  });
  course.facts.push({ kind: 'proof set', line, print: before.print !== undefined && before.print !== print });
  course.effects.push({ kind: 'decide', go: 'no' });
}

function approveProof(course: Course, { lines }: Extract<OrderEvent, { kind: 'approve proof' }>): void {
  const of = new Map(lines.map((l) => [l.line, l]));
  course.set({
    lines: course.order.lines.map((l) => {
      const own = of.get(l.id);
      if (!own) return l;
      const { print, words, files } = own;
      return { ...l, print, proof: { words, approved: { words, print, files, at: course.world.at } } };
    }),
  });
  course.facts.push({ kind: 'proof approved', lines: lines.map((l) => l.line) });
  course.effects.push({ kind: 'decide', go: 'by rule' });
}

function release(course: Course, event: Extract<OrderEvent, { kind: 'release' }>): void {
  course.set({ released: [...new Set([...course.order.released, ...event.kinds])] });
  course.pass();
  course.facts.push({ kind: 'released', kinds: event.kinds });
  course.effects.push({ kind: 'decide', go: event.go ? 'by rule' : 'no' });
}

function choose(course: Course, { line, source }: Extract<OrderEvent, { kind: 'choose source' }>): void {
  const { [line]: _, ...others } = course.order.chosen ?? {};
  const { [line]: __, ...shares } = course.order.shares ?? {};
  course.set({ chosen: source ? { ...others, [line]: source } : others, shares });
  // What a supplier refused is over where another was chosen.
  if (source)
    course.change((c) =>
      holdsBack(c) && 'supplier' in c && c.supplier !== source.supplier
        ? { ...c, seenAt: course.world.at }
        : c,
    );
  course.facts.push({ kind: 'source chosen', line, supplier: source?.supplier ?? null });
  course.effects.push({ kind: 'decide', go: 'no' });
}

function splitLine(course: Course, { line, shares }: Extract<OrderEvent, { kind: 'split line' }>): void {
  const { [line]: _, ...others } = course.order.shares ?? {};
  const { [line]: __, ...chosen } = course.order.chosen ?? {};
  course.set({ shares: shares ? { ...others, [line]: shares } : others, chosen });
  course.facts.push({ kind: 'line split', line, shares });
  course.effects.push({ kind: 'decide', go: 'no' });
}

function chooseService(
  course: Course,
  { supplier, service }: Extract<OrderEvent, { kind: 'choose service' }>,
): void {
  const { [supplier]: before = null, ...others } = course.order.services ?? {};
  if (before === service) return;
  course.set({ services: service === null ? others : { ...others, [supplier]: service } });
  course.facts.push({ kind: 'service chosen', supplier, service });
  course.effects.push({ kind: 'decide', go: 'no' });
}

function decided(course: Course, event: Extract<OrderEvent, { kind: 'decided' }>): void {
  if (event.over.length) {
    const gone = course.order.cases.filter((c) => event.over.includes(c.id));
    course.change((c) => (gone.includes(c) ? { ...c, seenAt: course.world.at } : c));
    for (const c of gone)
      if ('supplier' in c) course.facts.push({ kind: 'next source', supplier: c.supplier });
  }
  const passed = event.passed && !course.order.cases.some(holdsBack) && openLines(course.order).length > 0;
  course.set({
    checks: event.checks,
    expected: event.expected,
    checkedAt: passed ? (course.order.checkedAt ?? course.world.at) : null,
    due: passed && !event.purchases.length ? event.due : null,
  });
  if (!passed) {
    course.facts.push({ kind: 'held', by: event.checks.filter((c) => event.why.includes(c.kind)) });
    return;
  }
  if (!event.purchases.length) {
    course.facts.push({ kind: 'ready', ...(event.due && { due: event.due }) });
    return;
  }
  for (const p of event.purchases) {
    course.put(p);
    if (p.lane === 'service') course.effects.push({ kind: 'buy', purchase: p });
  }
  course.facts.push({
    kind: 'forwarded',
    to: event.purchases.map(({ supplier, lane }) => ({ supplier, lane })),
  });
}
