import {
  isReturn,
  marksOf,
  paidIn,
  type Return,
  type ReturnStep,
  returnDue,
  returnStep,
  soldFor,
} from '../../core/orders';
import { type Loss, lossOf, type Proposal, proposalFor, type Reason, rateAmong } from '../../core/returns';
import type { Instant } from '../../core/units';
import { type LedgerRow, type Order, returnRules } from '../../store';
import type { Assortment } from '../memory/assortment';
import { listingOf } from '../quoting/promised';
import type { OrderBook } from './order-book';
import type { SoldNote } from './order-columns';

/** A return as a list shows it. */
export interface ReturnRow {
  /** Of order and case. */
  readonly key: string;
  readonly order: string;
  readonly number: string;
  readonly marketplace: string;
  readonly case: Return;
  readonly title: string;
  readonly step: ReturnStep | null;
  readonly due: Instant | null;
  /** What it cost so far, in the books; null without a rate. */
  readonly lost: number | null;
}

/** A return with all that is needed to decide it. */
export interface ReturnInFull extends ReturnRow {
  readonly of: Order;
  readonly texts: readonly string[];
  /** What the buyer paid for its units, and what is left of all that was paid, in the order's currency. */
  readonly paid: number;
  readonly left: number;
  readonly loss: Loss;
  readonly proposal: Proposal;
  /** The seller's list. */
  readonly reasons: readonly Reason[];
}

export interface ReturnsFound {
  readonly rows: readonly ReturnRow[];
  readonly matches: number;
  readonly open: number;
  /** Those that a person has to do something for. */
  readonly needing: number;
}

export type WhichReturns = 'open' | 'closed';

const keyOf = (order: string, id: string) => `${order} ${id}`;

/** Returns, those that are due first, or the newest closed ones. Cost: one pass over the orders that have any. */
export async function returnsIn(
  book: OrderBook,
  { which, offset, limit }: { readonly which: WhichReturns; readonly offset: number; readonly limit: number },
): Promise<ReturnsFound> {
  const found: { readonly place: number; readonly id: string; readonly at: number }[] = [];
  let [open, needing] = [0, 0];
  book.all.returns.forEach((notes, place) => {
    if (!notes || !book.idAt[place]) return;
    const cases = book.inMemory(place)?.cases;
    for (const note of notes) {
      const c = cases?.find((one): one is Return => one.id === note.id && isReturn(one));
      const isOpen = note.closedAt === null;
      const step = c ? returnStep(c) : null;
      if (isOpen) open++;
      if (step) needing++;
      if (isOpen !== (which === 'open')) continue;
      // What needs a person first, by its time; then what is awaited; the newest first of what is closed.
      const at = !isOpen
        ? -(note.closedAt ?? 0)
        : (step ? 0 : 1e14) + ((c && returnDue(c)) ?? note.at + 1e13);
      found.push({ place, id: note.id, at });
    }
  });
  found.sort((a, b) => a.at - b.at);
  const shown = found.slice(offset, offset + limit);
  const orders = new Map((await book.some(shown.map((s) => book.idAt[s.place]!))).map((o) => [o.id, o]));
  return {
    ...{ matches: found.length, open, needing },
    rows: shown.flatMap(({ place, id }) => {
      const order = orders.get(book.idAt[place]!);
      const c = order?.cases.find((one): one is Return => one.id === id && isReturn(one));
      const lost = book.all.returns[place]?.find((n) => n.id === id)?.lost ?? null;
      return order && c ? [rowOf(order, c, lost)] : [];
    }),
  };
}

function rowOf(order: Order, c: Return, lost: number | null): ReturnRow {
  const lines = order.lines.filter((l) => c.units.some((u) => u.line === l.id));
  return {
    ...{ key: keyOf(order.id, c.id), order: order.id, number: order.number, marketplace: order.marketplace },
    ...{ case: c, step: returnStep(c), due: returnDue(c), lost },
    title: lines.map((l) => l.title).join(', '),
  };
}

/** One return in full, by its key; null where it is not known. */
export async function returnInFull(book: OrderBook, key: string): Promise<ReturnInFull | null> {
  const at = key.indexOf(' ');
  const found = await book.full(key.slice(0, at));
  const c = found?.order.cases.find((one): one is Return => one.id === key.slice(at + 1) && isReturn(one));
  if (!found || !c) return null;
  const { order, ledger, buyer } = found;
  const { settings } = book.shop;
  const loss = lossIn(order, ledger, c, settings.currency);
  const paid = soldFor(order, c.units);
  return {
    ...rowOf(order, c, loss.total),
    ...{ of: order, texts: buyer.texts, paid, loss, reasons: returnRules(settings).reasons },
    left: paidIn(order) - order.refunded,
    proposal: proposalFor(
      c,
      { paid, currency: order.currency, delivered: marksOf(order)[5] !== null },
      returnRules(settings),
    ),
  };
}

/** What a return cost, by what is on record of its order. */
export const lossIn = (order: Order, ledger: LedgerRow | undefined, c: Return, books: string): Loss =>
  lossOf(c, order, {
    ...{ paid: paidIn(order), tax: ledger?.terms?.tax ?? { model: 'none', rate: 0 }, books },
    rateOf: rateAmong(ledger?.entries ?? []),
  });

/** Returns of one reason, product, supplier or marketplace. */
export interface ReturnRate {
  /** A reason's, product's or connection's id; '' for what is not known. */
  readonly id: string;
  readonly name: string;
  /** Units that were sold in the range, and those of them that came or are to come back. */
  readonly sold: number;
  readonly returned: number;
  /** The same of the range before, as long. */
  readonly soldBefore: number;
  readonly returnedBefore: number;
  /** What the returns cost, in the books. */
  readonly lost: number;
  /** More than the seller's limit. */
  readonly over: boolean;
}

export const RATED_BY = ['reason', 'product', 'supplier', 'marketplace'] as const;
export type RatedBy = (typeof RATED_BY)[number];

type Names = (id: string) => string;

/**
 * Rates of return among the orders paid on some days of the shop's zone, as day numbers, both ends included. Cost: one
 * pass over the columns of all orders.
 */
export function ratesIn(
  book: OrderBook,
  assortment: Assortment,
  by: RatedBy,
  first: number,
  last: number,
  nameOf: Names,
): ReturnRate[] {
  const c = book.all;
  const rules = returnRules(book.shop.settings);
  const length = last - first + 1;
  const rates = new Map<
    string,
    { sold: number; returned: number; soldBefore: number; returnedBefore: number; lost: number }
  >();
  const rateOf = (id: string) => {
    let rate = rates.get(id);
    if (!rate) {
      rate = { sold: 0, returned: 0, soldBefore: 0, returnedBefore: 0, lost: 0 };
      rates.set(id, rate);
    }
    return rate;
  };
  const products = new Map<string, string>();
  const productOf = (marketplace: string, sku: string) => {
    const id = listingOf({ marketplace }, { sku });
    let product = products.get(id);
    if (product === undefined) {
      product = assortment.get(id)?.product.id ?? '';
      products.set(id, product);
    }
    return product;
  };
  const idOf = (place: number, one: Pick<SoldNote, 'sku' | 'supplier'>, reason: string) =>
    by === 'reason'
      ? reason
      : by === 'product'
        ? productOf(c.marketplace[place]!, one.sku)
        : by === 'supplier'
          ? one.supplier
          : c.marketplace[place]!;
  let [soldInAll, soldInAllBefore] = [0, 0];
  for (let place = 0; place < book.idAt.length; place++) {
    const day = c.day[place]!;
    if (!book.idAt[place] || day > last || day < first - length) continue;
    const isNow = day >= first;
    for (const one of c.sold[place]!) {
      if (isNow) soldInAll += one.units;
      else soldInAllBefore += one.units;
      if (by !== 'reason') rateOf(idOf(place, one, ''))[isNow ? 'sold' : 'soldBefore'] += one.units;
    }
    for (const note of c.returns[place] ?? []) {
      if (note.declined) continue;
      const units = note.units.reduce((n, u) => n + u.units, 0);
      for (const [k, one] of note.units.entries()) {
        const rate = rateOf(idOf(place, one, note.reason));
        rate[isNow ? 'returned' : 'returnedBefore'] += one.units;
        // What a return of several lines cost is told at the first of them, so that the sum is whole.
        if (isNow && k === 0) rate.lost += note.lost ?? 0;
      }
      if (!units && isNow) rateOf(idOf(place, { sku: '', supplier: '' }, note.reason)).lost += note.lost ?? 0;
    }
  }
  const { percent, least } = rules.limit;
  return [...rates]
    .map(([id, rate]): ReturnRate => {
      const all = by === 'reason' ? { sold: soldInAll, soldBefore: soldInAllBefore } : {};
      const one = { ...rate, ...all };
      const name =
        by === 'reason'
          ? (rules.reasons.find((r) => r.id === id)?.name ?? id)
          : by === 'product'
            ? (assortment.titleOfProduct(id) ?? 'Goods that are not yours any more')
            : id
              ? nameOf(id)
              : 'Not bought';
      const over =
        by === 'product' && one.returned >= least && one.sold > 0 && one.returned * 100 > one.sold * percent;
      return { ...one, id, name, over };
    })
    .filter((r) => r.returned > 0 || r.returnedBefore > 0)
    .sort((a, b) => Number(b.over) - Number(a.over) || a.lost - b.lost || b.returned - a.returned);
}
