import { convert, factorOf, formatMoney } from '../../core/money';
import {
  type AskedBack,
  caseInWords,
  chargeOf,
  checkInWords,
  holdsOf,
  isAsking,
  isCancelled,
  isFor,
  lateFrom,
  marksOf,
  type Standing,
  soldIn,
  standingOf,
  unseenOf,
} from '../../core/orders';
import { alwaysSaidOf, type ListingProblem } from '../../core/pricing';
import { Promised } from '../../core/sourcing';
import { countOf, formatCount, type Instant, spanOf } from '../../core/units';
import type {
  Connection,
  DoubtRow,
  HealthRow,
  ItemRow,
  Job,
  Order,
  OutboxRow,
  SampanDatabase,
  UnreadRow,
} from '../../store';
import { waitingCounts } from '../connections/market-files';
import type { ListingNeed } from '../memory/need';
import { toPlace } from '../orders/decide';
import { troubleInWords } from '../outbox/circuit';
import { titleOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { quoteListing, sumAsPublished } from '../quoting/quote';
import { marketOf, problemOf, type Shop, supplierOf } from '../quoting/worth';
import { doubtInWords } from '../readings/words';
import { TASKS } from '../schedule/job';
import type { StuckRow } from '../sending/send';

/** One thing that needs a person, with the step that resolves it. */
export interface Need {
  readonly id: string;
  /** Milliseconds until it hurts; less is worse. */
  readonly left: number;
  /** Minor units at stake. */
  readonly stake: number;
  readonly currency: string;
  readonly what: string;
  readonly why: string;
  readonly step: string;
  readonly href: string;
  /** How many are told in one; missing for one. */
  readonly count?: number;
  /** Something sells at a loss now. */
  readonly losing?: true;
  /** It happened, and is only to be seen. */
  readonly news?: true;
}

/** A need with what it has in common with others. */
export interface Caused extends Need {
  readonly cause?: {
    readonly key: string;
    /** What many of it are, in words, such as `20 listings sell below cost`. */
    readonly many: (n: number) => string;
    readonly step: string;
    readonly href: string;
  };
}

/** From so many on needs of one cause are told as one. */
const MANY = 3;
const NAMED = 2;

/** Needs of one cause as one, with their sum and the first of them; the worst of all needs first. */
export function byCause(needs: readonly Caused[], shop: Shop): Need[] {
  const groups = new Map<string, Caused[]>();
  for (const need of needs) {
    const key = need.cause?.key ?? need.id;
    const known = groups.get(key);
    if (known) known.push(need);
    else groups.set(key, [need]);
  }
  const told = [...groups].flatMap(([key, own]): Need[] => {
    const sorted = worstFirst(own, shop);
    const { cause } = own[0]!;
    if (!cause || own.length < MANY) return sorted;
    const [first] = sorted as [Caused];
    const { currency } = shop.settings;
    const names = sorted.slice(0, NAMED).map((need) => need.what);
    const { why } = first;
    const same = own.every((need) => need.why === why) ? `${why} ` : '';
    return [
      {
        id: `cause:${key}`,
        left: first.left,
        stake: sorted.reduce((sum, need) => sum + inBooks(need, shop), 0),
        currency,
        what: cause.many(own.length),
        why: `${same}${names.join('; ')}; and ${formatCount(own.length - names.length)} more.`,
        step: cause.step,
        href: cause.href,
        count: own.length,
        ...(first.losing && { losing: true }),
        ...(first.news && { news: true }),
      },
    ];
  });
  return worstFirst(
    told.map(({ cause: _, ...need }: Caused) => need),
    shop,
  );
}

const inBooks = ({ stake, currency }: Need, { rates, settings }: Shop): number => {
  const factor = factorOf(rates, currency, settings.currency);
  return factor ? convert(stake, factor) : stake;
};

const HOUR = 3_600_000;

/** What loses money now first, the most at stake before the others; then what hurts soonest; what is only to be seen last. */
export function worstFirst<N extends Need>(needs: readonly N[], shop: Shop): N[] {
  const rank = (need: Need) => (need.losing ? 0 : need.news ? 2 : 1);
  return [...needs].sort(
    (a, b) =>
      rank(a) - rank(b) ||
      (a.losing ? inBooks(b, shop) - inBooks(a, shop) : 0) ||
      a.left - b.left ||
      inBooks(b, shop) - inBooks(a, shop),
  );
}

/** What a person has to ask a supplier without a service for. */
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
const known = new WeakMap<Order, Stands>();

function stands(order: Order): Stands {
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

export function connectionNeeds(
  c: Connection,
  health: HealthRow | undefined,
  open: readonly Order[],
  now: number,
): Need[] {
  const needs: Need[] = [];
  const says = troubleInWords(c.role, health, now);
  const currency = c.role === 'supplier' ? c.currency : c.site.currency;
  const href = `/connections?row=${c.id}`;
  if (says)
    needs.push({
      id: `connection:${c.id}`,
      left: health?.trouble?.kind === 'credentials' ? 0 : HOUR,
      stake: 0,
      currency,
      what: `${c.name} does not work`,
      why: says,
      step: 'Open the connection',
      href,
    });
  if (c.role === 'marketplace' && c.siteNow)
    needs.push({
      id: `site:${c.id}`,
      left: 20 * HOUR,
      stake: 0,
      currency,
      what: `${c.name} changed its fees or rules`,
      why: 'Prices go on with the old ones until you have looked at what the new ones do.',
      step: 'Look at what changes',
      href,
    });
  const balance = health?.balance ?? null;
  if (c.role === 'supplier' && balance !== null) {
    const due = new Promised(open, () => 0).moneyTo(c.id);
    const usual = typicalSpend(open, c.id) * 3;
    if (balance < Math.max(due, usual))
      needs.push({
        id: `balance:${c.id}`,
        left: 4 * HOUR,
        stake: due,
        currency,
        what: `${c.name}’s balance is down to ${formatMoney({ minor: balance, currency: c.currency })}`,
        why: 'Orders stop when it does not cover them.',
        step: 'See the balance',
        href,
      });
  }
  return needs;
}

/** What a shop without a service has changes to hand over by files. */
export async function fileNeed(db: SampanDatabase, c: Connection): Promise<Need | null> {
  if (c.role !== 'marketplace' || c.lanes.listings === 'service') return null;
  const { listings, orders: parcels } = await waitingCounts({ db }, c.id);
  if (!listings && !parcels) return null;
  const parts = [
    listings && `${countOf(listings, 'change')} for its listing file`,
    parcels && `${parcels} for its dispatch file`,
  ];
  return {
    id: `files:${c.id}`,
    left: (parcels ? 8 : 16) * HOUR,
    stake: 0,
    currency: c.site.currency,
    what: `${c.name} has changes to hand over`,
    why: `${parts.filter(Boolean).join(', ')}. Export the files and upload them.`,
    step: 'Export the files',
    href: `/connections?row=${c.id}`,
  };
}

/** What an open purchase of a supplier costs on average; nothing where there is none. */
function typicalSpend(open: readonly Order[], supplier: string): number {
  const costs = open.flatMap((o) =>
    o.purchases.flatMap((p) => (p.supplier === supplier ? [p.expected.goods + p.expected.shipping] : [])),
  );
  return costs.length ? Math.round(costs.reduce((a, b) => a + b, 0) / costs.length) : 0;
}

export function jobNeed(job: Job, health: HealthRow | undefined, shop: Shop): Need | null {
  const c = shop.connections.get(job.subject);
  if (!c || job.lastOk || job.stopped || health?.trouble || !job.lastSays) return null;
  return {
    id: `job:${job.id}`,
    left: 6 * HOUR,
    stake: 0,
    currency: shop.settings.currency,
    what: `${c.name}: ${TASKS[job.task].name} failed`,
    why: job.lastSays,
    step: 'Open the connection',
    href: `/connections?row=${c.id}`,
  };
}

/** What was spent on an order, as charged or as expected, in the currency of what was bought first. */
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
  balance: 'the supplier’s balance does not cover them',
  'called off': 'the supplier cancelled',
  refused: 'the supplier refused them',
  'asked back': 'how a cancellation ended',
  tracking: 'a parcel that the marketplace was not told of',
  'cancellation refused': 'the marketplace refused to cancel',
  'second purchase': 'bought twice, or not known here',
  unclear: 'which line the supplier meant',
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
    left: order.shipBy - now,
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
  if (isHeld || unseen.length) {
    const holds = holdsOf(order.checks, order.released);
    const kind = unseen[0]?.kind ?? holds[0]?.kind ?? '';
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

/** What a listing is told of with, of which something needs a person. */
export function listingNeed(
  need: Exclude<ListingNeed, 'step' | 'leap'>,
  full: FullListing,
  shop: Shop,
): Caused {
  const { listing, product } = full;
  const market = marketOf(shop, listing.marketplace);
  const currency = market?.site.currency ?? shop.settings.currency;
  const money = (minor: number) => formatMoney({ minor, currency });
  const on = `on ${market?.name ?? listing.marketplace}`;
  const title = titleOf(full);
  const listings = (n: number) => countOf(n, 'listing');
  if (need === 'refused')
    return {
      id: `refused:${listing.id}`,
      left: 48 * HOUR,
      stake: 0,
      currency,
      what: `${title} was refused ${on}`,
      why: problemOf(full, shop),
      step: 'Fix it on the Bench',
      href: `/bench?row=${encodeURIComponent(product.id)}&for=${encodeURIComponent(listing.marketplace)}`,
      cause: {
        key: `refused:${listing.marketplace}:${unnamed(problemOf(full, shop))}`,
        many: (n) => `${listings(n)} were refused ${on}`,
        step: 'Fix them on the Bench',
        href: `/bench?q=is:refused&for=${encodeURIComponent(listing.marketplace)}`,
      },
    };
  const base = {
    id: `listing:${listing.id}`,
    currency,
    step: 'Open the listing',
    href: `/listings?row=${encodeURIComponent(listing.id)}`,
  };
  if (need === 'edited')
    return {
      ...base,
      left: 36 * HOUR,
      stake: 0,
      what: `${title} was edited ${on} itself`,
      why: `Another ${Object.keys(listing.drift?.theirs ?? {}).join(', ')} stands there than Sampan told it.`,
      step: 'Keep theirs or put ours back',
      cause: {
        key: `edited:${listing.marketplace}`,
        many: (n) => `${listings(n)} were edited ${on} itself`,
        step: 'Look at them',
        href: '/listings?q=is:edited',
      },
    };
  const sum = sumAsPublished(listing, quoteListing(full, shop));
  const { price, quantity } = listing.published!;
  if (need === 'held')
    return {
      ...base,
      left: 12 * HOUR,
      stake: Math.max(0, -(sum?.profit ?? 0)) * quantity,
      what: `${title} is held at ${money(price)} ${on}`,
      why: problemOf(full, shop),
      ...(sum && sum.profit < 0 && quantity > 0 && { losing: true }),
      cause: {
        key: `held:${keyOf(listing.problem!)}`,
        many: (n) => `${listings(n)} are held at their price`,
        step: 'Look at them',
        href: `/listings?q=${encodeURIComponent(`is:held ${searchedBy(listing.problem!)}`)}`,
      },
    };
  const loses = -(sum?.profit ?? 0);
  return {
    ...base,
    left: 8 * HOUR,
    stake: loses * quantity,
    what: `${title} sells below cost ${on}`,
    why: `At ${money(price)} each sale loses ${money(loses)}.`,
    losing: true,
    cause: {
      key: 'loss',
      many: (n) => `${listings(n)} sell below cost`,
      step: 'Look at them',
      href: '/listings?q=is:loss',
    },
  };
}

/** What a marketplace said, without what differs from listing to listing: names and numbers. */
const unnamed = (reason: string): string => reason.replace(/“[^”]*”/g, '“…”').replace(/[\d][\d.,]*/g, '0');

/** Problems of one key are told together. */
function keyOf(problem: ListingProblem): string {
  if (problem.why === 'unknown') return `unknown:${problem.what.is}`;
  return problem.why === 'refused' ? `refused:${unnamed(problem.said)}` : problem.why;
}

/** What finds listings with the same problem. */
function searchedBy(problem: ListingProblem): string {
  const words = alwaysSaidOf(problem);
  return words && `fault:"${words}"`;
}

/** Costs that leapt, told together. */
export const leapsNeed = (leapt: readonly ItemRow[], shop: Shop): Need | null => {
  if (!leapt.length) return null;
  const money = (minor: number, currency: string) => formatMoney({ minor, currency });
  const first = leapt
    .slice(0, 3)
    .map((i) => `${i.item} ${money(i.cost, i.currency)} → ${money(i.leap!.cost, i.currency)}`);
  return {
    id: 'leaps',
    left: 3 * HOUR,
    stake: 0,
    currency: shop.settings.currency,
    what: `${countOf(leapt.length, 'cost')} leapt and wait${leapt.length === 1 ? 's' : ''} for you`,
    why: `${first.join('; ')}${leapt.length > first.length ? `; and ${formatCount(leapt.length - first.length)} more` : ''}. Prices go on with the old ones until you say so.`,
    step: 'Look at them',
    href: '/listings?q=is:leap',
  };
};

/** What a marketplace refused of an order that is not open any more, where nobody else would see it. */
export function refusalNeed(row: OutboxRow, open: readonly Order[], currency: string): Need | null {
  if (row.kind !== 'dispatch' && row.kind !== 'cancel') return null;
  const { order } = row;
  if (open.some((o) => o.id === order)) return null;
  return {
    id: `outbox:${row.id}`,
    left: 10 * HOUR,
    stake: 0,
    currency,
    what: row.kind === 'cancel' ? 'A cancellation was refused' : 'A parcel was not accepted',
    why: row.says ?? '',
    step: 'Open the order',
    href: `/orders?row=${encodeURIComponent(order)}`,
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

/** Items that a reading did not find any more, in a number that asks for a person. */
export function doubtNeed(doubt: DoubtRow, shop: Shop): Need | null {
  const c = shop.connections.get(doubt.supplier);
  if (!c || doubt.confirmed) return null;
  return {
    id: `doubt:${doubt.supplier}`,
    left: 5 * HOUR,
    stake: 0,
    currency: shop.settings.currency,
    what: `Are ${countOf(doubt.rows.length, 'item')} of ${c.name} gone?`,
    why: `${doubtInWords(doubt)}. They stay as they were until you say so.`,
    step: 'Look at the list',
    href: '/source/lists',
  };
}

/** Price steps that wait, told together. @param steps how many */
export const stepsNeed = (steps: number, shop: Shop): Need | null =>
  steps === 0
    ? null
    : {
        id: 'steps',
        left: 6 * HOUR,
        stake: 0,
        currency: shop.settings.currency,
        what: `${countOf(steps, 'price step')} wait${steps === 1 ? 's' : ''} for you`,
        why: 'They are larger than their plans let prices go by themselves.',
        step: 'Look at them',
        href: '/listings?q=is:step',
      };
