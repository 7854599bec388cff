import type { WireFee, WireKnownListing, WireListing, WireOffer, WireOrder } from '../../src/connect/wire';
import type { Chance } from '../random';
import { UK_SITE } from './site';

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

/** All that the marketplace remembers. */
export interface Market {
  listings: Record<string, LiveListing>;
  orders: WireOrder[];
  /** Order numbers in the order in which they changed. */
  feed: string[];
  keys: Record<string, { body: string; number: string }>;
  codes: Record<string, { challenge: string; redirect: string }>;
  tokens: string[];
  issued: number;
}

export function openMarket(): Market {
  return { listings: {}, orders: [], feed: [], keys: {}, codes: {}, tokens: [], issued: 20_000 };
}

const minorOf = (amount: string) => Math.round(Number(amount) * 100);
const decimal = (minor: number) => (minor / 100).toFixed(2);
const isAmount = (text: unknown): text is string => typeof text === 'string' && /^\d{1,7}\.\d{2}$/.test(text);

/** What is wrong with a listing; an empty list takes it. */
export function listingErrors(listing: WireListing): { field: string; reason: string }[] {
  const errors: { field: string; reason: string }[] = [];
  const category = UK_SITE.categories.find((c) => c.id === listing.category);
  if (!listing.title) errors.push({ field: 'title', reason: 'A title is needed.' });
  if ([...(listing.title ?? '')].length > UK_SITE.titleLimit)
    errors.push({ field: 'title', reason: `At most ${UK_SITE.titleLimit} characters.` });
  if (/[<>]/.test(listing.title ?? '')) errors.push({ field: 'title', reason: 'No markup in a title.' });
  const banned = UK_SITE.bannedWords.find((word) =>
    new RegExp(`\\b${word}\\b`, 'i').test(listing.title ?? ''),
  );
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
  return errors;
}

export function putListing(m: Market, listing: WireListing): LiveListing {
  const before = Object.hasOwn(m.listings, listing.sku) ? m.listings[listing.sku] : undefined;
  const made = {
    ...listing,
    id: before?.id ?? `PL${String(Object.keys(m.listings).length + 1).padStart(6, '0')}`,
    revision: (before?.revision ?? 0) + 1,
  };
  m.listings[listing.sku] = made;
  return made;
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
const TOWNS = [
  ['Leeds', 'LS8 4QX'],
  ['Cardiff', 'CF11 9ZB'],
  ['York', 'YO24 1ND'],
  ['Bath', 'BA1 5TT'],
  ['Truro', 'TR1 2JH'],
  ['Perth', 'PH1 5WA'],
  ['Derby', 'DE22 3LP'],
  ['Ely', 'CB7 4HU'],
  ['Kendal', 'LA9 6BT'],
  ['Norwich', 'NR2 3DG'],
] as const;

export interface SaleWish {
  sku?: string;
  quantity?: number;
  personalised?: boolean;
  badAddress?: boolean;
}

/** A buyer buys one or two live listings; lowers the shown quantities. Null where nothing is for sale. */
export function sell(m: Market, luck: Chance, at: number, wish: SaleWish = {}): WireOrder | null {
  const live = Object.values(m.listings).filter(
    (l) =>
      l.state === 'live' &&
      l.quantity > 0 &&
      (!l.older || l.sku === wish.sku) &&
      (!wish.sku || l.sku === wish.sku),
  );
  if (!live.length) return null;
  const chosen = new Set([luck.pick(live)]);
  if (!wish.sku && luck.next() < 0.15) chosen.add(luck.pick(live));
  const [town, postcode] = luck.pick(TOWNS);
  const name = `${luck.pick(FIRST)} ${luck.pick(LAST)}`;
  const number = `PW-${++m.issued}`;
  const order: WireOrder = {
    number,
    status: 'paid',
    currency: 'GBP',
    paidAt: new Date(at).toISOString(),
    shipBy: new Date(at + 48 * HOUR).toISOString(),
    buyer: { name, email: `${name.toLowerCase().replace(' ', '.')}@mail.example` },
    shipTo: {
      name,
      line1: `${luck.whole(1, 148)} ${luck.pick(STREETS)}`,
      town,
      postcode: wish.badAddress ? postcode.slice(0, 3) : postcode,
      country: 'GB',
    },
    lines: [...chosen].map((listing, i) => {
      const quantity = Math.min(wish.quantity ?? (luck.next() < 0.15 ? 2 : 1), listing.quantity);
      listing.quantity -= quantity;
      return {
        id: `${number}-${i + 1}`,
        sku: listing.sku,
        title: listing.title,
        quantity,
        unitPrice: listing.price,
        ...(wish.personalised && i === 0 && { personalisation: `For ${luck.pick(FIRST)}, clear skies` }),
      };
    }),
  };
  m.orders.push(order);
  m.feed.push(number);
  return order;
}

/** One fee on one amount: bands by category, least and most, and the fixed part; halves rounded up. */
function feeOn(fee: WireFee, category: string, amount: number): number {
  const half = (n: number) => Math.floor(n + 0.5);
  const { tax } = UK_SITE;
  const rate = Number(tax.rate) / 100;
  const base =
    tax.model === 'added' && fee.onTax
      ? amount + half(amount * rate)
      : tax.model === 'inside' && !fee.onTax
        ? amount - half((amount * rate) / (1 + rate))
        : amount;
  let from = 0;
  let part = 0;
  for (const band of fee.bands?.[category] ?? fee.bands?.['*'] ?? []) {
    const to = band.upTo === null ? base : Math.min(base, minorOf(band.upTo));
    if (to > from) part += (to - from) * Math.round(Number(band.rate) * 10);
    from = Math.max(from, to);
  }
  const share = Math.max(half(part / 1000), fee.least ? minorOf(fee.least) : 0);
  return Math.min(share, fee.most ? minorOf(fee.most) : share) + (fee.fixed ? minorOf(fee.fixed) : 0);
}

/** What Pennywharf takes of an order, as it stands in its fee table. */
export function chargeOf(m: Market, order: WireOrder): { fee: string; payment: string } {
  const sums = { fee: 0, payment: 0 };
  const total = order.lines.reduce((sum, l) => sum + minorOf(l.unitPrice) * l.quantity, 0);
  for (const fee of UK_SITE.fees) {
    if (fee.optional) continue;
    const to = fee.kind === 'payment' ? 'payment' : 'fee';
    if (fee.per === 'order') sums[to] += feeOn(fee, '*', total);
    else
      for (const line of order.lines)
        sums[to] +=
          feeOn(fee, m.listings[line.sku]?.category ?? '*', minorOf(line.unitPrice)) * line.quantity;
  }
  return { fee: decimal(sums.fee), payment: decimal(sums.payment) };
}

/** Ends a sale: the buyer is refunded, the quantities shown rise again. */
export function callOffSale(m: Market, order: WireOrder): void {
  for (const line of order.lines) if (m.listings[line.sku]) m.listings[line.sku]!.quantity += line.quantity;
  touch(m, order, { status: 'cancelled' });
}

/** Changes the state of an order and puts it on the feed. */
export function touch(m: Market, order: WireOrder, change: Partial<WireOrder>): void {
  Object.assign(order, change);
  m.feed.push(order.number);
}
