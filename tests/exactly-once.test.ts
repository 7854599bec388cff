import type { Reach } from '@/connect/reach';
import type { Work } from '@/work/context';
import { runRound } from '@/work/runner';
import { advance } from '../stand-ins/brackwater/warehouse';
import { sell } from '../stand-ins/pennywharf/market';
import { chance } from '../stand-ins/random';
import { setOut } from './voyage';

const ORDERS = 120;
const FAULTS = { drop: 0.08, lose: 0.12, fail: 0.06, tooMany: 0.04 };

/**
 * Orders go through services that refuse connections, lose answers after acting, fail and turn away, tell things twice and late, while the runner is
 * killed in the middle of requests (before they leave, or after they were carried out) and a new one goes on from the database alone.
 */
test.each([11, 12])(
  'every order is bought once and its tracking returned once, whatever fails (seed %i)',
  async (seed) => {
    const v = await setOut({ seed, items: 200 });
    const { db } = v.work;
    await v.settle();
    await v.stockUp(60);
    v.outside.warehouse.balance = 100_000_000;
    const luck = chance(seed * 31);
    let kills = 0;
    const { brackwater, pennywharf } = v.outside.faults;
    for (const faults of [brackwater, pennywharf]) faults.set({ random: FAULTS, duplicate: true });

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
        const answer = await v.work.reach(service, path, init);
        return fate < 0.06 ? never() : answer;
      };
      return { work: { ...v.work, reach, chance: luck.next }, died };
    };

    let made = 0;
    let runner = runnerOf();
    for (let round = 0; round < 4000; round++) {
      if (made < ORDERS && luck.next() < 0.3 && sell(v.outside.market, luck, v.work.clock(), { quantity: 1 })) made++;
      for (const p of v.outside.warehouse.purchases)
        if (p.status === 'accepted' && luck.next() < 0.02) advance(v.outside.warehouse, p.number, v.work.clock(), 0);
      const end = await Promise.race([runRound(runner.work), runner.died]);
      if (end === 'died') runner = runnerOf();
      v.tick(luck.whole(500, 20_000));
      if (round % 50 === 0) await db.jobs.toCollection().modify({ nextAt: v.work.clock() });
      const told = v.outside.market.orders.filter((o) => o.status === 'shipped').length;
      if (made === ORDERS && told === ORDERS && (await db.orders.where('open').equals(1).count()) === 0) break;
      if (made === ORDERS && v.outside.warehouse.purchases.length === ORDERS)
        for (const p of v.outside.warehouse.purchases) if (p.status === 'accepted') advance(v.outside.warehouse, p.number, v.work.clock(), 0);
    }
    const references = v.outside.warehouse.purchases.map((p) => p.reference);
    const injected = [brackwater, pennywharf].map((f) => Object.values(f.injected).reduce((a, b) => a + b, 0)).reduce((a, b) => a + b, 0);
    console.info(
      `exactly once, seed ${seed}: ${made} orders, ${injected} faults, ${kills} kills, ${references.length - new Set(references).size} doubles, ${made - new Set(references).size} losses`,
    );
    expect(injected).toBeGreaterThan(100);
    expect(kills).toBeGreaterThan(20);
    expect(await db.orders.count()).toBe(made);
    expect([...references].sort()).toEqual(v.outside.market.orders.map((o) => o.number).sort());
    expect(v.outside.market.orders.every((o) => o.status === 'shipped')).toBe(true);
    // A second dispatch of the same order would have been refused by the marketplace and left a row behind.
    expect(await db.outbox.filter((r) => r.state === 'refused').count()).toBe(0);
    for (const order of await db.orders.toArray()) {
      const purchase = v.outside.warehouse.purchases.find((p) => p.reference === order.number)!;
      expect(order.supplierNumber).toBe(purchase.number);
      expect(order.charged.goods).toBe(purchase.goods);
      expect(order.parcels[0]!.tracking).toBe(purchase.parcels[0]!.tracking);
    }
    await v.end();
  },
  120_000,
);
