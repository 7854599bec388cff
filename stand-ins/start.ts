import { join } from 'node:path';
import { brackwater, brackwaterControl } from './brackwater/service';
import { advance, drift, itemsOf, openWarehouse, type Warehouse } from './brackwater/warehouse';
import { Faults } from './faults';
import { listen, serve } from './http';
import { keeper } from './keep';
import { listServer } from './lists/service';
import { Pace, type PaceName } from './pace';
import { addOlder, type Market, openMarket, sell, touch } from './pennywharf/market';
import { makeOlder, OLDER_SEED } from './pennywharf/older';
import { pennywharf, pennywharfControl } from './pennywharf/service';
import { chance } from './random';

export const SEED = 1847;

export interface Options {
  /** Where state is kept; null keeps it in memory. */
  folder: string | null;
  pace: PaceName;
  items: number;
  /** How many listings the seller had before Sampan. */
  older?: number;
  /** Ports; 0 takes any free one. */
  ports: { brackwater: number; pennywharf: number; lists?: number };
  now?: () => number;
  luck?: () => number;
}

export interface StandIns {
  origins: { brackwater: string; pennywharf: string; lists: string };
  warehouse: Warehouse;
  market: Market;
  faults: { brackwater: Faults; pennywharf: Faults };
  /** Lets `ms` of time bring what it brings: drift, sales, parcels. */
  live(ms: number): void;
  stop(): Promise<void>;
}

/** Starts both services and their clock. */
export async function startStandIns(options: Options): Promise<StandIns> {
  const now = options.now ?? Date.now;
  const pace = new Pace(options.pace);
  const file = (name: string) => (options.folder ? join(options.folder, `${name}.json`) : null);
  const w = keeper(file('brackwater'), () => openWarehouse(SEED, options.items));
  const m = keeper(file('pennywharf'), openMarket);
  // From the first items alone: a larger catalogue has the same ones, and the shop was no larger before.
  if (options.older)
    addOlder(
      m.state,
      makeOlder([...itemsOf(w.state).values()].slice(0, 2400), options.older, OLDER_SEED).map(
        (o) => o.listing,
      ),
    );
  const luck = chance((SEED + m.state.issued + w.state.version) >>> 0);
  const faults = { brackwater: new Faults(options.luck), pennywharf: new Faults(options.luck) };
  const servers = [
    serve(
      brackwater(w.state, faults.brackwater, pace, now),
      brackwaterControl(w.state, faults.brackwater, pace, now),
      faults.brackwater,
      w.save,
    ),
    serve(
      pennywharf(m.state, faults.pennywharf, now),
      pennywharfControl(m.state, faults.pennywharf, luck, now),
      faults.pennywharf,
      m.save,
    ),
    serve(
      listServer(w.state, m.state, () => new Date(now()).toISOString().slice(0, 10)),
      () => null,
      new Faults(options.luck),
      () => {},
    ),
  ] as const;
  const origins = {
    brackwater: await listen(servers[0], options.ports.brackwater),
    pennywharf: await listen(servers[1], options.ports.pennywharf),
    lists: await listen(servers[2], options.ports.lists ?? 0),
  };

  const live = (ms: number) => {
    if (pace.name === 'still') return;
    const hours = ms / 3_600_000;
    const items = w.state.count;
    const moves = items * pace.driftPerHour() * hours;
    drift(w.state, luck, (Math.floor(moves) + (luck.next() < moves % 1 ? 1 : 0)) / items);
    if (luck.next() < pace.ordersPerHour() * hours) sell(m.state, luck, now());
    for (const p of w.state.purchases)
      if (p.status !== 'delivered' && p.status !== 'cancelled' && p.dueAt <= now())
        advance(w.state, p.number, now(), pace.deliverAfter());
    const arrived = new Set(
      w.state.purchases.flatMap((p) =>
        p.status === 'delivered' ? p.parcels.map((one) => one.tracking) : [],
      ),
    );
    for (const o of m.state.orders)
      if (o.status === 'shipped' && o.dispatch && arrived.has(o.dispatch.tracking))
        touch(m.state, o, { status: 'delivered' });
    w.save();
    m.save();
  };
  const timer = setInterval(() => live(5_000), 5_000);
  timer.unref();
  w.save();
  m.save();
  return {
    origins,
    warehouse: w.state,
    market: m.state,
    faults,
    live,
    stop: async () => {
      clearInterval(timer);
      await Promise.all(
        servers.map(
          (s) =>
            new Promise((resolve) => {
              s.close(resolve);
              s.closeAllConnections();
            }),
        ),
      );
    },
  };
}
