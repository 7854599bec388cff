import type { Table } from 'dexie';
import type { Reach } from '@/connect/reach';
import type { WireOrder } from '@/connect/wire';
import { USUAL_RULES } from '@/core/forwarding';
import {
  activeOf,
  chargeOf,
  isAccepted,
  isFor,
  isRequest,
  mayDo,
  numberOf,
  orderOf,
  parcelsOf,
  placesOf,
  standingOf,
  unitsOf,
  unseenOf,
} from '@/core/orders';
import { readCondition } from '@/core/query';
import { type Order, ordersById } from '@/store';
import { SourceSearcher } from '@/work/catalogue/source-search';
import type { Work } from '@/work/context/work';
import { applyCells } from '@/work/editing/bulk-edit';
import { runRound } from '@/work/jobs/runner';
import { approve } from '@/work/listings/approve';
import { publish } from '@/work/listings/publish';
import { listOn } from '@/work/listings/take';
import { archiveOrders } from '@/work/order-book/archive';
import {
  answerRequest,
  cancelOrder,
  caseSeen,
  chooseService,
  forwardOrder,
  keepBack,
  releaseOrder,
} from '@/work/orders/actions';
import { BUYING_FIELDS } from '@/work/orders/buying';
import { openOf } from '@/work/orders/decide';
import { saveMessages } from '@/work/orders/messages';
import { setOrderRules } from '@/work/orders/rules';
import { newJob } from '@/work/schedule/job';
import {
  askToCancel,
  cancelLines,
  type Market,
  type SaleWish,
  sell,
  soldOf,
} from '../stand-ins/marketplace/market';
import { chance } from '../stand-ins/random';
import { advance, callOff, itemsOf, leftOf, move, type Warehouse } from '../stand-ins/supplier/warehouse';
import { atRest, type LineModel, modelOf, neverIn } from './order-model';
import { setOut, type Voyage } from './voyage';

/** What was asked of a run, and what came of it. */
export interface FaultRun {
  readonly orders: number;
  readonly units: number;
  readonly faults: number;
  readonly kills: number;
  readonly restored: number;
  readonly cancelled: Readonly<Record<'buyer' | 'seller' | 'supplier', number>>;
  readonly purchases: number;
  /** Of several suppliers. */
  readonly shared: number;
  readonly parcels: number;
  /** Units that stay bought though their sale was cancelled, told to a person. */
  readonly kept: number;
  /** Orders with two lines of one SKU, and purchases of which a part was cancelled. */
  readonly twins: number;
  readonly partly: number;
  /** Lines bought of two suppliers. */
  readonly split: number;
  /** Wishes of buyers to cancel, times that a look met an order in its wait, and messages to buyers. */
  readonly requests: number;
  readonly waited: number;
  readonly messages: number;
  /** What must not be: each in words. */
  readonly wrongs: readonly string[];
}

const FAULTS = { drop: 0.08, lose: 0.12, fail: 0.06, tooMany: 0.04, stray: 0.08 };
const MARKETS = ['pennywharf', 'loomhall'] as const;

/** A shop on two marketplaces that buys of two suppliers; every fourth of its goods comes from the second. */
async function openShop(seed: number): Promise<Voyage> {
  const v = await setOut({ seed, items: 120, markets: MARKETS, second: true });
  const { db } = v.work;
  await db.rates.put({
    id: 'EUR',
    currency: 'EUR',
    books: 'GBP',
    day: '2026-01-01',
    value: 85_000_000,
    origin: 'typed',
    at: 0,
  });
  await v.settle();
  const source = new SourceSearcher(v.work);
  const { rows } = await source.search({
    market: 'pennywharf',
    query: 'stock:>10 has:picture has:barcode weight:<3000',
    sort: 'listed',
    descending: false,
    offset: 0,
    limit: 400,
  });
  for (const supplier of ['brackwater', 'quillmere']) {
    const keys = rows.filter((r) => r.supplier === supplier && !r.item.group).map((r) => r.key);
    await source.take({ keys: keys.slice(0, supplier === 'quillmere' ? 14 : 40) }, 'pennywharf');
  }
  const products = (await db.products.toCollection().primaryKeys()) as string[];
  await listOn(v.work, products, 'loomhall');
  const ids = (await db.listings.toCollection().primaryKeys()) as string[];
  await applyCells(
    v.work,
    ids.map((listing) => ({ listing, field: 'attribute:maker', text: 'another' })),
    'Who made them',
  );
  await approve(v.work, ids);
  await publish(v.work, ids);
  await v.settle();
  for (const w of [v.outside.warehouse, v.quillmere!.warehouse]) w.balance = 900_000_000;
  // Some goods of the first supplier have a backup at the second.
  const spare = rows.filter((r) => r.supplier === 'quillmere' && !r.item.group).slice(0, 12);
  const first = (await db.variants.toArray()).filter((one) => one.sources[0]!.supplier === 'brackwater');
  for (const [k, row] of spare.entries())
    await source.setBackup(first[k]!.id, { supplier: 'quillmere', item: row.item.sku });
  await v.settle();
  return v;
}

/** Rules of every kind: waits, services, the cheapest source, the next one where one refuses; and messages. */
async function keepRules(work: Work): Promise<void> {
  const when = (line: string) => readCondition(line, BUYING_FIELDS);
  await work.db.jobs.put(newJob('shop', 'forwarding', work.clock()));
  await setOrderRules(
    work,
    {
      orders: {
        ...USUAL_RULES,
        forwarding: [
          { id: '1', name: 'Think', on: true, when: when('units:>2'), going: { kind: 'wait', minutes: 4 } },
          { id: '2', name: 'Split', on: true, when: when('is:split'), going: { kind: 'wait', minutes: 1 } },
        ],
        services: [{ id: '3', on: true, when: when('country:GB'), within: 1, upTo: 500 }],
        sourcing: { by: 'cheapest', upTo: 0 },
        refused: 'next source',
        requests: 'accept unbought',
      },
    },
    'Rules',
  );
  const on = { on: true, text: 'Dear {{buyer}}, {{order}} {{tracking}}' };
  const rules = { thanks: { ...on, text: 'Thank you for {{order}}' }, shipped: on };
  await saveMessages(work, { pennywharf: rules, loomhall: rules });
}

/**
 * Runs orders through services that refuse connections, lose answers after acting, fail and turn away, tell things
 * twice and late, with proxies between that answer 404 and 413 of their own; buyers, the seller and the suppliers
 * cancel, whole and in part, between and in the middle of requests; parcels go in parts; the runner is killed in the
 * middle of requests, and goes on from the database alone, or from a copy of it of any age.
 */
export async function faultRun(options: {
  readonly seed: number;
  readonly orders: number;
  /** Chance that somebody cancels something, at each step. */
  readonly cancels: number;
  /** Chance that the shop is put back to a copy, at each round. */
  readonly restores: number;
  /** Orders wait by rules, sources and services are chosen by them, buyers are written to and ask to cancel. */
  readonly rules?: boolean;
  readonly tell?: (made: number) => void;
}): Promise<FaultRun> {
  const v = await openShop(options.seed);
  const { db } = v.work;
  if (options.rules) await keepRules(v.work);
  const luck = chance(options.seed * 31);
  const houses: Record<string, Warehouse> = {
    brackwater: v.outside.warehouse,
    quillmere: v.quillmere!.warehouse,
  };
  const warehouses = Object.values(houses);
  const deposits = warehouses.map((w) => w.balance);
  const markets = MARKETS.map((id) => v.outside.markets[id]);
  const faults = [...Object.values(v.outside.faults), v.quillmere!.faults];
  for (const f of faults) f.set({ random: FAULTS, duplicate: true });
  const cancelled = { buyer: 0, seller: 0, supplier: 0 };
  const wrongs = new Set<string>();
  let { cancels } = options;
  let requests = 0;
  let waited = 0;
  let kills = 0;
  let restored = 0;
  let made = 0;

  /** One of the three sides cancels something, whole or in part, as it stands at this moment. */
  const cancelSomething = async () => {
    if (options.rules && luck.next() < 0.4) {
      const paid = markets.flatMap((m) =>
        m.orders
          .filter((o) => o.status === 'paid' && o.cancelRequest?.state !== 'open')
          .map((o) => ({ m, o })),
      );
      if (paid.length) {
        const { m, o } = luck.pick(paid);
        askToCancel(m, o, luck, v.work.clock(), luck.next() < 0.4 ? 1 : undefined);
        requests++;
      }
      return;
    }
    const who = luck.pick(['buyer', 'seller', 'supplier'] as const);
    const part = luck.next() < 0.6;
    if (who === 'buyer') {
      const market = luck.pick(markets);
      const paid = market.orders.filter((o) => o.status === 'paid');
      if (!paid.length) return;
      const order = luck.pick(paid);
      const line = luck.pick(order.lines);
      const free = soldOf(line) - dispatchedUnits(order, line.id);
      if (part && free < 1) return;
      if (!part && order.dispatches?.length) return;
      cancelled.buyer++;
      const quantity = (line.cancelled ?? 0) + luck.whole(1, Math.max(1, free));
      cancelLines(market, order, part ? [{ id: line.id, quantity }] : undefined);
    } else if (who === 'seller') {
      const open = await db.orders.where('open').equals(1).toArray();
      if (!open.length) return;
      const order = luck.pick(open);
      const line = luck.pick(order.lines);
      const units = part ? [{ line: line.id, units: luck.whole(1, line.quantity) }] : undefined;
      if ((await cancelOrder(v.work, order.id, 'The seller cannot deliver.', units)).ok) cancelled.seller++;
    } else {
      const w = luck.pick(warehouses);
      const open = w.purchases.filter((p) => p.status === 'accepted' || p.status === 'part shipped');
      if (!open.length) return;
      const p = luck.pick(open);
      const left = leftOf(p);
      if (!left.length) return;
      cancelled.supplier++;
      const one = luck.pick(left);
      callOff(w, p, part ? [{ ...one, quantity: luck.whole(1, one.quantity) }] : undefined);
    }
  };

  /** A runner that may die at any request: its promise then never settles, and nothing more leaves it. */
  const runnerOf = (): { work: Work; died: Promise<'died'>; kill: () => void } => {
    let dead = false;
    let die: (how: 'died') => void;
    const died = new Promise<'died'>((resolve) => {
      die = resolve;
    });
    const kill = () => {
      dead = true;
      die('died');
    };
    const never = () => {
      kills++;
      kill();
      return new Promise<Response>(() => {});
    };
    const reach: Reach = async (service, path, init) => {
      if (dead) return new Promise<Response>(() => {});
      const fate = luck.next();
      if (fate < 0.03) return never();
      if (luck.next() < cancels) await cancelSomething();
      const answer = await v.work.reach(service, path, init);
      if (luck.next() < cancels) await cancelSomething();
      if (dead) return new Promise<Response>(() => {});
      return fate < 0.06 ? never() : answer;
    };
    return { work: { ...v.work, reach, chance: luck.next }, died, kill };
  };

  const copyShop = () =>
    db.transaction('r', db.shopTables, async () => {
      const rows: object[][] = [];
      for (const table of db.shopTables) rows.push(await (table as unknown as Table<object>).toArray());
      return rows;
    });
  let copy = await copyShop();
  const putBack = async () => {
    await db.transaction('rw', db.shopTables, async () => {
      for (const [k, one] of db.shopTables.entries()) {
        const table = one as unknown as Table<object>;
        await table.clear();
        await table.bulkPut(copy[k]!);
      }
      await db.jobs.toCollection().modify({ nextAt: v.work.clock(), running: null });
    });
    restored++;
  };

  /** A person looks at what is held: most is tried again, what is over is put away. */
  const look = async (orders: readonly Order[]) => {
    for (const order of orders) {
      const asked = order.cases.find((c) => isRequest(c) && c.answered === null);
      if (asked) {
        await answerRequest(v.work, order.id, asked.id, mayDo('cancel', order) && luck.next() < 0.6, 'No');
        continue;
      }
      if (order.due) waited++;
      if (options.rules && standingOf(order) === 'ready' && luck.next() < 0.3) {
        await keepBack(v.work, order.id, luck.next() < 0.4);
        if (luck.next() < 0.4)
          await chooseService(v.work, order.id, 'brackwater', luck.pick(['', 'next-day']));
      }
      if (order.kept && standingOf(order) === 'ready' && luck.next() < 0.5)
        await forwardOrder(v.work, order.id);
      if (standingOf(order) === 'held')
        await releaseOrder(
          v.work,
          order.id,
          order.checks.map((c) => c.kind),
          true,
        );
      else for (const c of unseenOf(order)) await caseSeen(v.work, order.id, c.id);
    }
  };
  const ship = (share: number) => {
    for (const w of warehouses)
      for (const p of w.purchases)
        if ((p.status === 'accepted' || p.status === 'part shipped') && luck.next() < share)
          advance(w, p.number, v.work.clock(), 0, luck.next() < 0.4 ? luck.whole(1, 3) : undefined);
  };

  const bySupplier = await salesOf(v);
  /** A buyer buys one to three lines, of one supplier or of both, now and then two of one SKU. */
  const buy = () => {
    const market = luck.pick(markets);
    const lines: NonNullable<SaleWish['lines']> = [];
    for (let k = luck.pick([1, 1, 1, 2, 2, 3]); k > 0; k--) {
      const sku = luck.pick(luck.next() < 0.65 ? bySupplier.brackwater! : bySupplier.quillmere!);
      lines.push({ sku, quantity: luck.pick([1, 1, 1, 2, 3, 5]) });
    }
    if (luck.next() < 0.15) {
      lines.push({ ...lines[0]!, personalisation: 'For Ida' });
      lines[0]!.personalisation = 'For Bo';
    }
    if (sell(market, luck, v.work.clock(), { lines })) made++;
  };

  const scarce = new Set(
    (await db.variants.toArray()).flatMap((one) => (one.sources.length > 1 ? [one.sources[0]!.item] : [])),
  );
  let runner = runnerOf();
  const over = () =>
    made >= options.orders && markets.every((m) => m.orders.every((o) => o.status !== 'paid'));
  for (let round = 0; round < options.orders * 25; round++) {
    if (made < options.orders && luck.next() < 0.3) buy();
    if (luck.next() < cancels) await cancelSomething();
    ship(made < options.orders ? 0.03 : 0.5);
    const end = await Promise.race([runRound(runner.work), runner.died]);
    if (end === 'died') runner = runnerOf();
    const restores = made < options.orders ? options.restores : 0;
    if (luck.next() < restores) {
      runner.kill();
      await putBack();
      runner = runnerOf();
    } else if (luck.next() < restores * 2) copy = await copyShop();
    if (round % 3 === 0)
      for (const m of modelOf(markets.map(lately), houses)) for (const w of neverIn(m)) wrongs.add(w);
    // What is over is laid away at once, and comes back where something more is heard of it.
    if (luck.next() < 0.03) await archiveOrders(v.work, 0);
    v.tick(luck.whole(500, 20_000));
    if (round % 50 === 0) {
      await db.jobs.toCollection().modify({ nextAt: v.work.clock() });
      options.tell?.(made);
    }
    // Stock is not what is tried here.
    for (const m of markets) for (const l of Object.values(m.listings)) if (l.quantity < 12) l.quantity = 20;
    for (const w of warehouses)
      for (const i of itemsOf(w).values())
        if (i.stock < 20 && (made >= options.orders || !scarce.has(i.sku))) move(w, i.sku, { stock: 90 });
    // What has a backup runs short now and then.
    if (luck.next() < 0.3) move(houses.brackwater!, luck.pick([...scarce]), { stock: luck.whole(0, 4) });
    if (round % 15 === 0) await db.jobs.update('brackwater:catalogue', { nextAt: v.work.clock() });
    const open = await db.orders.where('open').equals(1).toArray();
    if (round % 20 === 0) await look(open);
    if (!over() || open.length) continue;
    // News of the last cancellations may still be on their way.
    cancels = 0;
    for (const f of faults) f.set({ random: null });
    // What waits for a service that did not answer is tried again after some minutes.
    v.tick(10 * 60_000);
    await db.jobs.toCollection().modify({ nextAt: v.work.clock() });
    await v.settle();
    if ((await db.orders.where('open').equals(1).count()) === 0) break;
  }

  const orders = await ordersById(
    db,
    markets.flatMap((m) => m.orders.map((o) => `${m.site}:${o.number}`)),
  );
  const model = new Map<string, LineModel[]>();
  for (const m of modelOf(markets, houses)) model.set(m.order, [...(model.get(m.order) ?? []), m]);
  let kept = 0;
  let parcels = 0;
  let shared = 0;
  let units = 0;
  let twins = 0;
  let split = 0;
  let messages = 0;
  for (const market of markets)
    for (const sale of market.orders) {
      const id = `${market.site}:${sale.number}`;
      const order = orders.get(id);
      const wrong = (what: string) => wrongs.add(`${id}: ${what}`);
      if (!order) {
        wrong('never came in');
        continue;
      }
      if (order.open !== openOf(order) || order.open)
        wrong(`is left open: ${standingOf(order)}, ${unseenOf(order).map((c) => c.id)}`);
      if (new Set(activeOf(order).map((p) => p.supplier)).size > 1) shared++;
      if (new Set(order.lines.map((l) => l.sku)).size < order.lines.length) twins++;
      split += order.lines.filter((l) => {
        const of = order.purchases.filter((p) => p.lines.some((one) => one.line === l.id && one.units > 0));
        return new Set(of.filter(isAccepted).map((p) => p.supplier)).size > 1;
      }).length;
      for (const m of model.get(id)!) {
        const line = order.lines.find((l) => l.id === m.line)!;
        units += m.sold;
        if (line.cancelled !== m.cancelled)
          wrong(`${m.line}: ${line.cancelled} cancelled here, ${m.cancelled} there`);
        const places = placesOf(order, line);
        const all = Object.values(places).reduce((a, b) => a + b, 0);
        if (all !== m.sold) wrong(`${m.line}: ${m.sold} sold, ${all} in places: ${JSON.stringify(places)}`);
        const late = order.cases.reduce(
          (n, c) => (c.kind === 'asked back' ? n + unitsOf(c.late, m.line) : n),
          0,
        );
        if (!order.elsewhere) {
          const here = places.shipped + places.delivered + places['with supplier'] + places.stays;
          if (here !== m.bought) wrong(`${m.line}: ${here} bought here, ${m.bought} there`);
        }
        kept += Math.max(0, m.bought - (m.sold - m.cancelled));
        for (const w of [...neverIn(m), ...atRest(m, order.elsewhere ? m.sold : late)]) wrong(w);
      }
      const open = order.cases.find(
        (c) => isRequest(c) && (c.answered === null || c.answered === 'accepted'),
      );
      if (open) wrong(`a buyer’s request is not answered: ${open.id}`);
      // Nobody is written to twice about the same.
      const written = (market.messages ?? []).filter((m) => m.number === sale.number).map((m) => m.text);
      messages += written.length;
      if (new Set(written).size !== written.length) wrong('a buyer was written to twice');
      // Every parcel of what was sold is told once.
      const told = (sale.dispatches ?? []).map((d) => d.tracking);
      if (new Set(told).size !== told.length) wrong('a parcel was told twice');
      for (const [supplier, w] of Object.entries(houses))
        for (const bought of w.purchases.filter((one) => orderOf(one.reference) === id)) {
          const ours = order.purchases.find((p) => isFor(p, supplier, bought.reference));
          if (!ours || !isAccepted(ours)) {
            if (bought.status !== 'cancelled') wrong(`${bought.number} of ${supplier} is not known`);
            continue;
          }
          if (numberOf(ours) !== bought.number)
            wrong(`${bought.reference} is known as ${ours.number}, not ${bought.number}`);
          const charge = chargeOf(ours);
          if (charge?.goods !== bought.goods || charge.shipping !== bought.shipping)
            wrong(`${bought.number} is charged otherwise than known`);
          for (const l of bought.lines) {
            const own = ours.lines.find((one) => one.line === l.line);
            const off = bought.cancelled.reduce((n, c) => (c.line === l.line ? n + c.quantity : n), 0);
            if (own?.units !== l.quantity || own.calledOff !== off)
              wrong(
                `${bought.number}: ${l.line} is ${own?.units}−${own?.calledOff} here, ${l.quantity}−${off} there`,
              );
          }
          for (const parcel of bought.parcels) {
            parcels++;
            const known = parcelsOf(ours).find((one) => one.tracking === parcel.tracking);
            if (!known) wrong(`parcel ${parcel.tracking} is not known`);
            else if (parcel.lines?.some((l) => unitsOf(known.inside, l.line!) !== l.quantity))
              wrong(
                `parcel ${parcel.tracking} holds ${JSON.stringify(known.inside)} here, ${JSON.stringify(parcel.lines)} there`,
              );
          }
        }
      const ledger = (await db.ledger.get(id))?.entries ?? [];
      for (const [supplier, w] of Object.entries(houses)) {
        const charged = w.purchases
          .filter((one) => orderOf(one.reference) === id)
          .reduce((n, one) => n + one.goods + one.shipping, 0);
        const entered = -ledger.filter((e) => e.from === supplier).reduce((n, e) => n + e.amount, 0);
        if (charged !== entered) wrong(`${supplier} charged ${charged}, ${entered} is on record`);
      }
      const fees = Math.round((sale.charges ?? []).reduce((n, c) => n + Number(c.amount), 0) * 100);
      const entered = -ledger.filter((e) => e.from === market.site).reduce((n, e) => n + e.amount, 0);
      if (sale.charges && fees !== entered) wrong(`${market.site} took ${fees}, ${entered} is on record`);
      const refunded = Math.round(Number(sale.refunded ?? '0') * 100);
      const back = -ledger.filter((e) => e.kind === 'refund').reduce((n, e) => n + e.amount, 0);
      if (refunded !== back) wrong(`the buyer got ${refunded} back, ${back} is on record`);
    }
  for (const [k, w] of warehouses.entries()) {
    const spent = w.purchases.reduce((sum, p) => sum + p.goods + p.shipping, 0);
    if (spent !== deposits[k]! - w.balance) wrongs.add(`a supplier’s books do not add up: ${spent}`);
  }
  const injected = faults.flatMap((f) => Object.values(f.injected)).reduce((a, b) => a + b, 0);
  const purchases = warehouses.reduce((n, w) => n + w.purchases.length, 0);
  const partly = warehouses.flatMap((w) =>
    w.purchases.filter((p) => p.cancelled.length && p.status !== 'cancelled'),
  );
  await v.end();
  return {
    orders: made,
    units,
    twins,
    partly: partly.length,
    split,
    faults: injected,
    kills,
    restored,
    cancelled,
    purchases,
    shared,
    parcels,
    kept,
    ...{ requests, waited, messages },
    wrongs: [...wrongs],
  };
}

/** Units of a line that a marketplace was told to be in parcels. */
const dispatchedUnits = (order: { dispatches?: WireOrder['dispatches'] }, line: string): number =>
  (order.dispatches ?? [])
    .flatMap((d) => d.lines ?? [])
    .reduce((n, one) => (one.id === line ? n + one.quantity : n), 0);

/** A marketplace with its last orders alone: what may have changed since it was looked at. */
const lately = (m: Market): Market => ({ ...m, orders: m.orders.slice(-25) });

/** SKUs by the supplier that they are bought of. */
async function salesOf(v: Voyage): Promise<Record<string, string[]>> {
  const by: Record<string, string[]> = {};
  for (const l of await v.work.db.listings.toArray()) {
    if (l.marketplace !== 'pennywharf' || l.state !== 'live') continue;
    const { supplier } = (await v.work.db.variants.get(l.variant))!.sources[0]!;
    by[supplier] = [...(by[supplier] ?? []), l.sku];
  }
  return by;
}
