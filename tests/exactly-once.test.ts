import type { Reach } from '@/connect/reach';
import type { Order } from '@/store';
import type { Work } from '@/work/context';
import { runRound } from '@/work/jobs/runner';
import { cancelOrder, noteSeen, openOf, releaseOrder, standingFor } from '@/work/orders/decide';
import { advance, callOff } from '../stand-ins/brackwater/warehouse';
import { callOffSale, sell } from '../stand-ins/pennywharf/market';
import { chance } from '../stand-ins/random';
import { setOut } from './voyage';

const ORDERS = 80;
const FAULTS = { drop: 0.08, lose: 0.12, fail: 0.06, tooMany: 0.04, stray: 0.08 };

/**
 * Orders go through services that refuse connections, lose answers after acting, fail and turn away, tell
 * things twice and late, with proxies between that answer 404 and 413 of their own, while buyers, the seller
 * and the supplier cancel between and in the middle of requests, and the runner is killed in the middle of
 * requests (before they leave, or after they were carried out) and a new one goes on from the database alone.
 */
test.each([
  [11, 0],
  [13, 0.03],
  [15, 0.06],
])(
  'every order is bought once and its tracking returned once, or nothing stays bought for it unseen, whatever fails (seed %i, %d cancelled at a step)',
  async (seed, cancels) => {
    const v = await setOut({ seed, items: 200 });
    const { db } = v.work;
    await v.settle();
    await v.stockUp(60);
    const { warehouse, market } = v.outside;
    const deposit = 100_000_000;
    warehouse.balance = deposit;
    const luck = chance(seed * 31);
    let kills = 0;
    const cancelled = { buyer: 0, seller: 0, supplier: 0 };
    const { brackwater, pennywharf } = v.outside.faults;
    for (const faults of [brackwater, pennywharf]) faults.set({ random: FAULTS, duplicate: true });

    /** One of the three sides cancels something, as it stands at this moment. */
    const cancelSomething = async () => {
      const who = luck.pick(['buyer', 'seller', 'supplier'] as const);
      if (who === 'buyer') {
        const paid = market.orders.filter((o) => o.status === 'paid');
        if (paid.length && ++cancelled.buyer) callOffSale(market, luck.pick(paid));
      } else if (who === 'seller') {
        const open = await db.orders.where('open').equals(1).toArray();
        if (open.length && (await cancelOrder(v.work, luck.pick(open).id, 'The seller cannot deliver.')).ok)
          cancelled.seller++;
      } else {
        const accepted = warehouse.purchases.filter((p) => p.status === 'accepted');
        if (accepted.length && ++cancelled.supplier) callOff(warehouse, luck.pick(accepted));
      }
    };

    /** A runner that may die at any request: its promise then never settles, and nothing more leaves it. */
    const runnerOf = (): { work: Work; died: Promise<'died'> } => {
      let dead = false;
      let die: (how: 'died') => void;
      const died = new Promise<'died'>((resolve) => {
        die = resolve;
      });
      const never = () => {
        dead = true;
        kills++;
        die('died');
        return new Promise<Response>(() => {});
      };
      const reach: Reach = async (service, path, init) => {
        if (dead) return new Promise<Response>(() => {});
        const fate = luck.next();
        if (fate < 0.03) return never();
        if (luck.next() < cancels) await cancelSomething();
        const answer = await v.work.reach(service, path, init);
        if (luck.next() < cancels) await cancelSomething();
        return fate < 0.06 ? never() : answer;
      };
      return { work: { ...v.work, reach, chance: luck.next }, died };
    };
    const living = (reference: string) =>
      warehouse.purchases.filter((p) => p.reference === reference && p.status !== 'cancelled');
    /** A person looks at what is held: most is tried again, what is over is put away. */
    const look = async (orders: readonly Order[]) => {
      for (const order of orders) {
        if (standingFor(order) === 'held') await releaseOrder(v.work, order.id, [], true);
        else if (order.refusal !== null) await noteSeen(v.work, order.id);
      }
    };

    let made = 0;
    let runner = runnerOf();
    for (let round = 0; round < 6000; round++) {
      if (made < ORDERS && luck.next() < 0.3 && sell(market, luck, v.work.clock(), { quantity: 1 })) made++;
      if (luck.next() < cancels) await cancelSomething();
      for (const p of warehouse.purchases)
        if (p.status === 'accepted' && luck.next() < 0.02) advance(warehouse, p.number, v.work.clock(), 0);
      const end = await Promise.race([runRound(runner.work), runner.died]);
      if (end === 'died') runner = runnerOf();
      for (const o of market.orders) expect(living(o.number).length).toBeLessThanOrEqual(1);
      v.tick(luck.whole(500, 20_000));
      if (round % 50 === 0) await db.jobs.toCollection().modify({ nextAt: v.work.clock() });
      const open = await db.orders.where('open').equals(1).toArray();
      if (round % 20 === 0) await look(open);
      const over = market.orders.every((o) => o.status !== 'paid') && made === ORDERS;
      if (
        over &&
        open.length === 0 &&
        (await db.outbox.where('[state+nextAt]').between(['waiting', 0], ['waiting', Infinity]).count()) === 0
      ) {
        // News of the last cancellations may still be on their way.
        cancels = 0;
        await db.jobs.toCollection().modify({ nextAt: v.work.clock() });
        for (const faults of [brackwater, pennywharf]) faults.set({ random: null });
        await v.settle();
        if ((await db.orders.where('open').equals(1).count()) === 0) break;
      }
      if (made === ORDERS)
        for (const p of warehouse.purchases)
          if (p.status === 'accepted') advance(warehouse, p.number, v.work.clock(), 0);
    }
    const injected = [brackwater, pennywharf]
      .map((f) => Object.values(f.injected).reduce((a, b) => a + b, 0))
      .reduce((a, b) => a + b, 0);
    const lost = market.orders.filter((o) => o.status === 'cancelled' && living(o.number).length > 0);
    console.info(
      `exactly once, seed ${seed}: ${made} orders, ${injected} faults, ${kills} kills, cancelled ${JSON.stringify(cancelled)}, ${warehouse.purchases.length} purchases, ${lost.length} shipped although cancelled`,
    );
    expect(injected).toBeGreaterThan(100);
    expect(kills).toBeGreaterThan(20);
    if (cancels) for (const n of Object.values(cancelled)) expect(n).toBeGreaterThan(3);
    const orders = await db.orders.toArray();
    expect(new Set(orders.map((o) => o.number)).size).toBe(orders.length);
    expect(warehouse.purchases.reduce((sum, p) => sum + p.goods + p.shipping, 0)).toBe(
      deposit - warehouse.balance,
    );
    for (const sale of market.orders) {
      const order = orders.find((o) => o.number === sale.number);
      // Cancelled before it was ever read: it never came in.
      if (!order) {
        expect([sale.status, living(sale.number).length]).toEqual(['cancelled', 0]);
        continue;
      }
      const [purchase] = living(sale.number);
      expect(order.open).toBe(openOf(order));
      if (sale.status === 'cancelled') {
        expect(order.facts.cancelledAt).not.toBeNull();
        // Never bought once it was known to be cancelled; what could not be taken back was told to a person.
        if (purchase) expect(order.recall?.state).toBe('refused');
        else if (order.recall === null)
          expect(warehouse.purchases.filter((p) => p.reference === sale.number).map((p) => p.number)).toEqual(
            order.ended,
          );
        continue;
      }
      expect(sale.status).toBe('shipped');
      expect(order.supplierNumber).toBe(purchase!.number);
      expect([order.charged.goods, order.charged.shipping]).toEqual([purchase!.goods, purchase!.shipping]);
      expect(order.parcels[0]!.tracking).toBe(purchase!.parcels[0]!.tracking);
      expect(sale.dispatch?.tracking).toBe(purchase!.parcels[0]!.tracking);
    }
    // A second dispatch of the same order would have been refused by the marketplace and left a row behind.
    const refused = await db.outbox
      .filter((r) => r.state === 'refused' && !['take back', 'cancel', 'buy'].includes(r.kind))
      .toArray();
    expect(
      refused.filter(
        (r) =>
          market.orders.find((o) => `order:pennywharf:${o.number}` === r.subject)?.status !== 'cancelled',
      ),
    ).toEqual([]);
    await v.end();
  },
  300_000,
);
