import { createHash } from 'node:crypto';
import type {
  WireAsk,
  WireFee,
  WireKnownListing,
  WireLineUnits,
  WireListing,
  WireOffer,
  WireOrder,
  WireSite,
} from '../../src/connect/wire';
import type { Chance } from '../random';
import type { Statements } from '../statements';
import { SITES, type SiteId, type SiteSpec } from './sites';

const HOUR = 3_600_000;

interface LiveListing extends Omit<WireListing, 'state'> {
  id: string;
  revision: number;
  state: WireKnownListing['state'];
  /**
   * Made by the seller before Sampan, and not changed through it since: buyers of the demo leave it alone.
   */
  older?: true;
}

/** What a seller's consent gave. */
export interface Grant {
  access: string;
  /** Milliseconds since 1970. */
  until: number;
  refresh: string;
  /** What it was renewed by: it works on until the new token was used, as an answer may be lost. */
  before: string | null;
}

/** All that the marketplace remembers. */
export interface Market {
  site: SiteId;
  /** By how many percent points the sale fee rose. */
  feeRise: number;
  listings: Record<string, LiveListing>;
  orders: WireOrder[];
  /** Order numbers in the order in which they changed. */
  feed: string[];
  keys: Record<string, { body: string; number: string }>;
  codes: Record<string, { challenge: string; redirect: string }>;
  /** Tokens that never end. */
  tokens: string[];
  /** What sellers' consents gave: a token until a time, and what renews it. */
  grants?: Grant[];
  issued: number;
  /** Pages that somebody came to by a mark, the oldest first: the next who buy without a wish are these. */
  visits?: { sku: string; via: string }[];
  /** What sellers wrote to buyers, by order. */
  messages?: { number: string; text: string }[];
  /** Pictures that sellers gave it, by path: media type and bytes in base64; the newest stay. */
  pictures: Record<string, { type: string; data: string }>;
  /** How many listings were ever made. */
  listed: number;
  statements?: Statements;
}

/** The site as it is now: its sale fee may have risen since. */
export function specOf(m: Market): SiteSpec {
  const spec = SITES[m.site];
  if (!m.feeRise) return spec;
  const risen = (bands: SiteSpec['site']['fees'][number]['bands'] = {}) =>
    Object.fromEntries(
      Object.entries(bands).map(([category, all]) => [
        category,
        all.map((b) => ({ ...b, rate: String(Number(b.rate) + m.feeRise!) })),
      ]),
    );
  const fees = spec.site.fees.map((f) => (f.kind === 'sale' ? { ...f, bands: risen(f.bands) } : f));
  return { ...spec, site: { ...spec.site, fees } };
}

export function openMarket(site: SiteId = 'pennywharf'): Market {
  return {
    site,
    feeRise: 0,
    listings: {},
    orders: [],
    feed: [],
    keys: {},
    codes: {},
    tokens: [],
    issued: 20_000,
    pictures: {},
    listed: 0,
  };
}

const minorOf = (amount: string) => Math.round(Number(amount) * 100);
const decimal = (minor: number) => (minor / 100).toFixed(2);
const isAmount = (text: unknown): text is string => typeof text === 'string' && /^\d{1,7}\.\d{2}$/.test(text);

/** What is wrong with a listing; an empty list takes it. */
export function listingErrors(m: Market, listing: WireListing): { field: string; reason: string }[] {
  const { site } = specOf(m);
  const errors: { field: string; reason: string }[] = [];
  const category = site.categories.find((c) => c.id === listing.category);
  if (!listing.title) errors.push({ field: 'title', reason: 'A title is needed.' });
  if ([...(listing.title ?? '')].length > site.titleLimit)
    errors.push({ field: 'title', reason: `At most ${site.titleLimit} characters.` });
  if (/[<>]/.test(listing.title ?? '')) errors.push({ field: 'title', reason: 'No markup in a title.' });
  const banned = site.bannedWords.find((word) => new RegExp(`\\b${word}\\b`, 'i').test(listing.title ?? ''));
  if (banned) errors.push({ field: 'title', reason: `The word “${banned}” is not allowed.` });
  if (/\bfake\b|\breplica\b/i.test(`${listing.title} ${listing.description}`))
    errors.push({ field: 'title', reason: 'Copies of branded goods are not allowed.' });
  if (/<\s*(script|iframe|a|img)\b|\son\w+=/i.test(listing.description ?? ''))
    errors.push({
      field: 'description',
      reason: 'Links, pictures and scripts are not allowed in a description.',
    });
  if (!category) errors.push({ field: 'category', reason: `There is no category “${listing.category}”.` });
  if (category?.needsBrand && !listing.brand)
    errors.push({ field: 'brand', reason: 'This category needs a brand.' });
  if (category?.needsGtin && !listing.gtin)
    errors.push({ field: 'gtin', reason: 'This category needs a barcode.' });
  if (!listing.pictures?.length) errors.push({ field: 'pictures', reason: 'At least one picture.' });
  if (!isAmount(listing.price) || minorOf(listing.price) < 50)
    errors.push({ field: 'price', reason: 'A price of at least 0.50.' });
  if (!Number.isInteger(listing.quantity) || listing.quantity < 0 || listing.quantity > 9999)
    errors.push({ field: 'quantity', reason: 'A quantity from 0 to 9999.' });
  const tags = listing.tags ?? [];
  if (tags.length > (site.tags?.most ?? 0))
    errors.push({ field: 'tags', reason: `At most ${site.tags?.most ?? 0} tags.` });
  const long = tags.find((t) => [...t].length > (site.tags?.longest ?? 0));
  if (long) errors.push({ field: 'tags', reason: `The tag “${long}” is too long.` });
  for (const a of site.attributes ?? []) {
    if (a.categories && !a.categories.includes(listing.category)) continue;
    const value = listing.attributes?.[a.id];
    if (!value) {
      if (a.needed) errors.push({ field: a.id, reason: `“${a.name}” is needed.` });
      continue;
    }
    if (a.kind === 'choice' && !a.choices?.some((c) => c.id === value))
      errors.push({ field: a.id, reason: `“${a.name}” has no value “${value}”.` });
    if (
      a.kind === 'number' &&
      (!/^\d{1,6}$/.test(value) || Number(value) < (a.least ?? 0) || Number(value) > (a.most ?? 999_999))
    )
      errors.push({ field: a.id, reason: `“${a.name}” is a whole number.` });
    if (a.kind === 'amount' && !isAmount(value))
      errors.push({ field: a.id, reason: `“${a.name}” is an amount.` });
    if (a.kind === 'link' && !/^https:\/\/\S+$/.test(value))
      errors.push({ field: a.id, reason: `“${a.name}” is an address.` });
  }
  return errors;
}

export function putListing(m: Market, listing: WireListing): LiveListing {
  const before = Object.hasOwn(m.listings, listing.sku) ? m.listings[listing.sku] : undefined;
  const made = {
    ...listing,
    id: before?.id ?? `PL${String(++m.listed).padStart(6, '0')}`,
    revision: (before?.revision ?? 0) + 1,
    state:
      before?.state === 'draft' || (!before && specOf(m).site.drafts) ? ('draft' as const) : listing.state,
  };
  m.listings[listing.sku] = made;
  return made;
}

/** Pictures that it keeps at most. */
const MOST_PICTURES = 300;

/** Keeps a picture. @returns its path; null for what is no picture */
export function keepPicture(m: Market, type: string, bytes: unknown): string | null {
  if (!/^image\/(jpeg|png|webp)$/.test(type)) return null;
  if (!Buffer.isBuffer(bytes) || bytes.length < 20 || bytes.length > 20_000_000) return null;
  m.pictures ??= {};
  const name = createHash('sha256').update(bytes).digest('hex').slice(0, 24);
  const path = `/pictures/${name}.${type.slice('image/'.length)}`;
  m.pictures[path] = { type, data: bytes.toString('base64') };
  for (const old of Object.keys(m.pictures).slice(0, -MOST_PICTURES)) delete m.pictures[old];
  return path;
}

/** The seller's own listings from before. Those that are there already stay. */
export function addOlder(m: Market, listings: readonly WireKnownListing[]): void {
  for (const l of listings)
    if (!Object.hasOwn(m.listings, l.sku)) m.listings[l.sku] = { ...l, revision: 1, older: true };
}

export function putOffer(
  m: Market,
  offer: WireOffer,
): { ok: true; revision: number } | { ok: false; reason: string } {
  const listing = Object.hasOwn(m.listings, offer.sku) ? m.listings[offer.sku] : undefined;
  if (!listing) return { ok: false, reason: `There is no listing ${offer.sku}.` };
  if (!isAmount(offer.price) || minorOf(offer.price) < 50)
    return { ok: false, reason: 'A price of at least 0.50 is needed.' };
  if (!Number.isInteger(offer.quantity) || offer.quantity < 0)
    return { ok: false, reason: 'A quantity of 0 or more is needed.' };
  delete listing.older;
  Object.assign(listing, {
    price: offer.price,
    quantity: offer.quantity,
    state: offer.state,
    revision: listing.revision + 1,
  });
  return { ok: true, revision: listing.revision };
}

const FIRST = [
  'Margit',
  'Tomas',
  'Sela',
  'Rowan',
  'Bela',
  'Anneke',
  'Jory',
  'Carys',
  'Dilys',
  'Emrys',
  'Ffion',
  'Goran',
  'Hester',
  'Idris',
  'Juno',
  'Kerensa',
  'Lowen',
  'Merryn',
  'Nia',
  'Osian',
];
const LAST = [
  'Oakes',
  'Ferro',
  'Quill',
  'Amsel',
  'Novak',
  'Lind',
  'Roe',
  'Vane',
  'Hart',
  'Moss',
  'Penrose',
  'Tregear',
  'Ashdown',
  'Bellwether',
  'Corran',
  'Dunmore',
];
const STREETS = [
  'Tarn Rise',
  'Lanternfield Road',
  'Otter Row',
  'Quarry Lea',
  'Mill Shelf Lane',
  'Bellhouse Walk',
  'Starling Court',
  'Old Ferry Way',
  'Hollow Ash Drive',
];
/** What a buyer says for a line. */
type Words = Pick<WireOrder['lines'][number], 'personalisation' | 'fields' | 'files'>;

export interface SaleWish {
  sku?: string;
  quantity?: number;
  personalised?: boolean;
  badAddress?: boolean;
  /** SKUs that are bought together. */
  skus?: string[];
  /** Lines as they are to be, several of one SKU too. */
  lines?: ({ sku: string; quantity: number } & Words)[];
  /** Two lines of one listing, each with words of its own. */
  twins?: boolean;
  /** Its country is written in a way that no contract knows. */
  spoiled?: boolean;
  country?: string;
  /** What the buyer writes to the seller. */
  note?: string;
  /** What the buyer writes to whom it is given. */
  gift?: string;
  /** The mark in the address that the buyer came by. */
  via?: string;
  /** Goes to a post-office box. */
  box?: boolean;
  /** The postcode stands behind the town. */
  untidy?: boolean;
  /** The buyer of another order. */
  as?: WireOrder;
}

const CHARTED = ['Leeds', 'Whitby', 'Bristol', 'Oslo', 'Lisbon', 'Hamburg'];

/** What a buyer answers to that which a listing asks for. */
function answersOf({ asks }: LiveListing, luck: Chance): Words {
  if (!asks?.length) return {};
  const answer = ({ kind, choices, longest = 40 }: WireAsk): string => {
    switch (kind) {
      case 'text':
        return `${luck.pick(FIRST)} & ${luck.pick(FIRST)}`.slice(0, longest);
      case 'date':
        return `${luck.whole(1, 28)} ${luck.pick(['March', 'June', 'September'])} ${luck.whole(1994, 2026)}`;
      case 'place':
        return luck.pick(CHARTED);
      case 'choice':
        return luck.pick(choices ?? ['']);
      default:
        return '';
    }
  };
  const pictures = asks.filter((ask) => ask.kind === 'picture' && ask.required);
  return {
    fields: asks.map((ask) => ({ name: ask.name, value: answer(ask) })).filter((f) => f.value),
    ...(pictures.length && {
      files: pictures.map(({ name }) => ({ name, file: `/v1/files/photo-${luck.whole(1, 900)}.png` })),
    }),
  };
}

interface Person {
  readonly name: string;
  readonly home: SiteSpec['towns'][number];
}

/** An invented person who buys on a site. */
export function personOf({ towns }: Pick<SiteSpec, 'towns'>, luck: Chance): Person {
  const home = luck.pick(towns);
  return { home, name: `${luck.pick(FIRST)} ${luck.pick(LAST)}` };
}

/** A person as an order names them, at an invented address. */
export function buyerOf(
  { name, home: [town, postcode, country] }: Person,
  luck: Chance,
  wish: Pick<SaleWish, 'badAddress' | 'country' | 'spoiled' | 'box' | 'untidy' | 'as'> = {},
): Pick<WireOrder, 'buyer' | 'shipTo'> {
  if (wish.as) return { buyer: wish.as.buyer, shipTo: wish.as.shipTo };
  return {
    buyer: { name, email: `${name.toLowerCase().replace(' ', '.')}@mail.example` },
    shipTo: {
      name,
      line1: wish.box ? `PO Box ${luck.whole(10, 990)}` : `${luck.whole(1, 148)} ${luck.pick(STREETS)}`,
      town: wish.untidy ? `${town} ${postcode}` : town,
      postcode: wish.untidy ? '' : wish.badAddress ? postcode.slice(0, 3) : postcode,
      country: wish.spoiled ? 'United Kingdom' : (wish.country ?? country),
    },
  };
}

const wantedBy = (wish: SaleWish): readonly string[] | null =>
  wish.lines?.map((l) => l.sku) ?? wish.skus ?? (wish.sku ? [wish.sku] : null);

/** What a buyer may choose from. */
function onSale(m: Market, wish: SaleWish): LiveListing[] {
  const wanted = wantedBy(wish);
  return Object.values(m.listings).filter(
    (l) => l.state === 'live' && (wanted ? wanted.includes(l.sku) : !l.older),
  );
}

/** So many sales, one after the other. */
export function sellMany(m: Market, luck: Chance, at: number, wish: SaleWish, n: number): WireOrder[] {
  const choice = onSale(m, wish);
  return Array.from({ length: n }, () => sell(m, luck, at, wish, choice)).filter((o) => o !== null);
}

/** A buyer buys one or two live listings; lowers the shown quantities. Null where nothing is for sale. */
export function sell(
  m: Market,
  luck: Chance,
  at: number,
  wish: SaleWish = {},
  choice: readonly LiveListing[] = onSale(m, wish),
): WireOrder | null {
  const { site, prefix, shipping } = specOf(m);
  const wanted = wantedBy(wish);
  const visit = wanted || wish.twins || wish.personalised ? undefined : m.visits?.shift();
  if (visit) {
    const came = sell(m, luck, at, { ...wish, ...visit });
    if (came) return came;
  }
  const live = choice.filter((l) => l.quantity > 0);
  if (!live.length) return null;
  const chosen = new Set(wish.skus ? live : [luck.pick(live)]);
  if (!wanted && luck.next() < 0.15) chosen.add(luck.pick(live));
  const person = personOf(specOf(m), luck);
  const number = `${prefix}-${++m.issued}`;
  if (wish.twins) {
    const { sku } = luck.pick(live.filter((l) => l.quantity > 1)) ?? live[0]!;
    const words = () => `For ${luck.pick(FIRST)}, clear skies`;
    const lines = [0, 1].map(() => ({ sku, quantity: 1, personalisation: words() }));
    return sell(m, luck, at, { ...wish, twins: false, lines });
  }
  const asked: ({ listing: LiveListing; quantity?: number } & Words)[] = wish.lines
    ? wish.lines.flatMap(({ sku, ...line }) => {
        const listing = live.find((l) => l.sku === sku);
        return listing ? [{ ...line, listing }] : [];
      })
    : [...chosen].map((listing) => ({ listing }));
  const lines = asked.map(({ listing, quantity: wanted, ...words }, i) => {
    const usual = wish.quantity ?? (luck.next() < 0.15 ? 2 : 1);
    const quantity = Math.min(wanted ?? usual, Math.max(1, listing.quantity));
    listing.quantity = Math.max(0, listing.quantity - quantity);
    return {
      id: `${number}-${i + 1}`,
      sku: listing.sku,
      title: listing.title,
      quantity,
      unitPrice: listing.price,
      ...answersOf(listing, luck),
      ...words,
      ...(wish.personalised && i === 0 && { personalisation: `For ${luck.pick(FIRST)}, clear skies` }),
    };
  });
  const paid =
    lines.reduce((sum, l) => sum + minorOf(l.unitPrice) * l.quantity, 0) + minorOf(shipping ?? '0');
  const added = site.tax.model === 'added' ? Math.round((paid * Number(site.tax.rate)) / 100) : 0;
  const order: WireOrder = {
    number,
    status: 'paid',
    currency: site.currency,
    paidAt: new Date(at).toISOString(),
    shipBy: new Date(at + 48 * HOUR).toISOString(),
    ...buyerOf(person, luck, wish),
    ...(wish.note && { note: wish.note }),
    ...(wish.gift && { gift: wish.gift }),
    ...(wish.via && { via: wish.via }),
    ...(shipping && { shipping }),
    ...(added && { taxAdded: decimal(added) }),
    lines,
  };
  m.orders.push(order);
  m.feed.push(number);
  return order;
}

/**
 * One fee on one amount: bands by category, least and most, and the fixed part; halves rounded up. Rates have at most
 * two decimals, so that a ten-thousandth is a whole unit.
 */
function feeOn(tax: WireSite['tax'], fee: WireFee, category: string, amount: number): number {
  const half = (n: number) => Math.floor(n + 0.5);
  const units = (percent: string) => Math.round(Number(percent) * 100);
  const rate = units(tax.rate);
  const base =
    tax.model === 'added' && fee.onTax
      ? amount + half((amount * rate) / 10_000)
      : tax.model === 'inside' && !fee.onTax
        ? amount - half((amount * rate) / (10_000 + rate))
        : amount;
  let from = 0;
  let part = 0;
  for (const band of fee.bands?.[category] ?? fee.bands?.['*'] ?? []) {
    const to = band.upTo === null ? base : Math.min(base, minorOf(band.upTo));
    if (to > from) part += (to - from) * units(band.rate);
    from = Math.max(from, to);
  }
  const share = Math.max(half(part / 10_000), fee.least ? minorOf(fee.least) : 0);
  return Math.min(share, fee.most ? minorOf(fee.most) : share) + (fee.fixed ? minorOf(fee.fixed) : 0);
}

/** What the marketplace takes of an order by its fee table: of what is left of it, where lines were cancelled. */
export function chargesOf(m: Market, order: WireOrder): NonNullable<WireOrder['charges']> {
  const { site } = specOf(m);
  const lines = order.lines.filter((l) => soldOf(l) > 0);
  if (!lines.length) return [];
  const shipping = minorOf(order.shipping ?? '0');
  const units = lines.flatMap((l) =>
    Array.from({ length: soldOf(l) }, () => ({ sku: l.sku, price: minorOf(l.unitPrice) })),
  );
  const total = units.reduce((sum, u) => sum + u.price, 0);
  const shares = shareOf(
    shipping,
    units.map((u) => u.price),
  );
  return site.fees
    .filter((fee) => !fee.optional)
    .map((fee) => {
      const amount =
        fee.per === 'order'
          ? feeOn(site.tax, fee, '*', total + (fee.onShipping ? shipping : 0))
          : units.reduce((sum, u, k) => {
              const category = m.listings[u.sku]?.category ?? '*';
              return sum + feeOn(site.tax, fee, category, u.price + (fee.onShipping ? shares[k]! : 0));
            }, 0);
      return { kind: fee.kind, name: fee.name, amount: decimal(amount) };
    });
}

/** An amount shared out by weights: rounded down, what is left over to the largest fractions. */
function shareOf(amount: number, weights: readonly number[]): number[] {
  const total = weights.reduce((a, b) => a + b, 0) || 1;
  const shares = weights.map((w) => Math.floor((amount * w) / total));
  const left = amount - shares.reduce((a, b) => a + b, 0);
  const order = weights
    .map((w, k) => ({ k, rest: (amount * w) % total }))
    .sort((a, b) => b.rest - a.rest || a.k - b.k);
  for (let n = 0; n < left; n++) shares[order[n]!.k]!++;
  return shares;
}

const DAY = 24 * HOUR;

/** What buyers write who want to cancel. */
const REGRETS = [
  'I ordered the wrong size, sorry.',
  'Found it in the attic after all.',
  'It would come too late for the birthday.',
];

/** A buyer of a paid order asks to cancel it, or one unit of several. */
export function askToCancel(m: Market, order: WireOrder, luck: Chance, at: number, units?: number): void {
  const line = units ? order.lines.find((l) => soldOf(l) > units) : undefined;
  const n = Number(order.cancelRequest?.id.split('-').at(-1) ?? 0) + 1;
  touch(m, order, {
    cancelRequest: {
      id: `${order.number}-c-${n}`,
      askedAt: new Date(at).toISOString(),
      answerBy: new Date(at + DAY).toISOString(),
      reason: luck.pick(REGRETS),
      ...(line && { lines: [{ id: line.id, quantity: (line.cancelled ?? 0) + units! }] }),
      state: 'open',
    },
  });
}

/** What nobody answered in time is cancelled where it is not on its way, else over. */
export function lapseRequests(m: Market, now: number): void {
  for (const order of m.orders) {
    const asked = order.cancelRequest;
    if (asked?.state !== 'open' || !asked.answerBy || Date.parse(asked.answerBy) > now) continue;
    if (order.status === 'paid' && !order.dispatches?.length) cancelLines(m, order, asked.lines);
    else touch(m, order, { cancelRequest: { ...asked, state: 'over' } });
  }
}

type Line = WireOrder['lines'][number];

/** Units of a line that are still sold. */
export const soldOf = (l: Line): number => l.quantity - (l.cancelled ?? 0);

/** Units of a line that the marketplace was told to be in parcels. */
export function dispatchedOf(order: WireOrder, l: Line, dispatches = order.dispatches ?? []): number {
  if (dispatches.some((one) => !one.lines)) return soldOf(l);
  return dispatches
    .flatMap((one) => one.lines ?? [])
    .reduce((n, one) => (one.id === l.id ? n + one.quantity : n), 0);
}

/**
 * Cancels units of a sale: the buyer is refunded for them, the quantities shown rise again, fees are given back.
 * @param totals units of each line that are to be cancelled in all, a line's id for the whole of it; everything where not
 * given
 */
export function cancelLines(m: Market, order: WireOrder, totals?: readonly (string | WireLineUnits)[]): void {
  for (const line of order.lines) {
    const meant = totals?.find((one) => (typeof one === 'string' ? one : one.id) === line.id);
    if (totals && meant === undefined) continue;
    const to = typeof meant === 'object' ? Math.min(meant.quantity, line.quantity) : line.quantity;
    const more = to - (line.cancelled ?? 0);
    if (more <= 0) continue;
    line.cancelled = to;
    const listing = m.listings[line.sku];
    if (listing) listing.quantity += more;
  }
  const all = order.lines.every((l) => soldOf(l) === 0);
  const refunded = order.lines.reduce((sum, l) => sum + minorOf(l.unitPrice) * (l.cancelled ?? 0), 0);
  const whole = !all && isDispatched(order, order.dispatches ?? []);
  const asked = order.cancelRequest;
  const granted =
    asked?.state === 'open' &&
    order.lines.every((l) => {
      const to = asked.lines ? (asked.lines.find((one) => one.id === l.id)?.quantity ?? 0) : l.quantity;
      return (l.cancelled ?? 0) >= to;
    });
  touch(m, order, {
    ...(granted && { cancelRequest: { ...asked, state: 'accepted' } }),
    refunded: decimal(refunded + (all ? minorOf(order.shipping ?? '0') : 0)),
    ...(all && { status: 'cancelled' }),
    ...(whole && order.status === 'paid' && { status: 'shipped' }),
    ...((order.charges || whole) && { charges: chargesOf(m, order) }),
  });
}

/** Whether every unit that is left is in some parcel. */
const isDispatched = (order: WireOrder, dispatches: NonNullable<WireOrder['dispatches']>): boolean =>
  dispatches.length > 0 && order.lines.every((l) => dispatchedOf(order, l, dispatches) >= soldOf(l));

/** Takes a parcel's tracking number. The order is on its way once every unit left is in some parcel. */
export function dispatchParcel(
  m: Market,
  order: WireOrder,
  d: { carrier: string; tracking: string; lines?: WireLineUnits[] },
): void {
  const dispatches = [
    ...(order.dispatches ?? []),
    { carrier: d.carrier, tracking: d.tracking, ...(d.lines && { lines: d.lines }) },
  ];
  const whole = isDispatched(order, dispatches);
  const asked = order.cancelRequest;
  touch(m, order, {
    dispatches,
    ...(whole && { status: 'shipped', charges: chargesOf(m, order) }),
    ...(whole && asked?.state === 'open' && { cancelRequest: { ...asked, state: 'over' } }),
  });
}

/** Changes the state of an order and puts it on the feed. */
export function touch(m: Market, order: WireOrder, change: Partial<WireOrder>): void {
  Object.assign(order, change);
  m.feed.push(order.number);
}
