import { join } from 'node:path';
import { Faults } from './faults';
import { listen, serve } from './http';
import { keeper } from './keep';
import { openOffice, tendFolder } from './lists/hollin-orders';
import { listServer } from './lists/service';
import { addOlder, type Market, openMarket, sell, touch } from './marketplace/market';
import { makeOlder, OLDER_SEED } from './marketplace/older';
import { marketplace, marketplaceControl } from './marketplace/service';
import { SITE_IDS, type SiteId } from './marketplace/sites';
import { Pace, type PaceName } from './pace';
import { chance } from './random';
import { supplier, supplierControl } from './supplier/service';
import { advance, drift, itemsOf, openWarehouse, type Warehouse, workOn } from './supplier/warehouse';

export const SEED = 1847;

export interface Options {
  /** Where state is kept; null keeps it in memory. */
  folder: string | null;
  pace: PaceName;
  items: number;
  /** How many listings the seller had on Pennywharf UK before Sampan. */
  older?: number;
  /** The first of the ports, one after the other; 0 takes any that are free. */
  port: number;
  now?: () => number;
  luck?: () => number;
}

export type ServiceId = 'brackwater' | SiteId | 'lists' | 'tinloft' | 'quillmere';

export interface StandIns {
  origins: Record<ServiceId, string>;
  warehouse: Warehouse;
  /** Tinloft's. */
  printer: Warehouse;
  /** Quillmere's. */
  second: Warehouse;
  /** Pennywharf UK. */
  market: Market;
  markets: Record<SiteId, Market>;
  faults: Record<'brackwater' | 'tinloft' | 'quillmere' | SiteId, Faults>;
  /** Lets `ms` of time bring what it brings: drift, sales, parcels. */
  live(ms: number): void;
  stop(): Promise<void>;
}

/** In the order of their ports. */
export const SERVICE_IDS: readonly ServiceId[] = ['brackwater', ...SITE_IDS, 'lists', 'tinloft', 'quillmere'];

/** Starts all services and their clock. */
export async function startStandIns(options: Options): Promise<StandIns> {
  const now = options.now ?? Date.now;
  const pace = new Pace(options.pace);
  const file = (name: string) => (options.folder ? join(options.folder, `${name}.json`) : null);
  const w = keeper(file('brackwater'), () => openWarehouse(SEED, options.items));
  const printer = keeper(file('tinloft'), () => openWarehouse(SEED, 0, 'tinloft'));
  const second = keeper(file('quillmere'), () => openWarehouse(SEED, 0, 'quillmere'));
  const kept = SITE_IDS.map((id) => keeper(file(id), () => openMarket(id)));
  const markets = Object.fromEntries(kept.map((m) => [m.state.site, m.state])) as Record<SiteId, Market>;
  // From the first items alone: a larger catalogue has the same ones, and the shop was no larger before.
  if (options.older)
    addOlder(
      markets.pennywharf,
      makeOlder([...itemsOf(w.state).values()].slice(0, 2400), options.older, OLDER_SEED).map(
        (o) => o.listing,
      ),
    );
  const luck = chance((SEED + markets.pennywharf.issued + w.state.version) >>> 0);
  const faults = Object.fromEntries(
    (['brackwater', 'tinloft', 'quillmere', ...SITE_IDS] as const).map((id) => [
      id,
      new Faults(options.luck),
    ]),
  ) as StandIns['faults'];
  const office = keeper(file('hollin'), openOffice);
  const lists = listServer(w.state, markets.pennywharf, office.state, () =>
    new Date(now()).toISOString().slice(0, 10),
  );
  const supplierServer = ({ state, save }: typeof w, own: Faults) =>
    serve(supplier(state, own, pace, now), supplierControl(state, own, pace, now), own, save);
  const servers = {
    brackwater: supplierServer(w, faults.brackwater),
    tinloft: supplierServer(printer, faults.tinloft),
    quillmere: supplierServer(second, faults.quillmere),
    ...Object.fromEntries(
      kept.map(({ state: m, save }) => [
        m.site,
        serve(
          marketplace(m, faults[m.site], now),
          marketplaceControl(m, faults[m.site], luck, now),
          faults[m.site],
          save,
        ),
      ]),
    ),
    lists: serve(
      lists,
      () => null,
      new Faults(options.luck),
      () => {},
    ),
  } as Record<ServiceId, ReturnType<typeof serve>>;
  const origins = {} as Record<ServiceId, string>;
  for (const [k, id] of SERVICE_IDS.entries())
    origins[id] = await listen(servers[id], options.port ? options.port + k : 0);
  const all = [w, printer, second, office, ...kept];
  const save = () => {
    for (const one of all) one.save();
  };
  const flush = () => {
    for (const one of all) one.flush();
  };

  const live = (ms: number) => {
    if (pace.name === 'still') return;
    const hours = ms / 3_600_000;
    const items = w.state.count;
    const moves = items * pace.driftPerHour() * hours;
    drift(w.state, luck, (Math.floor(moves) + (luck.next() < moves % 1 ? 1 : 0)) / items);
    // Most buyers come by the home marketplace.
    const share: Record<SiteId, number> = { pennywharf: 0.6, 'pennywharf-us': 0.2, loomhall: 0.2 };
    for (const id of SITE_IDS)
      if (luck.next() < pace.ordersPerHour() * hours * share[id]) sell(markets[id], luck, now());
    workOn(printer.state, now());
    for (const { state } of [w, printer, second])
      for (const p of state.purchases)
        if (p.status !== 'delivered' && p.status !== 'cancelled' && p.dueAt <= now())
          advance(state, p.number, now(), pace.deliverAfter());
    if (options.folder) tendFolder(office.state, join(options.folder, 'hollin'), now(), pace.shipAfter());
    const arrived = new Set(
      [w, printer, second]
        .flatMap(({ state }) => state.purchases)
        .flatMap((p) => p.parcels.flatMap((one) => (one.deliveredAt === undefined ? [] : [one.tracking]))),
    );
    for (const m of Object.values(markets))
      for (const o of m.orders)
        if (o.status === 'shipped' && o.dispatches?.every((d) => arrived.has(d.tracking)))
          touch(m, o, { status: 'delivered' });
    save();
  };
  const timer = setInterval(() => live(5_000), 5_000);
  timer.unref();
  save();
  flush();
  return {
    origins,
    warehouse: w.state,
    printer: printer.state,
    second: second.state,
    market: markets.pennywharf,
    markets,
    faults,
    live,
    stop: async () => {
      clearInterval(timer);
      flush();
      await Promise.all(
        Object.values(servers).map(
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
