import { convert, factorOf } from '../../core/money';
import {
  type AskedBack,
  caseInWords,
  chargeOf,
  checkInWords,
  holdsOf,
  isApproved,
  isAsking,
  isCancelled,
  isFor,
  isReturn,
  lateFrom,
  marksOf,
  type ReturnStep,
  returnDue,
  returnStep,
  type Standing,
  soldFor,
  soldIn,
  standingOf,
  unseenOf,
} from '../../core/orders';
import { countOf, formatCount, type Instant, spanOf } from '../../core/units';
import type { Order, UnreadRow } from '../../store';
import { toPlace } from '../orders/decide';
import { type Shop, supplierOf } from '../quoting/worth';
import type { StuckRow } from '../sending/stuck';
import { type Caused, HOUR, type Need } from './need';

/** Cancellations that a person must ask of a supplier without a service. */
const toAskBack = (order: Order): AskedBack | undefined =>
  order.cases.find(
    (c): c is AskedBack =>
      isAsking(c) && order.purchases.some((p) => isFor(p, c.supplier, c.reference) && p.lane !== 'service'),
  );

interface Stands {
  readonly standing: Standing;
  /** Whether somebody has to do something for it, whatever the time. */
  readonly waits: boolean;
  readonly lateFrom: Instant;
}

/** By order: a row in memory stays the same object until it is read again. */
export const known = new WeakMap<Order, Stands>();

export function stands(order: Order): Stands {
  let found = known.get(order);
  if (!found) {
    const standing = standingOf(order);
    const waits =
      standing === 'held' ||
      unseenOf(order).length > 0 ||
      toPlace(order).length > 0 ||
      toAskBack(order) !== undefined;
    found = { standing, waits, lateFrom: lateFrom(order, order.shipBy) };
    known.set(order, found);
  }
  return found;
}

/** Open orders that somebody has to do something for, and how many may be forwarded. */
export function ordersNow(open: readonly Order[], now: Instant) {
  const needing: Order[] = [];
  let ready = 0;
  for (const order of open) {
    const { standing, waits, lateFrom: late } = stands(order);
    if (waits || now > late) needing.push(order);
    if (standing === 'ready') ready++;
  }
  return { needing, ready };
}

/** The cost of an order, charged or expected, in the currency of its first purchase. */
function spentOn({ purchases, currency: sold }: Order, shop: Shop): Pick<Need, 'stake' | 'currency'> {
  const currency = supplierOf(shop, purchases[0]?.supplier ?? '')?.currency ?? sold;
  const stake = purchases.reduce((sum, p) => {
    const { goods, shipping } = chargeOf(p) ?? p.expected;
    const factor = factorOf(shop.rates, supplierOf(shop, p.supplier)?.currency ?? currency, currency);
    return sum + (factor ? convert(goods + shipping, factor) : 0);
  }, 0);
  return { stake, currency };
}

/** Why orders are held, by the check that failed. */
const HELD_FOR: Readonly<Record<string, string>> = {
  linked: 'not linked to a supplier item',
  stock: 'the supplier has too few',
  profit: 'too little profit at today’s cost',
  address: 'the address',
  personalised: 'personalised, to be read before they are made',
  proof: 'proofs to approve',
  balance: 'the supplier’s balance does not cover them',
  stopped: 'buying from the supplier is stopped',
  costs: 'old costs',
  note: 'the buyer left a note',
  unusual: 'an unusual amount or quantity',
  repeat: 'the same buyer and goods within a day',
  watched: 'the buyer is on the watch list',
  'called off': 'the supplier cancelled',
  refused: 'the supplier refused them',
  'asked back': 'how a cancellation ended',
  tracking: 'a parcel that the marketplace was not told of',
  'cancellation refused': 'the marketplace refused to cancel',
  'cancel request': 'the buyer asks to cancel',
  dearer: 'a supplier charged more than expected',
  misprint: 'what was printed again',
  return: 'a return',
  'second purchase': 'bought twice, or not known here',
  unclear: 'which line the supplier meant',
};

/** What a return waits for. */
const RETURN_STEP: Readonly<Record<ReturnStep, string>> = {
  answer: 'a buyer waits for your answer to a return',
  mend: 'the answer to a return was not taken',
  refund: 'the goods came back, the refund is due',
  held: 'an undeliverable parcel is held',
  'ask outside': 'ask the supplier about a return, and record its answer',
  'see claim': 'the supplier refused a return',
  close: 'a return is over: look at what it cost',
};

export function orderNeed(order: Order, shop: Shop, now: number): Caused {
  const stake = order.lines.reduce((sum, l) => sum + l.unitPrice * soldIn(l), 0);
  const title = order.lines[0]?.title ?? '';
  const place = toPlace(order);
  const back = toAskBack(order);
  const nameOf = (id: string) => shop.connections.get(id)?.name ?? id;
  const unseen = unseenOf(order);
  const seen = () =>
    unseen.map((c) => caseInWords(c, order, { nameOf }, nameOf(order.marketplace))).join(' ');
  const base = {
    id: `order:${order.id}`,
    left:
      Math.min(
        order.shipBy,
        ...unseen.map((c) => (c.kind === 'cancel request' ? (c.answerBy ?? Infinity) : Infinity)),
      ) - now,
    stake,
    currency: order.currency,
    step: 'Open the order',
    href: `/orders?row=${encodeURIComponent(order.id)}`,
  };
  const late =
    order.shipBy > now
      ? `Ship-by in ${spanOf(order.shipBy - now)}.`
      : `Ship-by passed ${spanOf(now - order.shipBy)} ago.`;
  const orders = (n: number) => countOf(n, 'order');
  const causeOf = (key: string, many: (n: number) => string, query: string) => ({
    cause: {
      key: `order:${key}`,
      many,
      step: 'Look at them',
      href: `/orders?q=${encodeURIComponent(query)}`,
    },
  });
  if (isCancelled(order))
    return {
      ...base,
      ...spentOn(order, shop),
      what: `${order.number} was cancelled after it was bought`,
      why: seen(),
      news: true,
      ...causeOf(
        'cancelled',
        (n) => `${orders(n)} were cancelled after they were bought`,
        'is:cancelled is:open',
      ),
    };
  const isHeld = standingOf(order) === 'held';
  const returned = unseen.find(isReturn);
  if (returned && !isHeld && unseen.every(isReturn)) {
    const step = returnStep(returned)!;
    const due = Math.min(...unseen.filter(isReturn).map((c) => returnDue(c) ?? Number.POSITIVE_INFINITY));
    return {
      ...base,
      // Closing has no time of its own.
      left: Number.isFinite(due) ? due - now : 7 * 24 * HOUR,
      stake: soldFor(order, returned.units),
      what: `${order.number}: ${RETURN_STEP[step]}`,
      why: seen(),
      step: 'Open the return',
      href: `/orders/returns?row=${encodeURIComponent(`${order.id} ${returned.id}`)}`,
      cause: {
        key: `order:return:${step}`,
        many: (n) => `${countOf(n, 'return')}: ${RETURN_STEP[step]}`,
        step: 'Look at them',
        href: '/orders/returns',
      },
    };
  }
  if (isHeld || unseen.length) {
    const holds = holdsOf(order.checks, order.released);
    const kind = unseen[0]?.kind ?? holds[0]?.kind ?? '';
    const proof =
      !unseen.length && holds[0]?.kind === 'proof'
        ? order.lines.find((l) => l.proof && !isApproved(l))
        : undefined;
    if (proof)
      return {
        ...base,
        what: `${order.number} waits for its proof: ${proof.title}`,
        why: `Made with the buyer’s own words. ${late}`,
        step: 'Look at the proof',
        href: `/orders/proofs?proof=${encodeURIComponent(`${order.id} ${proof.id}`)}`,
        cause: {
          key: 'order:proof',
          many: (n) => `${orders(n)} wait for their proofs`,
          step: 'Look at the proofs',
          href: '/orders/proofs',
        },
      };
    return {
      ...base,
      what: isHeld ? `${order.number} is held: ${title}` : `${order.number} needs a look: ${title}`,
      // Of thousands that are held, two are named.
      get why() {
        return seen() || holds.map(checkInWords).join(' ');
      },
      ...causeOf(
        `held:${kind}`,
        (n) => `${orders(n)} ${isHeld ? 'are held' : 'need a look'}: ${HELD_FOR[kind] ?? kind}`,
        'is:held',
      ),
    };
  }
  if (back)
    return {
      ...base,
      what: `${order.number}: ask ${nameOf(back.supplier)} to cancel it`,
      why: 'It was ordered outside the service. Record the outcome.',
    };
  if (place.length) {
    const to = place.map((p) => nameOf(p.supplier)).join(' and ');
    const how =
      place[0]!.lane === 'file' ? 'goes into the next order file for' : 'is to be ordered by hand at';
    return { ...base, what: `${order.number} ${how} ${to}`, why: late };
  }
  const missing = marksOf(order)[2] === null ? 'not with the supplier yet' : 'no parcel yet';
  return {
    ...base,
    what: `${order.number} is late: ${missing}`,
    why: late,
    step: 'See where it stands',
    ...causeOf(`late:${missing}`, (n) => `${orders(n)} are late: ${missing}`, 'is:late'),
  };
}

/** A message that something here fails at, each time it is to be sent. */
export function stuckNeed(row: StuckRow, shop: Shop): Caused {
  const name = shop.connections.get(row.connection)?.name ?? row.connection;
  return {
    id: `stuck:${row.connection}:${row.kind}:${row.order ?? row.says}`,
    left: 2 * HOUR,
    stake: 0,
    currency: shop.settings.currency,
    what: `A message to ${name} cannot be sent`,
    why: `${row.says} It was tried ${countOf(row.tries, 'time')} and waits for longer each time; everything else goes on.`,
    step: row.order ? 'Open the order' : 'Open the connection',
    href: row.order ? `/orders?row=${encodeURIComponent(row.order)}` : `/connections?row=${row.connection}`,
    cause: {
      key: `stuck:${row.connection}:${row.says}`,
      many: (n) => `${countOf(n, 'message')} to ${name} cannot be sent`,
      step: 'Open the connection',
      href: `/connections?row=${row.connection}`,
    },
  };
}

/** Something that a feed told and that cannot be read: an order that may be waiting to be bought. */
export function unreadNeed(row: UnreadRow, shop: Shop, now: number): Caused {
  const c = shop.connections.get(row.connection);
  const name = c?.name ?? row.connection;
  const what = c?.role === 'supplier' ? 'What was said of a purchase' : 'An order';
  const number = row.id.slice(row.connection.length + 1);
  return {
    id: `unread:${row.id}`,
    // A buyer waits for it, as far as anybody knows.
    left: row.at + 24 * HOUR - now,
    stake: 0,
    currency: shop.settings.currency,
    what: `${what} of ${name} cannot be read${number.startsWith('~') ? '' : `: ${number}`}`,
    why: row.reason,
    step: 'Look at it',
    href: `/orders?unread=${encodeURIComponent(row.id)}`,
    cause: {
      key: `unread:${row.connection}`,
      many: (n) => `${formatCount(n)} orders of ${name} cannot be read`,
      step: 'Look at them',
      href: `/orders?unread=${encodeURIComponent(row.id)}`,
    },
  };
}
