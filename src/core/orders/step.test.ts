import fc from 'fast-check';
import {
  type AcceptedPurchase,
  activeOf,
  boughtFor,
  cancellationOf,
  couldBeMeant,
  countUnits,
  type Effect,
  isAccepted,
  isAsking,
  isAskingWhich,
  isLate,
  isOpen,
  isRequest,
  livingIn,
  marksOf,
  mayDo,
  nextReference,
  type OrderEvent,
  type OrderLine,
  type OrderState,
  openLines,
  orderOf,
  type Purchase,
  packedIn,
  placesOf,
  type Statement,
  standingOf,
  step,
  type Unclear,
  unitsOf,
  unseenOf,
} from '.';

const line = (id: string, quantity = 1, part: Partial<OrderLine> = {}): OrderLine => ({
  ...{ id, sku: 'M', title: 'Mug', quantity, unitPrice: 1000, personalisation: null, cancelled: 0 },
  cancelledAt: null,
  ...part,
});
const BASE = {
  supplier: 'a',
  lane: 'service',
  at: 2,
  currency: 'GBP',
  expected: { goods: 0, shipping: 0 },
} as const;
const bought = (lines: readonly OrderLine[], reference = 'uk:1'): Purchase => ({
  ...BASE,
  reference,
  state: 'waiting',
  lines: lines.map((l) => ({
    ...{ line: l.id, item: l.sku, units: l.quantity, pack: 1, personalisation: l.personalisation },
    calledOff: 0,
  })),
});
const state = (lines: readonly OrderLine[], part: Partial<OrderState> = {}): OrderState => ({
  ...{ paidAt: 1, lines, slip: null, checks: [], released: [], checkedAt: 2, expected: null, purchases: [] },
  ...{ address: 0, country: 'GB' },
  ...{ cases: [], dispatched: [], elsewhere: false, refunded: 0, settledAt: null },
  ...part,
});
const said = (part: Partial<Statement> = {}): OrderEvent => ({
  kind: 'supplier said',
  supplier: 'a',
  adopted: null,
  said: {
    ...{ reference: 'uk:1', number: 'N1', status: 'accepted', revision: null, lines: [], acceptedAt: 3 },
    ...{ charge: { goods: 500, shipping: 200 }, parcels: [], cancelled: [] },
    ...part,
  },
});
const parcel = (
  tracking: string,
  lines: Statement['cancelled'] | null = null,
  deliveredAt: number | null = null,
) => ({
  ...{ carrier: 'Fenpost', tracking, shippedAt: 4, deliveredAt, lines },
});
const pieces = (sku: string, quantity: number, of: string | null = null) => ({ line: of, sku, quantity });
const WORLD = { at: 10, hasLeft: () => true, carriers: [] };
const market = (cancelled: OrderState['lines'][number]['cancelled'], id = 'x'): OrderEvent => ({
  kind: 'marketplace said',
  ...{ cancelled: [{ line: id, units: cancelled }], dispatched: [], refunded: 0, settled: false },
});

/** An order after some events, and all that they asked of the outside. */
function after(order: OrderState, ...events: OrderEvent[]) {
  const effects: Effect[] = [];
  for (const event of events) {
    const took = step(order, event, WORLD);
    order = took.order;
    effects.push(...took.effects);
  }
  return { order, effects, asks: effects.filter((e) => e.kind === 'take back') };
}

test('a supplier that cancels one unit of three leaves that one to be bought, and the parcel of two tells of two', () => {
  const lines = [line('x', 3)];
  const { order, effects } = after(
    state(lines, { purchases: [bought(lines)] }),
    said({
      cancelled: [pieces('M', 1)],
      parcels: [parcel('FEN123456', [pieces('M', 2)])],
      status: 'shipped',
    }),
  );
  expect(placesOf(order, order.lines[0]!)).toMatchObject({ open: 1, shipped: 2, stays: 0, cancelled: 0 });
  expect(effects.filter((e) => e.kind === 'tell parcel')).toMatchObject([
    { inside: [{ line: 'x', units: 2 }] },
  ]);
  expect([standingOf(order), marksOf(order)[3]]).toEqual(['held', null]);
  expect(unseenOf(order)).toMatchObject([{ kind: 'called off', units: [{ line: 'x', units: 1 }] }]);
});

test('a tracking number that another order has is asked about, whatever is heard again, and told by a person’s word', () => {
  const world = { at: 5, hasLeft: () => true, carriers: [] };
  const start = state([line('x')], { purchases: [bought([line('x')])] });
  const sent = said({ parcels: [parcel('FEN123456')], status: 'shipped' });
  const first = step(start, sent, { ...world, usedBy: (t) => (t === 'FEN123456' ? 'PW-9' : null) });
  expect(unseenOf(first.order)).toMatchObject([{ kind: 'tracking', problem: { why: 'used', by: 'PW-9' } }]);
  const told = (some: readonly Effect[]) => some.filter((e) => e.kind === 'tell parcel').length;
  // Later steps do not look at other orders, and tell it none the less.
  const again = step(first.order, said({ parcels: [parcel('FEN123456')], revision: 2 }), world);
  expect([told(first.effects), told(again.effects)]).toEqual([0, 0]);
  const anyway = step(again.order, { kind: 'tell anyway', tracking: 'FEN123456' }, world);
  expect(told(anyway.effects)).toBe(1);
});

test('of two lines of one SKU only the one that a supplier names is called off', () => {
  const lines = [line('x', 1, { personalisation: 0 }), line('y', 1, { personalisation: 1 })];
  const start = state(lines, { purchases: [bought(lines)] });
  const named = after(start, said({ cancelled: [pieces('M', 1, 'y')] })).order;
  expect(openLines(named).map((l) => l.id)).toEqual(['y']);
  expect(unseenOf(named).map((c) => c.kind)).toEqual(['called off']);
  // Where it knows only the SKU, one is taken and a person is asked which was meant.
  const guessed = after(start, said({ cancelled: [pieces('M', 1)] })).order;
  expect(openLines(guessed)).toHaveLength(1);
  expect(
    unseenOf(guessed)
      .map((c) => c.kind)
      .sort(),
  ).toEqual(['called off', 'unclear']);
  // Found out, it is put right: the other one is open, and was called off.
  const which = unseenOf(guessed).find((c) => c.kind === 'unclear')!;
  const [taken] = (which as Unclear).units;
  const other = taken!.line === 'x' ? 'y' : 'x';
  const most = couldBeMeant(guessed, which as Unclear);
  expect(most.map((u) => u.line).sort()).toEqual(['x', 'y']);
  const right = after(guessed, { kind: 'meant', case: which.id, units: [{ line: other, units: 1 }] });
  expect(openLines(right.order)).toMatchObject([{ id: other, open: 1 }]);
  expect(unseenOf(right.order)).toMatchObject([{ kind: 'called off', units: [{ line: other, units: 1 }] }]);
  expect(right.effects.filter((e) => e.kind !== 'decide')).toEqual([]);
  // It stays so when the supplier says the same again, and more than it said is not taken.
  expect(openLines(after(right.order, said({ cancelled: [pieces('M', 1)] })).order)).toMatchObject([
    { id: other },
  ]);
  expect(after(guessed, { kind: 'meant', case: which.id, units: [{ line: other, units: 2 }] }).order).toBe(
    guessed,
  );
  // What it was asked for is meant, whatever it says.
  const asked = after(
    start,
    market(1, 'y'),
    said(),
    said({ cancelled: [pieces('M', 1)], revision: 2 }),
  ).order;
  expect(openLines(asked)).toEqual([]);
  expect(asked.cases).toMatchObject([{ kind: 'asked back', back: [{ line: 'y', units: 1 }] }]);
});

test('of what the buyer cancels, open units go first, what left is asked back with the total that is to be out', () => {
  const lines = [line('x', 5)];
  const start = after(state(lines, { purchases: [bought([line('x', 3)])] }), said({ revision: 1 })).order;
  expect(after(start, market(2)).asks).toEqual([]);
  const { order, asks } = after(start, market(3));
  expect(asks).toMatchObject([{ number: 'N1', totals: [{ line: 'x', units: 1 }] }]);
  expect(after(order, market(4)).asks).toMatchObject([{ totals: [{ line: 'x', units: 2 }] }]);
  const back = after(order, said({ cancelled: [pieces('M', 1, 'x')], revision: 2 }));
  expect(back.asks).toEqual([]);
  expect(placesOf(back.order, back.order.lines[0]!)).toMatchObject({
    'with supplier': 2,
    cancelled: 3,
    open: 0,
  });
  // An older answer, heard late, takes nothing back.
  expect(after(back.order, said({ revision: 1 })).order).toEqual(back.order);
});

test('what lies in a parcel comes anyway: a person sees it, and the buyer is not told of it', () => {
  const lines = [line('x', 2)];
  const sent = said({ parcels: [parcel('FEN123456')], status: 'shipped' });
  const { order, effects } = after(state(lines, { purchases: [bought(lines)] }), sent, market(2));
  expect(order.cases).toMatchObject([{ kind: 'asked back', late: [{ line: 'x', units: 2 }] }]);
  expect(effects.filter((e) => e.kind === 'tell parcel')).toHaveLength(1);
  expect(placesOf(order, order.lines[0]!)).toMatchObject({ stays: 2, cancelled: 0, open: 0 });
  // Heard in the other order, the parcel is not told at all.
  const late = after(state(lines, { purchases: [bought(lines)] }), market(2), sent);
  expect(late.effects.filter((e) => e.kind === 'tell parcel')).toEqual([]);
  expect(late.order.cases).toMatchObject([{ kind: 'asked back', late: [{ line: 'x', units: 2 }] }]);
});

test('a purchase that has not left is withdrawn and decided anew with what is left of it', () => {
  const lines = [line('x', 3)];
  const world = { ...WORLD, hasLeft: () => false };
  const took = step(state(lines, { purchases: [bought(lines)] }), market(1), world);
  expect(took.order.purchases[0]!.state).toBe('withdrawn');
  expect(took.effects.map((e) => e.kind)).toEqual(['withdraw', 'decide', 'post sale']);
  expect(openLines(took.order)).toMatchObject([{ id: 'x', open: 2 }]);
});

test('the seller’s cancellation ends once nothing is asked back, with what is free then', () => {
  const lines = [line('x', 3)];
  const cancel: OrderEvent = { kind: 'cancel', units: [{ line: 'x', units: 2 }], reason: 'None left' };
  const start = after(state(lines, { purchases: [bought(lines)] }), said());
  const asked = after(start.order, cancel);
  expect([standingOf(asked.order), asked.order.lines[0]!.cancelled]).toEqual(['being cancelled', 0]);
  expect(asked.effects.some((e) => e.kind === 'tell cancellation')).toBe(false);
  const some = after(asked.order, said({ cancelled: [pieces('M', 1, 'x')] }));
  expect(cancellationOf(some.order)).toBeDefined();
  const kept = after(some.order, { kind: 'keeps it', supplier: 'a', reference: 'uk:1', says: 'Packed' });
  expect(kept.effects).toContainEqual({
    kind: 'tell cancellation',
    reason: 'None left',
    totals: [{ line: 'x', units: 1 }],
  });
  expect(placesOf(kept.order, kept.order.lines[0]!)).toMatchObject({
    'with supplier': 2,
    cancelled: 1,
    stays: 0,
  });
  expect(unseenOf(kept.order)).toMatchObject([{ kind: 'asked back', why: { says: 'Packed' } }]);
});

test('what was withdrawn while another supplier was still asked back is decided as soon as that one answers', () => {
  const lines = [line('x'), line('y', 2)];
  const other: Purchase = { ...bought([lines[1]!]), supplier: 'b' };
  const start = after(state(lines, { purchases: [bought([lines[0]!]), other] }), said());
  const cancelled = [
    { line: 'x', units: 1 },
    { line: 'y', units: 1 },
  ];
  const event: OrderEvent = {
    ...{ kind: 'marketplace said', cancelled, dispatched: [], refunded: 0, settled: false },
  };
  const asked = step(start.order, event, { ...WORLD, hasLeft: () => false });
  expect(asked.order.purchases[1]!.state).toBe('withdrawn');
  expect(asked.effects.some((e) => e.kind === 'decide')).toBe(false);
  const back = after(asked.order, said({ cancelled: [pieces('M', 1, 'x')] }));
  expect(openLines(back.order)).toMatchObject([{ id: 'y', open: 1 }]);
  expect(back.effects).toContainEqual({ kind: 'decide', go: 'by rule' });
  // Heard again it is not decided twice.
  expect(after(back.order, said({ cancelled: [pieces('M', 1, 'x')] })).effects).toEqual([]);
});

test('several cases stand beside each other, and seeing one hides no other', () => {
  const lines = [line('x', 2), line('y', 1)];
  const { order } = after(
    state(lines, { purchases: [bought(lines)] }),
    said({ cancelled: [pieces('M', 1, 'x')], parcels: [parcel('LX406160078GB', [pieces('M', 1, 'y')])] }),
  );
  const kinds = unseenOf(order).map((c) => c.kind);
  expect(kinds.sort()).toEqual(['called off', 'tracking']);
  const [first, second] = unseenOf(order);
  const left = after(order, { kind: 'seen', case: first!.id }).order;
  expect(unseenOf(left).map((c) => c.id)).toEqual([second!.id]);
});

test('what is not said is no figure, and a substitute number is a second purchase', () => {
  const lines = [line('x')];
  const { order } = after(state(lines, { purchases: [bought(lines)] }), said({ charge: null }));
  expect((order.purchases[0] as AcceptedPurchase).charged).toBeNull();
  const other = after(order, said({ number: 'N2' })).order;
  expect(unseenOf(other)).toMatchObject([{ kind: 'second purchase', number: 'N2', besides: 'N1' }]);
  expect(after(other, said({ number: 'N2' })).order).toEqual(other);
});

test('packs count by whole units: one piece that is missing is a unit that is', () => {
  const lines = [line('x', 2)];
  const packed: Purchase = { ...bought(lines), lines: bought(lines).lines.map((l) => ({ ...l, pack: 3 })) };
  const { order } = after(state(lines, { purchases: [packed] }), said({ cancelled: [pieces('M', 1, 'x')] }));
  expect(order.purchases[0]!.lines[0]!.calledOff).toBe(1);
});

test('a reference stays the same until something was really bought under it', () => {
  const lines = [line('x')];
  const [p] = [bought(lines)];
  const over = after(state(lines, { purchases: [p!] }), said({ status: 'cancelled' })).order.purchases[0]!;
  expect(nextReference('uk:1', 'a', [])).toBe('uk:1');
  expect(nextReference('uk:1', 'a', [{ ...p!, state: 'refused' } as Purchase])).toBe('uk:1');
  expect(nextReference('uk:1', 'b', [over])).toBe('uk:1');
  expect(nextReference('uk:1', 'a', [over])).toBe('uk:1#2');
  // Of two that waited the first was withdrawn, the second is bought: that one keeps its reference.
  const second: Purchase = { ...over, reference: 'uk:1#3' };
  const withdrawn: Purchase = { ...bought(lines, 'uk:1#2'), state: 'withdrawn' };
  expect(nextReference('uk:1', 'a', [over, withdrawn, second])).toBe('uk:1#2');
  expect(['uk:PW-1', 'uk:PW-1#2'].map(orderOf)).toEqual(['uk:PW-1', 'uk:PW-1']);
});

test('an order is late within six hours of its ship-by, until all of it is sent', () => {
  const hour = 3_600_000;
  const lines = [line('x', 2)];
  const start = state(lines, { purchases: [bought(lines)] });
  expect(isLate(start, 48 * hour, 41 * hour)).toBe(false);
  expect(isLate(start, 48 * hour, 43 * hour)).toBe(true);
  const part = after(
    start,
    said({ parcels: [parcel('FEN123456', [pieces('M', 1)])], status: 'part shipped' }),
  );
  expect(isLate(part.order, 48 * hour, 60 * hour)).toBe(true);
  const all = after(start, said({ parcels: [parcel('FEN123456')] }));
  expect(isLate(all.order, 48 * hour, 60 * hour)).toBe(false);
  expect(isLate(state(lines, { elsewhere: true }), 48 * hour, 60 * hour)).toBe(false);
});

/** Any story of an order: what each side says, in any order, twice and late. */
interface Told {
  readonly what: number;
  readonly which: number;
  readonly n: number;
}

function everythingIsLegal(o: OrderState): void {
  for (const l of o.lines) {
    const { open, pending, shipped, delivered, elsewhere, stays, cancelled, ...rest } = placesOf(o, l);
    const all = [open, pending, shipped, delivered, elsewhere, stays, cancelled, rest['with supplier']];
    expect(Math.min(...all)).toBeGreaterThanOrEqual(0);
    expect(all.reduce((a, b) => a + b, 0)).toBe(l.quantity);
    expect(boughtFor(o, l.id)).toBeLessThanOrEqual(l.quantity);
    // Whatever is bought and not wanted was asked back, or a person is told that it comes.
    const known = o.cases.reduce(
      (n, c) => (c.kind === 'asked back' ? n + unitsOf(c.units, l.id) - unitsOf(c.back, l.id) : n),
      0,
    );
    expect(known).toBeGreaterThanOrEqual(stays);
  }
  for (const p of o.purchases)
    for (const l of p.lines) {
      expect(l.calledOff).toBeGreaterThanOrEqual(0);
      expect(livingIn(p, l)).toBeGreaterThanOrEqual(packedIn(p, l.line));
    }
  const over = o.cases.some(isAsking) || cancellationOf(o) !== undefined;
  if (over)
    for (const doing of ['edit', 'release', 'forward', 'cancel'] as const)
      expect(mayDo(doing, o)).toBe(false);
  if (!isOpen(standingOf(o))) expect([openLines(o).length, over]).toEqual([0, false]);
}

test('of two lines of one SKU a piece in a parcel is one of them, and the piece that was cancelled the other', () => {
  let order = state([line('l0'), line('l1')], { purchases: [bought([line('l0'), line('l1')])] });
  for (const l of ['l0', 'l1']) order = step(order, market(1, l), WORLD).order;
  const piece = { line: null, sku: 'M', quantity: 1 };
  const news = said({
    status: 'part shipped',
    parcels: [parcel('FEN1', [piece])],
    cancelled: [piece],
  });
  const heard = step(order, news, WORLD).order;
  expect(heard.purchases[0]!.lines.map((l) => l.calledOff)).toEqual([0, 1]);
  expect(step(heard, news, WORLD).order).toEqual(heard);
});

test('any events in any order and any number of times leave a legal order, and one heard again changes nothing', () => {
  const lines = fc.array(
    fc.record({ quantity: fc.integer({ min: 1, max: 4 }), text: fc.constantFrom(null, 0, 1) }),
    { minLength: 1, maxLength: 3 },
  );
  const told = fc.array(
    fc.record<Told>({ what: fc.integer({ min: 0, max: 15 }), which: fc.nat(9), n: fc.nat(9) }),
    { maxLength: 25 },
  );
  fc.assert(
    fc.property(lines, told, fc.boolean(), (sold, story, bySku) => {
      let order = state(
        sold.map(({ quantity, text }, k) => line(`l${k}`, quantity, { personalisation: text })),
      );
      /** What the supplier has, as it states it, newest last; old statements are heard too. */
      const has = new Map<string, Statement[]>();
      let numbers = 0;
      /** @param most lines that are bought at once: what is left is bought by itself */
      const decide = (most = 9): OrderEvent => {
        const open = openLines(order)
          .slice(0, most)
          .map((l) => ({ ...l, quantity: l.open }));
        const reference = nextReference('uk:1', 'a', order.purchases);
        return {
          ...{ kind: 'decided', checks: [], expected: null, passed: true, why: [], due: null, over: [] },
          purchases: open.length ? [bought(open, reference)] : [],
        };
      };
      const take = (event: OrderEvent) => {
        const numbersBefore = order.purchases.flatMap((p) => (isAccepted(p) ? [p.number] : []));
        const took = step(order, event, { at: 10, hasLeft: () => story.length % 2 === 0, carriers: [] });
        order = took.order;
        everythingIsLegal(order);
        // What was bought stays known, whatever is bought besides.
        expect(order.purchases.flatMap((p) => (isAccepted(p) ? [p.number] : []))).toEqual(
          expect.arrayContaining(numbersBefore),
        );
        const again = step(order, event, WORLD);
        if (!['cancel', 'decided', 'release', 'answer request'].includes(event.kind))
          expect(again.order).toEqual(order);
        for (const e of took.effects)
          if (e.kind === 'decide' && !cancellationOf(order) && !order.cases.some(isAsking)) take(decide());
      };
      const count = (p: Purchase, k: number, quantity: number) => {
        const l = p.lines[k % p.lines.length]!;
        return { line: bySku ? null : l.line, sku: l.item, quantity };
      };
      const change = (p: Purchase, to: (now: Statement) => Partial<Statement>) => {
        const known = has.get(p.reference) ?? [];
        const now = known.at(-1) ?? {
          ...{ reference: p.reference, number: `N${++numbers}`, status: 'accepted', acceptedAt: 3 },
          ...{ revision: 0, lines: [], charge: { goods: 1, shipping: 1 }, parcels: [], cancelled: [] },
        };
        has.set(p.reference, [
          ...known,
          { ...now, ...to(now as Statement), revision: now.revision! + 1 } as Statement,
        ]);
      };
      for (const { what, which, n } of story) {
        const active = activeOf(order);
        const p = active[which % Math.max(1, active.length)];
        const l = order.lines[which % order.lines.length]!;
        const stated = p ? (has.get(p.reference) ?? []) : [];
        if (what === 0) take(decide(1 + (n % 3)));
        else if (what === 1) take(market(Math.min(n, l.quantity), l.id));
        else if (what === 2 && mayDo('cancel', order))
          take({ kind: 'cancel', units: [{ line: l.id, units: 1 + (n % 3) }], reason: 'x' });
        else if (what === 3 && p && !isAccepted(p))
          take({
            kind: n % 2 ? 'supplier refused' : 'never bought',
            supplier: 'a',
            reference: p.reference,
            says: 'No',
          });
        else if (what === 4 && p)
          take({ kind: 'keeps it', supplier: 'a', reference: p.reference, says: 'Packed' });
        else if (what === 5 && p)
          change(p, (now) => ({ cancelled: [...now.cancelled, count(p, which, 1 + (n % 2))] }));
        else if (what === 6 && p)
          change(p, (now) => ({
            status: 'part shipped',
            parcels: [
              ...now.parcels,
              parcel(`FEN12345${now.parcels.length}`, [count(p, n, 1 + (which % 3))]),
            ],
          }));
        else if (what === 7 && p) change(p, () => ({ status: (['shipped', 'cancelled'] as const)[n % 2]! }));
        else if (what === 8)
          for (const c of unseenOf(order).slice(0, 1 + n)) take({ kind: 'seen', case: c.id });
        else if (what === 9) take({ kind: 'parcel told', tracking: `FEN12345${n % 3}` });
        else if (what === 10 && mayDo('release', order)) take({ kind: 'release', kinds: [], go: true });
        else if (what === 14) {
          const request = {
            ...{ id: `r${n}`, reason: null, answerBy: null, open: which % 3 > 0 },
            totals: [{ line: l.id, units: 1 + (n % l.quantity) }],
          };
          take({ ...market(l.cancelled, l.id), request } as OrderEvent);
        } else if (what === 15)
          for (const c of order.cases.filter(isRequest))
            take({ kind: 'answer request', case: c.id, accept: n % 2 > 0, says: 'No' });
        else if (what === 11)
          for (const c of unseenOf(order).filter(isAskingWhich)) {
            const most = couldBeMeant(order, c);
            const { line: one } = most[n % most.length]!;
            take({ kind: 'meant', case: c.id, units: [{ line: one, units: countUnits(c.units) }] });
          }
        else if (stated.length)
          take({ kind: 'supplier said', supplier: 'a', said: stated[n % stated.length]!, adopted: null });
        else if (p) change(p, () => ({}));
      }
      // At last everybody is heard, and nothing is asked that nobody answers for.
      for (const p of activeOf(order)) {
        change(p, () => ({}));
        take({ kind: 'supplier said', supplier: 'a', said: has.get(p.reference)!.at(-1)!, adopted: null });
      }
      for (const p of activeOf(order))
        take({ kind: 'keeps it', supplier: 'a', reference: p.reference, says: 'No' });
      expect(order.cases.some(isAsking)).toBe(false);
      expect(cancellationOf(order)).toBeUndefined();
      // No answer is left half given.
      expect(order.cases.some((c) => isRequest(c) && c.answered === 'accepted')).toBe(false);
      expect(order.lines.every((l) => l.cancelled <= l.quantity)).toBe(true);
      expect(countUnits(order.lines.map((l) => ({ line: l.id, units: l.quantity })))).toBe(
        sold.reduce((sum, l) => sum + l.quantity, 0),
      );
    }),
    { numRuns: 1500 },
  );
});
