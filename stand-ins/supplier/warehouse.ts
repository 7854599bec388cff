import type {
  MakerStage,
  SupplierOrderStatus,
  WireAddress,
  WireCount,
  WireItem,
  WireMisprint,
  WireParcelBack,
  WirePurchase,
  WirePurchaseAnswer,
  WireReprint,
  WireSupplierOrder,
  WireSupplierReturn,
} from '../../src/connect/wire';
import type { Chance } from '../random';
import type { Statements } from '../statements';
import { HOUSES, type House, type HouseId } from './houses';
import type { StockedItem } from './item';
import { type PrintFiles, printProblems } from './prints';

export interface Purchase {
  number: string;
  reference: string;
  status: SupplierOrderStatus;
  /** Rises with each change. */
  revision: number;
  lines: WireCount[];
  shipTo: WireAddress;
  /** Of each line, as one piece of it was charged. */
  costs: Record<string, number>;
  goods: number;
  shipping: number;
  parcels: {
    carrier: string;
    tracking: string;
    shippedAt: number;
    deliveredAt?: number;
    lines?: WireCount[];
  }[];
  /** What was taken out of it. */
  cancelled: WireCount[];
  service?: string;
  gift?: string;
  /** Of goods made to order: name of the site, how far it is, and what is printed again. */
  site?: string;
  stage?: MakerStage;
  reprints?: WireReprint[];
  /** What its returns desk was asked and said, and parcels that came back. */
  returns?: WireSupplierReturn[];
  claims?: Record<string, { lines: WireCount[]; wants: 'refund' | 'replacement' }>;
  back?: WireParcelBack[];
  acceptedAt: number;
  /** When the next thing happens to it, as chance had it: ship, then deliver. */
  dueAt: number;
}

/** All that the warehouse remembers. Items come from the seed; only what moved is kept. */
export interface Warehouse {
  /** Missing for Brackwater. */
  house?: HouseId;
  seed: number;
  count: number;
  moved: Record<string, { cost: number; stock: number }>;
  /** Rises with each move: the catalogue's version. */
  version: number;
  balance: number;
  purchases: Purchase[];
  /** Order numbers in the order in which they changed; a position is a cursor. */
  feed: string[];
  /** Answers by idempotency key, with the body they answered. */
  keys: Record<string, { body: string; number: string }>;
  accounts: Record<string, string>;
  issued: number;
  files?: PrintFiles;
  /** Hashes of photographs of misprints. */
  photos?: string[];
  statements?: Statements;
  /** SKUs that a site is out of. */
  siteOut?: Record<string, string[]>;
  /** Percent that it charges more than it lists. */
  surcharge?: number;
  /** What holds of its deliveries for now. */
  notices?: { kind: 'delayed' | 'restricted'; to: string[]; days?: number; why: string }[];
}

export const houseOf = (w: Warehouse): House => HOUSES[w.house ?? 'brackwater'];

export function openWarehouse(seed: number, count: number, house: HouseId = 'brackwater'): Warehouse {
  return {
    ...(house !== 'brackwater' && { house }),
    seed,
    count,
    moved: {},
    version: 1,
    balance: 250_000,
    purchases: [],
    feed: [],
    keys: {},
    accounts: { ...HOUSES[house].accounts },
    // Numbers of parcels are made of these: no two houses have the same.
    issued: { brackwater: 88_000, tinloft: 61_000, quillmere: 23_000 }[house],
  };
}

const catalogues = new WeakMap<Warehouse, Map<string, StockedItem>>();

/** Forgets everything but the seed. */
export function startAnew(w: Warehouse): void {
  Object.assign(w, openWarehouse(w.seed, w.count, w.house));
  if (w.files) w.files = {};
  catalogues.delete(w);
}

/** Has another number of items; the first stay the same. */
export function grow(w: Warehouse, count: number): void {
  w.count = count;
  w.version++;
  catalogues.delete(w);
}

/**
 * Items by SKU as they stand now. The first call makes the catalogue from the seed (200,000 items: about a
 * second).
 */
export function itemsOf(w: Warehouse): Map<string, StockedItem> {
  let items = catalogues.get(w);
  if (!items) {
    items = new Map(
      houseOf(w)
        .items(w.seed, w.count)
        .map((item) => [item.sku, { ...item, ...w.moved[item.sku] }]),
    );
    catalogues.set(w, items);
  }
  return items;
}

/** Changes cost or stock of one item. */
export function move(w: Warehouse, sku: string, to: { cost?: number; stock?: number }): void {
  const item = itemsOf(w).get(sku);
  if (!item) return;
  item.cost = Math.max(1, to.cost ?? item.cost);
  item.stock = Math.max(0, to.stock ?? item.stock);
  w.moved[sku] = { cost: item.cost, stock: item.stock };
  w.version++;
}

/** What a while brings of itself: a share of the items sell elsewhere, are restocked, change their cost. */
export function drift(w: Warehouse, luck: Chance, share: number): void {
  const all = [...itemsOf(w).values()];
  for (let k = Math.round(all.length * share); k > 0; k--) {
    const item = luck.pick(all);
    const what = luck.next();
    if (what < 0.12) move(w, item.sku, { cost: Math.round(item.cost * (1 + (luck.next() - 0.42) * 0.22)) });
    else if (what < 0.16) move(w, item.sku, { stock: 0 });
    else if (item.stock === 0 || what < 0.3) move(w, item.sku, { stock: item.stock + luck.whole(5, 150) });
    else move(w, item.sku, { stock: item.stock - luck.whole(1, 8) });
  }
}

export const decimal = (minor: number) =>
  `${Math.floor(minor / 100)}.${String(minor % 100).padStart(2, '0')}`;

export function onWire(item: StockedItem): WireItem {
  const { cost, map, msrp, ...rest } = item;
  return {
    ...rest,
    cost: decimal(cost),
    ...(map !== null && { map: decimal(map) }),
    ...(msrp !== null && { msrp: decimal(msrp) }),
  };
}

export function purchaseOnWire(p: Purchase, currency: string): WireSupplierOrder {
  return {
    number: p.number,
    reference: p.reference,
    status: p.status,
    revision: p.revision,
    lines: p.lines,
    currency,
    charge: { goods: decimal(p.goods), shipping: decimal(p.shipping) },
    parcels: p.parcels.map((parcel) => ({
      carrier: parcel.carrier,
      tracking: parcel.tracking,
      shippedAt: new Date(parcel.shippedAt).toISOString(),
      ...(parcel.lines && { lines: parcel.lines }),
      ...(parcel.deliveredAt && { deliveredAt: new Date(parcel.deliveredAt).toISOString() }),
    })),
    acceptedAt: new Date(p.acceptedAt).toISOString(),
    ...(p.cancelled.length && { cancelled: p.cancelled }),
    ...(p.site && { site: p.site }),
    ...(p.stage && { stage: p.stage }),
    ...(p.reprints && { reprints: p.reprints }),
    ...(p.returns && { returns: p.returns }),
    ...(p.back && { back: p.back }),
  };
}

export type Refusal = {
  status: number;
  type: string;
  title: string;
  detail: string;
  errors?: { field: string; reason: string }[];
};

/**
 * Takes a purchase: checks it, charges the balance, lowers the stock. The same key with the same body gives
 * the same answer again.
 */
export function purchase(
  w: Warehouse,
  key: string,
  body: WirePurchase,
  at: number,
  shipAfter: number,
): { answer: WirePurchaseAnswer; again: boolean } | { refusal: Refusal } {
  const house = houseOf(w);
  const known = Object.hasOwn(w.keys, key) ? w.keys[key] : undefined;
  const text = JSON.stringify(body);
  const answerFor = (p: Purchase) => ({ ...purchaseOnWire(p, house.currency), balance: decimal(w.balance) });
  if (known) {
    if (known.body !== text)
      return {
        refusal: {
          status: 422,
          type: 'urn:wire:key-reused',
          title: 'Key used before',
          detail: 'This idempotency key came with another order.',
        },
      };
    return { answer: answerFor(w.purchases.findLast((p) => p.number === known.number)!), again: true };
  }
  const items = itemsOf(w);
  const wanted = new Map<string, number>();
  const short = house.partial ? shortOf(body.lines, items) : [];
  const nothing = countOf(short) >= countOf(body.lines);
  const errors = body.lines.flatMap((line, i) => {
    const item = items.get(line.sku);
    if (!item) return [{ field: `lines[${i}].sku`, reason: `We have no ${line.sku}.` }];
    const all = (wanted.get(line.sku) ?? 0) + line.quantity;
    wanted.set(line.sku, all);
    return item.stock < all && (!house.partial || nothing)
      ? [{ field: `lines[${i}].quantity`, reason: `We have ${item.stock} of ${line.sku}.` }]
      : [];
  });
  if (errors.length)
    return {
      refusal: {
        status: 409,
        type: 'urn:wire:out-of-stock',
        title: 'Not enough stock',
        detail: errors.map((e) => e.reason).join(' '),
        errors,
      },
    };
  const prints = printProblems(house.blanks, w.files ?? {}, body.lines);
  if (prints.length)
    return {
      refusal: {
        status: 422,
        type: 'urn:wire:print',
        title: 'Print files',
        detail: prints.map((e) => e.reason).join(' '),
        errors: prints,
      },
    };
  const closed = w.notices?.some((n) => n.kind === 'restricted' && n.to.includes(body.shipTo.country));
  const service = house.services?.find((s) => s.id === body.service && s.to.includes(body.shipTo.country));
  if (body.service && !service)
    return {
      refusal: {
        status: 422,
        type: 'urn:wire:service',
        title: 'Service',
        detail: `We have no service ${body.service} to ${body.shipTo.country}.`,
      },
    };
  if (closed || !house.shipsTo.includes(body.shipTo.country))
    return {
      refusal: {
        status: 422,
        type: 'urn:wire:destination',
        title: 'Destination',
        detail: `We do not ship to ${body.shipTo.country}.`,
      },
    };
  const dearer = 1 + (w.surcharge ?? 0) / 100;
  const costOf = (l: WirePurchase['lines'][number]) =>
    Math.round(items.get(l.sku)!.cost * dearer) + house.extraFor(l);
  const sends = (l: WirePurchase['lines'][number]) => l.quantity - quantityOf(short, keyOf(l));
  const goods = body.lines.reduce((sum, l) => sum + costOf(l) * sends(l), 0);
  const grams = body.lines.reduce((sum, l) => sum + (items.get(l.sku)!.grams ?? 0) * sends(l), 0);
  const band = house.shipping.find((b) => grams <= b.upToGrams);
  if (!band)
    return {
      refusal: {
        status: 422,
        type: 'urn:wire:too-heavy',
        title: 'Too heavy',
        detail: 'No parcel takes this weight.',
      },
    };
  const site = siteFor(w, body);
  if (site === 'out')
    return {
      refusal: {
        status: 409,
        type: 'urn:wire:out-of-stock',
        title: 'Not enough stock',
        detail: `No site that sends to ${body.shipTo.country} has the blank.`,
      },
    };
  const shipping = band.minor + (service?.minor ?? 0) + (site?.minor ?? 0);
  if (w.balance < goods + shipping) {
    return {
      refusal: {
        status: 402,
        type: 'urn:wire:balance',
        title: 'Balance too low',
        detail: `The balance of ${decimal(w.balance)} does not cover ${decimal(goods + shipping)}.`,
      },
    };
  }
  for (const line of body.lines) move(w, line.sku, { stock: items.get(line.sku)!.stock - sends(line) });
  w.balance -= goods + shipping;
  const made: Purchase = {
    number: `${house.prefix}-${++w.issued}`,
    reference: body.reference,
    status: 'accepted',
    revision: 1,
    lines: body.lines.map(({ line, sku, quantity }) => ({ line, sku, quantity })),
    shipTo: body.shipTo,
    costs: Object.fromEntries(body.lines.map((l) => [keyOf(l), costOf(l)])),
    goods,
    shipping,
    parcels: [],
    cancelled: short,
    ...(service && { service: service.id }),
    ...(site && { site: site.name, stage: 'received' as const }),
    ...(body.gift && { gift: body.gift }),
    acceptedAt: at,
    dueAt: at + shipAfter,
  };
  w.purchases.push(made);
  w.keys[key] = { body: text, number: made.number };
  w.feed.push(made.number);
  return { answer: answerFor(made), again: false };
}

/** Which site prints an order: the first of those that are wished that has its blanks. Null for goods off the shelf. */
function siteFor(
  w: Warehouse,
  { sites: wished, lines, shipTo }: WirePurchase,
): { name: string; minor: number } | 'out' | null {
  const { sites } = houseOf(w);
  if (!sites || !lines.some((l) => l.prints?.length)) return null;
  const able = sites.flatMap(({ id, name, reaches }) => {
    const reach = reaches.find((r) => r.to.includes(shipTo.country));
    return reach ? [{ id, name, minor: reach.minor }] : [];
  });
  const inOrder = wished
    ? wished.flatMap((id) => able.find((s) => s.id === id) ?? [])
    : able.sort((a, b) => a.minor - b.minor);
  const isOut = (id: string) => lines.some((l) => w.siteOut?.[id]?.includes(l.sku));
  return inOrder.find((s) => !isOut(s.id)) ?? 'out';
}

/** Goods made to order are so far. */
export function setStage(w: Warehouse, p: Purchase, stage: MakerStage): void {
  if (p.stage === stage) return;
  p.stage = stage;
  changed(w, p);
}

/** Of the time until an order is sent, when each stage begins. */
const STAGES: readonly (readonly [MakerStage, number])[] = [
  ['made', 0.8],
  ['printing', 0.3],
  ['file checked', 0.1],
];

/** Brings what is made to order on, as time passes. */
export function workOn(w: Warehouse, now: number): void {
  for (const p of w.purchases) {
    if (p.status !== 'accepted' || !p.stage) continue;
    const share = (now - p.acceptedAt) / Math.max(1, p.dueAt - p.acceptedAt);
    const stage = STAGES.find(([, from]) => share >= from)?.[0];
    if (stage) setStage(w, p, stage);
  }
}

/** Takes word of a misprint: of what was sent, with a photograph that was given. It is printed again at no cost. */
export function misprint(
  w: Warehouse,
  number: string,
  { id, lines, photo, reason }: WireMisprint,
): { answer: WirePurchaseAnswer } | { refusal: Refusal } {
  const p = w.purchases.findLast((one) => one.number === number);
  const refusal = (status: number, title: string, detail: string) => ({
    refusal: { status, type: 'urn:wire:misprint', title, detail },
  });
  if (!p) return refusal(404, 'No such order', `We have no order ${number}.`);
  const answer = () => ({
    answer: { ...purchaseOnWire(p, houseOf(w).currency), balance: decimal(w.balance) },
  });
  if (p.reprints?.some((r) => r.id === id)) return answer();
  if (p.status !== 'shipped' && p.status !== 'delivered')
    return refusal(409, 'Not sent yet', `${number} was not sent yet.`);
  if (!w.photos?.includes(photo)) return refusal(422, 'Photograph', 'We have no such photograph.');
  if (typeof reason !== 'string' || !reason.trim()) return refusal(422, 'Reason', 'Say what is wrong.');
  const sent = p.lines.every((l) => quantityOf(lines, keyOf(l)) <= l.quantity);
  if (!sent || !countOf(lines)) return refusal(422, 'Lines', 'More is named than was printed.');
  p.reprints = [...(p.reprints ?? []), { id, state: 'granted', says: 'We print it again at our cost.' }];
  changed(w, p);
  return answer();
}

/** Sends what was printed again. @returns how many */
export function sendReprints(w: Warehouse): number {
  let sent = 0;
  for (const p of w.purchases)
    for (const r of p.reprints ?? []) {
      if (r.state !== 'granted') continue;
      const n = 70_000_000 + Number(p.number.slice(3)) * 11 + sent;
      Object.assign(r, { state: 'sent', carrier: houseOf(w).carriers[0], tracking: s10(n) });
      changed(w, p);
      sent++;
    }
  return sent;
}

/** What of some lines is not there, in their order. */
function shortOf(lines: WirePurchase['lines'], items: ReadonlyMap<string, StockedItem>): WireCount[] {
  const left = new Map<string, number>();
  return lines.flatMap(({ line, sku, quantity }) => {
    const has = left.get(sku) ?? items.get(sku)?.stock ?? 0;
    left.set(sku, Math.max(0, has - quantity));
    return has < quantity ? [{ line, sku, quantity: quantity - has }] : [];
  });
}

const countOf = (some: readonly { readonly quantity: number }[]): number =>
  some.reduce((n, l) => n + l.quantity, 0);

/** What is kept of a purchase that is taken back after the first hour: it was picked by then. */
const PICKED_AFTER = 3_600_000;
const PICKING = 150;

/** A line of a purchase: the buyer's side's id, or its SKU where none was given. */
export const keyOf = (l: WireCount): string => l.line ?? l.sku;
const quantityOf = (some: readonly WireCount[], key: string): number =>
  some.reduce((n, l) => (keyOf(l) === key ? n + l.quantity : n), 0);

/** What is left of a purchase: ordered, and neither cancelled nor in a parcel. */
export function leftOf(p: Purchase): WireCount[] {
  const gone = [...p.cancelled, ...p.parcels.flatMap((one) => one.lines ?? [])];
  // A parcel that names nothing held all that was left.
  if (p.parcels.some((one) => !one.lines)) return [];
  return p.lines.flatMap((l) => {
    const quantity = l.quantity - quantityOf(gone, keyOf(l));
    return quantity > 0 ? [{ ...l, quantity }] : [];
  });
}

/**
 * Takes a purchase, or some of it, back while it has not left: the charge is refunded but for picking, the goods go back
 * to the shelf. Asked again, answers the same.
 * @param totals how much of each line is to be out of it in all; everything where not given
 */
export function takeBack(
  w: Warehouse,
  number: string,
  at: number,
  totals?: readonly WireCount[],
): { answer: WirePurchaseAnswer } | { refusal: Refusal } {
  const p = w.purchases.findLast((one) => one.number === number);
  const refusal = (status: number, type: string, title: string, detail: string) => ({
    refusal: { status, type, title, detail },
  });
  if (!p) return refusal(404, 'urn:wire:unknown', 'No such order', `We have no order ${number}.`);
  if (p.status === 'shipped' || p.status === 'delivered')
    return refusal(409, 'urn:wire:state', 'Too late', `${number} has left the warehouse.`);
  if (p.stage === 'printing' || p.stage === 'made')
    return refusal(409, 'urn:wire:state', 'Too late', `Printing of ${number} has begun.`);
  const left = leftOf(p);
  const going = (totals ?? p.lines).flatMap((l) => {
    const quantity = l.quantity - quantityOf(p.cancelled, keyOf(l));
    return quantity > 0 ? [{ ...l, quantity }] : [];
  });
  if (going.some((l) => quantityOf(left, keyOf(l)) < l.quantity))
    return refusal(409, 'urn:wire:state', 'Too late', `A part of ${number} has left the warehouse.`);
  if (going.length) callOff(w, p, going, !p.stage && at - p.acceptedAt > PICKED_AFTER ? PICKING : 0);
  return { answer: { ...purchaseOnWire(p, houseOf(w).currency), balance: decimal(w.balance) } };
}

/** Cancels a part of a purchase; up to `kept` of its charge is not refunded, and shipping only where nothing is left. */
export function callOff(w: Warehouse, p: Purchase, lines: readonly WireCount[] = leftOf(p), kept = 0): void {
  const items = itemsOf(w);
  let goods = 0;
  for (const l of lines) {
    move(w, l.sku, { stock: items.get(l.sku)!.stock + l.quantity });
    goods += (p.costs[keyOf(l)] ?? p.costs[l.sku] ?? 0) * l.quantity;
    const before = p.cancelled.find((one) => keyOf(one) === keyOf(l));
    if (before) before.quantity += l.quantity;
    else p.cancelled.push({ ...l });
  }
  const left = leftOf(p).length;
  const over = left === 0 && p.parcels.length === 0;
  const freed = goods + (over ? p.shipping : 0);
  const back = Math.max(0, freed - kept);
  w.balance += back;
  p.goods = over ? p.goods + p.shipping - back : p.goods - back;
  if (over) Object.assign(p, { status: 'cancelled', shipping: 0 });
  else if (left === 0) p.status = 'shipped';
  changed(w, p);
}

export function changed(w: Warehouse, p: Purchase): void {
  p.revision = (p.revision ?? 0) + 1;
  w.feed.push(p.number);
}

export function s10(n: number): string {
  const eight = String(n).padStart(8, '0');
  const rest =
    11 - ([8, 6, 4, 2, 3, 5, 9, 7].reduce((sum, weight, i) => sum + weight * Number(eight[i]), 0) % 11);
  return `LX${eight}${rest === 10 ? 0 : rest === 11 ? 5 : rest}GB`;
}

/** Goods of one place go together; a purchase from two places goes in two parcels, one after the other. */
function nextParcel(w: Warehouse, left: readonly WireCount[]): readonly WireCount[] {
  const placeOf = (l: WireCount) => itemsOf(w).get(l.sku)?.shipsFrom ?? '';
  return left.filter((l) => placeOf(l) === placeOf(left[0]!));
}

const pieces = (lines: readonly WireCount[]): number => lines.reduce((n, l) => n + l.quantity, 0);

/** The first pieces of some. */
function upTo(most: number, lines: readonly WireCount[]): WireCount[] {
  let left = most;
  return lines.flatMap((l) => {
    const quantity = Math.min(l.quantity, left);
    left -= quantity;
    return quantity > 0 ? [{ ...l, quantity }] : [];
  });
}

/**
 * Moves one purchase on: accepted → (part shipped →) shipped → delivered.
 * @param most pieces that go into its next parcel at most
 */
export function advance(
  w: Warehouse,
  number: string,
  at: number,
  deliverAfter: number,
  most = Number.POSITIVE_INFINITY,
): void {
  const p = w.purchases.findLast((one) => one.number === number);
  if (!p) return;
  if (p.status === 'accepted' || p.status === 'part shipped') {
    const left = leftOf(p);
    const lines = upTo(most, nextParcel(w, left));
    const whole = pieces(lines) === pieces(left);
    const n = 40_000_000 + Number(number.slice(3)) * 7 + p.parcels.length * 1_000_003;
    p.parcels.push({
      carrier: houseOf(w).carriers[p.parcels.length ? 1 : 0],
      tracking: s10(n),
      shippedAt: at,
      ...((!whole || p.parcels.length > 0) && { lines: [...lines] }),
    });
    p.status = whole ? 'shipped' : 'part shipped';
    if (p.stage && whole) p.stage = 'sent';
    p.dueAt = at + (whole ? deliverAfter : Math.round(deliverAfter / 2));
  } else if (p.status === 'shipped') {
    p.status = 'delivered';
    for (const parcel of p.parcels) parcel.deliveredAt ??= at;
  } else return;
  changed(w, p);
}
