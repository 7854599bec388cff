import { optionsInWords } from '../../core/catalogue';
import type { Missing } from '../../core/checks';
import { fold } from '../../core/copy';
import { sameProblem } from '../../core/pricing';
import type { ListingState } from '../../store';
import { titleOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { isOnBench } from '../quoting/listing-standing';
import { follows, offerState, sellingNow, stateMoved } from '../quoting/offer';
import { planFor } from '../quoting/plan-choice';
import { missingOf, quoteListing, sumAsPublished } from '../quoting/quote';
import { marketOf, type Shop } from '../quoting/worth';

/** Stands for a number that is not known; lies under all that are. */
export const NONE = -2_147_483_648;

export const STATES = [
  'bench',
  'draft',
  'publishing',
  'refused',
  'live',
  'paused',
  'ended',
] as const satisfies readonly ListingState[];

/** What is true of a listing, one bit each. */
export const FLAG = {
  /** It has a price it cannot be sold at, or no price. */
  problem: 1,
  own: 2,
  linked: 4,
  /** A sale at its price loses. */
  loss: 8,
  approved: 16,
  /** Price, quantity or standing is not what the marketplace was told. */
  moves: 32,
  /** It can be quoted: marketplace and supplier are connected, its item is known. */
  quoted: 64,
} as const;

type Numbers = 'price' | 'landed' | 'profit' | 'margin' | 'stock' | 'shown' | 'units';

/**
 * What is derived of each listing, columns side by side; a listing keeps its place. Amounts in minor units of its
 * marketplace.
 */
export class Columns {
  /** Price at the marketplace, or the one it would be published at; cost, profit and margin (millionths) at it. */
  readonly numbers: Record<Numbers, Int32Array>;
  state: Uint8Array;
  flags: Uint8Array;
  /** When it moved last. */
  last: Float64Array;
  /** What its site misses; undefined of what is not on the Bench. */
  readonly missing: (readonly Missing[] | undefined)[] = [];
  /** What searches look for words in, folded; made when it is looked for first. */
  private readonly words: (string | undefined)[] = [];
  /** Whether what would be told is not what was told, where that was looked at. */
  readonly differs: (boolean | undefined)[] = [];
  private room: number;

  constructor(room: number) {
    this.room = room;
    const column = () => new Int32Array(room);
    this.numbers = {
      price: column(),
      landed: column(),
      profit: column(),
      margin: column(),
      stock: column(),
      shown: column(),
      units: column(),
    };
    this.state = new Uint8Array(room);
    this.flags = new Uint8Array(room);
    this.last = new Float64Array(room);
  }

  /** Makes room for a place. */
  reach(place: number): void {
    if (place < this.room) return;
    this.room = Math.max(place + 1, this.room * 2);
    const grown = <T extends Int32Array | Uint8Array | Float64Array>(old: T): T => {
      const fresh = new (old.constructor as new (n: number) => T)(this.room);
      fresh.set(old);
      return fresh;
    };
    for (const name of Object.keys(this.numbers) as Numbers[]) this.numbers[name] = grown(this.numbers[name]);
    this.state = grown(this.state);
    this.flags = grown(this.flags);
    this.last = grown(this.last);
  }

  /** Derives all of one listing again. Cost: one price. @param twin another with the same barcode on its marketplace */
  derive(place: number, full: FullListing, shop: Shop, twin: FullListing | null): void {
    const { numbers, state, flags, last } = this;
    const { listing, item } = full;
    const plan = planFor(shop, full);
    const quote = quoteListing(full, shop, plan);
    const onBench = isOnBench(listing) || listing.state === 'publishing';
    const sum = onBench ? (quote?.sum ?? null) : sumAsPublished(listing, quote);
    const market = marketOf(shop, listing.marketplace);
    const { published } = listing;
    numbers.price[place] = (onBench ? quote?.price : published?.price) ?? NONE;
    numbers.landed[place] = sum?.landed ?? NONE;
    numbers.profit[place] = sum?.profit ?? NONE;
    numbers.margin[place] = sum ? Math.round((sum.profit * 1_000_000) / sum.price) : NONE;
    numbers.stock[place] = item?.stock ?? NONE;
    numbers.shown[place] = published?.quantity ?? 0;
    numbers.units[place] = quote?.quantity ?? 0;
    state[place] = STATES.indexOf(listing.state);
    last[place] = listing.last?.at ?? 0;
    let bits = 0;
    if (listing.problem !== null) bits |= FLAG.problem;
    if (listing.ownPrice !== null) bits |= FLAG.own;
    if (full.source) bits |= FLAG.linked;
    if (sum && sum.profit < 0) bits |= FLAG.loss;
    if (listing.approvedAt !== null) bits |= FLAG.approved;
    if (quote) bits |= FLAG.quoted;
    if (quote && follows(listing) && published) {
      const now = sellingNow(published.price, quote, plan);
      if (
        now.price !== published.price ||
        now.quantity !== published.quantity ||
        stateMoved(published, offerState(now.quantity, plan?.stock ?? shop.settings.stock)) ||
        !sameProblem(quote.problem, listing.problem)
      )
        bits |= FLAG.moves;
    }
    flags[place] = bits;
    const missing = isOnBench(listing) && quote && market ? missingOf(full, quote, market, shop) : undefined;
    this.missing[place] =
      missing && twin
        ? [
            ...missing,
            {
              field: 'gtin',
              reason: `“${titleOf(twin)}” (${twin.listing.sku}) has the same barcode ${full.variant.gtin}.`,
            },
          ]
        : missing;
    this.words[place] = undefined;
    this.differs[place] = undefined;
  }

  /** Leaves nothing of what stood at a place. */
  clear(place: number): void {
    this.missing[place] = undefined;
    this.words[place] = undefined;
    this.differs[place] = undefined;
    this.flags[place] = 0;
  }

  /** Title, options and SKUs of a listing as words are looked for in them. */
  wordsOf(place: number, full: FullListing): string {
    this.words[place] ??= fold(
      `${titleOf(full)} ${optionsInWords(full.variant.options)} ${full.listing.sku} ${full.source?.item ?? ''}`,
    );
    return this.words[place];
  }
}
