import { isOpenReturn, type Return, returnStep } from '../src/core/orders';
import type { Order } from '../src/store';
import type { Work } from '../src/work/context/work';
import { answerReturn, claimReturn, closeReturn, noteReturn } from '../src/work/orders/returns';
import type { Market } from '../stand-ins/marketplace/market';
import { moveReturns, openReturn } from '../stand-ins/marketplace/returns';
import { type Chance, chance } from '../stand-ins/random';
import { bringBack, settleReturns } from '../stand-ins/supplier/returns';
import type { Warehouse } from '../stand-ins/supplier/warehouse';

/** What the returns desk of the demo sees of the world. */
interface World {
  readonly work: Work;
  readonly w: Warehouse;
  readonly markets: Readonly<Record<string, Market>>;
  readonly settle: () => Promise<void>;
}

const DAY = 86_400_000;

/** What buyers say, more often what happens more often. */
const REASONS = [
  'changed mind',
  'changed mind',
  'faulty',
  'damaged',
  'wrong goods',
  'not as described',
] as const;

/** Draws of its own: what is bought and sold goes on as it would without returns. */
const draws = chance(3207);

/** A day of the returns desk: a buyer may open one, the owner answers what is open, goods come back. */
export async function returnsOf(world: World, last: boolean): Promise<void> {
  const { work, w, markets, settle } = world;
  const now = work.clock();
  if (draws.next() < 0.4) {
    const m = draws.pick(Object.values(markets));
    const old = m.orders.filter(
      (o) => o.status === 'shipped' && Date.parse(o.paidAt) < now - 4 * DAY && !o.returns?.length,
    );
    if (old.length) {
      const reason = draws.next() < 0.12 ? 'not received' : draws.pick(REASONS);
      const kind = reason === 'not received' ? reason : reason === 'changed mind' ? 'return' : 'refund';
      openReturn(m, draws.pick(old), draws, now, { kind, reason });
      await settle();
    }
  }
  if (last) return;
  for (const m of Object.values(markets)) moveReturns(m, now);
  settleReturns(w);
  await settle();
  for (const order of await work.db.orders.where('open').equals(1).toArray())
    for (const c of order.cases.filter(isOpenReturn)) await handle(world, order, c, draws);
  await settle();
}

async function handle({ work }: World, order: Order, c: Return, luck: Chance): Promise<void> {
  const paid = c.units.reduce(
    (sum, u) => sum + (order.lines.find((l) => l.id === u.line)?.unitPrice ?? 0) * u.units,
    0,
  );
  const give = { minor: paid, label: 'buyer', says: '' } as const;
  switch (returnStep(c)) {
    case 'answer': {
      const answer = c.what === 'return' ? 'accept' : 'refund';
      const part = c.reason === 'not as described' ? Math.ceil(paid / 3) : paid;
      await answerReturn(work, order.id, c.id, { ...give, answer, minor: answer === 'refund' ? part : 0 });
      const [p] = order.purchases;
      if (p && (c.what !== 'refund' || luck.next() < 0.3))
        await claimReturn(work, order.id, c.id, p, 'refund', 'The buyer sends it back.', []);
      return;
    }
    case 'refund':
      await answerReturn(work, order.id, c.id, { ...give, answer: 'refund' });
      return;
    case 'ask outside': {
      // Hollin answers on the telephone: half of it, and seldom.
      const p = order.purchases.find((one) => one.reference === c.claim!.reference);
      const goods = p?.expected.goods ?? 0;
      const gives = luck.next() < 0.5;
      const claim = gives
        ? ({
            state: 'settled',
            credit: goods,
            restocking: Math.round(goods / 4),
            answer: 'It is back.',
          } as const)
        : ({
            state: 'refused',
            credit: 0,
            restocking: 0,
            answer: 'Nothing was wrong with it here.',
          } as const);
      await noteReturn(work, order.id, c.id, { claim });
      return;
    }
    case 'see claim':
    case 'close':
      await closeReturn(work, order.id, c.id, true);
      return;
    default:
  }
}

/** What waits for the owner this morning: a return, a refund of what was faulty, a bank, a parcel that comes back. */
export function returnsToAnswer({ w, markets }: World, at: number): void {
  const sent = (m: Market) =>
    m.orders
      .filter((o) => o.status === 'shipped' && !o.returns?.length)
      .reverse()
      .slice(4);
  const { pennywharf: home, loomhall } = markets;
  if (!home || !loomhall) return;
  const [first, second] = sent(home).slice(4);
  if (first) openReturn(home, first, draws, at, { kind: 'return', reason: 'changed mind' });
  if (second) openReturn(home, second, draws, at, { kind: 'refund', reason: 'faulty' });
  const [bank] = sent(loomhall);
  if (bank) openReturn(loomhall, bank, draws, at, { kind: 'chargeback', reason: 'not received' });
  bringBack(w, at);
}
