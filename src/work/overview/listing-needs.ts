import { formatMoney } from '../../core/money';
import { alwaysSaidOf, type ListingProblem } from '../../core/pricing';
import { countOf, formatCount } from '../../core/units';
import type { ItemRow, Order, OutboxRow } from '../../store';
import type { ListingNeed } from '../memory/need';
import { titleOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { quoteListing, sumAsPublished } from '../quoting/quote';
import { marketOf, problemOf, type Shop } from '../quoting/worth';
import { type Caused, HOUR, type Need } from './need';

/** A listing that needs a person, with the inputs of the sentence. */
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

/** A marketplace’s message without names and numbers, which differ from listing to listing. */
const unnamed = (reason: string): string => reason.replace(/“[^”]*”/g, '“…”').replace(/[\d][\d.,]*/g, '0');

/** Problems of one key are told together. */
function keyOf(problem: ListingProblem): string {
  if (problem.why === 'unknown') return `unknown:${problem.what.is}`;
  return problem.why === 'refused' ? `refused:${unnamed(problem.said)}` : problem.why;
}

/** A search line that finds listings with the same problem. */
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

/** The need of a message about a closed order that a marketplace refused: no list shows it. */
export function refusalNeed(row: OutboxRow, open: readonly Order[], currency: string): Need | null {
  if (row.kind !== 'dispatch' && row.kind !== 'cancel' && row.kind !== 'decline' && row.kind !== 'message')
    return null;
  const { order } = row;
  if (row.kind !== 'message' && row.kind !== 'decline' && open.some((o) => o.id === order)) return null;
  return {
    id: `outbox:${row.id}`,
    left: 10 * HOUR,
    stake: 0,
    currency,
    what:
      row.kind === 'cancel'
        ? 'A cancellation was refused'
        : row.kind === 'decline'
          ? `The answer to the buyer of ${row.body.number} was refused`
          : row.kind === 'message'
            ? `A message to the buyer of ${row.body.number} was refused`
            : 'A parcel was not accepted',
    why: row.says ?? '',
    step: 'Open the order',
    href: `/orders?row=${encodeURIComponent(order)}`,
  };
}

/** Parcels that are on their way too long, before buyers ask. @param n of how many orders */
export const overdueNeed = (n: number, shop: Shop): Need | null =>
  n === 0
    ? null
    : {
        id: 'overdue',
        left: 16 * HOUR,
        stake: 0,
        currency: shop.settings.currency,
        what: `${countOf(n, 'order')} ${n === 1 ? 'has' : 'have'} an overdue parcel`,
        why: 'They are on their way longer than nine in ten of their suppliers’ parcels were, or twice what is promised.',
        step: 'Look at them',
        href: '/orders?q=is:overdue',
      };

/** Parcels that marketplaces are told of by a person's word. @param n how many wait for it */
export const parcelsNeed = (n: number, shop: Shop): Need | null =>
  n === 0
    ? null
    : {
        id: 'parcels',
        left: 8 * HOUR,
        stake: 0,
        currency: shop.settings.currency,
        what: `${countOf(n, 'parcel')} wait${n === 1 ? 's' : ''} for your word`,
        why: 'Their marketplaces are told of them when you say so.',
        step: 'Look at them',
        href: '/orders?q=is:shipped',
      };

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
