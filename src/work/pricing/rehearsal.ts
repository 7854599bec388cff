import { convert, factorOf } from '../../core/money';
import { soldIn } from '../../core/orders';
import { landedOf, profitAt } from '../../core/pricing';
import {
  type Past,
  type PastMove,
  type PastSale,
  type Rehearsed,
  rehearse,
  type Trial,
  type TriedDay,
  totalsOf,
} from '../../core/rehearsal';
import { addDays, dayOf } from '../../core/units';
import { type EarlierValues, type HistoryRow, historyShareOf, itemKey, type Listing } from '../../store';
import type { Work } from '../context/work';
import { countSale, letRest } from '../listings/demand';
import { caughtUp } from '../memory/assortment';
import { titleOf } from '../quoting/copy';
import type { FullListing } from '../quoting/full-listing';
import { calendarNow } from '../quoting/plan-choice';
import { listingOf } from '../quoting/promised';
import { solveListing } from '../quoting/quote';
import { marketOf, type Shop } from '../quoting/worth';
import { endOf, InputsOfThen } from './inputs-of-then';
import {
  DAY,
  nameOf,
  type RehearsalAnswer,
  type RehearsalQuestion,
  type RehearsedSaleRow,
  TRIALS,
  type TrialName,
} from './rehearsed';

const numberOf = (day: string) => Date.parse(`${day}T00:00:00Z`) / DAY;

/** A rehearsal that was run, kept to look into its days. */
export class Rehearsal {
  private constructor(
    readonly answer: RehearsalAnswer,
    private readonly listings: readonly FullListing[],
    private readonly tried: Readonly<Record<TrialName, readonly TriedDay[]>>,
    private readonly currencyOf: (full: FullListing) => string,
  ) {}

  /**
   * Tries the saved plans and a draft on recorded days, beside what happened. Amounts sold at another price keep the cost of
   * then, as it is on record. @param tell hears how much is done, and says whether to stop
   * @returns null where it was stopped
   */
  static async run(
    work: Work,
    { draft, days, fewer }: RehearsalQuestion,
    tell: (done: number, total: number) => Promise<boolean>,
  ): Promise<Rehearsal | null> {
    const assortment = await caughtUp(work);
    const now: Shop = { ...assortment.shop, promised: new Map() };
    const { zone, currency } = now.settings;
    const today = dayOf(work.clock(), zone);
    const [from, to] = [addDays(today, -days), addDays(today, -1)];
    const listings = [...assortment.all()].flatMap(([, f]) =>
      f.item && f.listing.state !== 'bench' ? [f] : [],
    );
    const inputs = await InputsOfThen.read(work, now, numberOf(from));
    const places = new Map(listings.map((f, place) => [f.listing.id, place]));
    const { sales, orders, left } = await salesOf(work, places, zone, from, to);
    const past: Past = {
      from: numberOf(from),
      to: numberOf(to),
      moves: await movesOf(work, listings, numberOf(from), zone, inputs.earlier),
      sales,
    };
    const rules: Record<'saved' | 'draft', Shop> = {
      saved: now,
      draft: { ...now, plans: draft.plans, settings: { ...now.settings, stock: draft.stock } },
    };
    const trialOf = (shop: Shop, happened: boolean): Trial => {
      const at = (day: number): Shop => ({ ...shop, ...inputs.on(day), at: endOf(day) });
      let dated = { day: past.from, shop: at(past.from) };
      const onDay = (day: number) => {
        if (dated.day !== day) dated = { day, shop: at(day) };
        return dated.shop;
      };
      let today = past.from;
      const follows = !happened && shop.plans.some((p) => p.on && p.demand);
      /** Cost and stock of each listing now, and how far demand moved its price. */
      const moved: (PastMove | undefined)[] = [];
      const demands = new Map<number, Listing['demand']>();
      const then = (place: number): FullListing => {
        const full = listings[place]!;
        const { cost, stock } = moved[place] ?? full.item!;
        const listing = {
          ...inputs.earlier.rowAt('listings', full.listing, endOf(today)),
          demand: demands.get(place) ?? null,
        };
        return { ...full, listing, item: { ...full.item!, cost, stock, gone: false, leap: null } };
      };
      return {
        ...(follows && {
          rested: (day: number) =>
            listings.flatMap((_, place) => {
              const rested = letRest(then(place), onDay(day), day * DAY);
              if (rested) demands.set(place, rested.set.demand);
              return rested?.says ? [place] : [];
            }),
          sold: (place: number, units: number, price: number, day: number) => {
            const counted = countSale(then(place), onDay(day), units, price, (day + 1) * DAY - 1);
            if (counted) demands.set(place, counted.set.demand);
            return Boolean(counted?.says);
          },
        }),
        fewer: happened ? 0 : fewer,
        turns: (day) => {
          today = day;
          return (
            inputs.on(day) !== inputs.on(day - 1) ||
            (!happened && calendarNow(onDay(day)) !== calendarNow(at(day - 1)))
          );
        },
        quote: (place, move) => {
          moved[place] = move;
          return quotedThen(then(place), onDay(today), happened);
        },
      };
    };
    const tried: Record<TrialName, TriedDay[]> = { happened: [], saved: [], draft: [] };
    const runs = {
      happened: rehearse(past, trialOf(rules.saved, true)),
      saved: rehearse(past, trialOf(rules.saved, false)),
      draft: rehearse(past, trialOf(rules.draft, false)),
    };
    for (let done = 0; done < days; done++) {
      for (const name of TRIALS) {
        const day = runs[name].next();
        if (!day.done) tried[name].push(day.value);
        if (await tell(done * TRIALS.length + TRIALS.indexOf(name) + 1, days * TRIALS.length)) return null;
      }
    }
    const each = <T>(make: (name: TrialName) => T) =>
      Object.fromEntries(TRIALS.map((name) => [name, make(name)])) as Record<TrialName, T>;
    const answer: RehearsalAnswer = {
      ...{ currency, from, to, orders, left, knownFrom: inputs.knownFrom(zone) },
      totals: each((name) => totalsOf(tried[name])),
      days: tried.saved.map((d, k) => ({
        day: nameOf(d.day),
        ...each((name) => tried[name][k]?.profit ?? 0),
      })),
    };
    return new Rehearsal(
      answer,
      listings,
      tried,
      (full) => marketOf(now, full.listing.marketplace)?.site.currency ?? currency,
    );
  }

  /** The sales of a day, those first that differ most. */
  day(name: string): RehearsedSaleRow[] {
    const k = this.answer.days.findIndex((d) => d.day === name);
    const [happened, saved, draft] = TRIALS.map((trial) => this.tried[trial][k]?.sales ?? []);
    return (saved ?? [])
      .map((sale, i): RehearsedSaleRow => {
        const full = this.listings[sale.listing]!;
        const one = { happened: happened![i]!, saved: sale, draft: draft![i]! };
        return {
          key: `${sale.order} ${i}`,
          title: titleOf(full),
          sku: full.listing.sku,
          listing: full.listing.id,
          currency: this.currencyOf(full),
          units: one.happened.milli / 1000,
          prices: { happened: one.happened.price, saved: sale.price, draft: one.draft.price },
          profits: { happened: one.happened.profit, saved: sale.profit, draft: one.draft.profit },
        };
      })
      .sort(
        (a, b) =>
          Math.abs(b.profits.draft - b.profits.happened) - Math.abs(a.profits.draft - a.profits.happened),
      );
  }
}

/** A listing at the cost and stock of then. */
function quotedThen(full: FullListing, shop: Shop, happened: boolean): Rehearsed | null {
  const quote = solveListing(full, shop);
  const market = marketOf(shop, full.listing.marketplace);
  const books = market && factorOf(shop.rates, market.site.currency, shop.settings.currency);
  if (!quote?.costs || !quote.deductions || !books) return null;
  const { costs, deductions } = quote;
  const landed = landedOf(costs);
  return {
    price: happened || quote.problem !== null ? null : quote.price,
    shown: happened ? full.item!.stock : quote.quantity,
    profitAt: (price) => {
      const earned = profitAt(price, landed, deductions);
      return Math.sign(earned) * convert(Math.abs(earned), books);
    },
  };
}

/** What was sold on some days, in their order. */
async function salesOf(
  { db }: Work,
  places: ReadonlyMap<string, number>,
  zone: string,
  from: string,
  to: string,
): Promise<{ sales: PastSale[]; orders: number; left: number }> {
  const sales: PastSale[] = [];
  let [orders, left] = [0, 0];
  await db.orders
    .where('paidAt')
    .above(Date.parse(from) - DAY)
    .each((order) => {
      const day = dayOf(order.paidAt, zone);
      if (day < from || day > to) return;
      orders++;
      for (const line of order.lines) {
        const units = soldIn(line);
        if (units === 0) continue;
        const listing = places.get(listingOf(order, line));
        if (listing === undefined) left++;
        else
          sales.push({
            ...{ day: numberOf(day), listing, units, price: line.unitPrice },
            order: order.number,
          });
      }
    });
  return { sales: sales.sort((a, b) => a.day - b.day), orders, left };
}

/** Cost and stock of each listing's item from a day on: what was recorded, the last of each day; and the days on which its market price moved. */
async function movesOf(
  { db }: Work,
  listings: readonly FullListing[],
  from: number,
  zone: string,
  earlier: EarlierValues,
): Promise<PastMove[][]> {
  const keys = new Map<string, number[]>();
  for (const [place, { source }] of listings.entries()) {
    const key = itemKey(source!.supplier, source!.item);
    const own = keys.get(key);
    if (own) own.push(place);
    else keys.set(key, [place]);
  }
  const moves: PastMove[][] = listings.map(() => []);
  const suppliers = new Set(listings.map((f) => f.source!.supplier));
  for (const supplier of suppliers) {
    const buckets = new Set(
      listings.flatMap((f) => (f.source!.supplier === supplier ? [historyShareOf(f.source!.item)] : [])),
    );
    for (const bucket of buckets) {
      const days: HistoryRow[] = await db.history
        .where('[supplier+bucket+day]')
        .between([supplier, bucket, from - 1], [supplier, bucket, Number.MAX_SAFE_INTEGER])
        .toArray();
      for (const d of days)
        for (let k = 0; k < d.sku.length; k++)
          for (const place of keys.get(itemKey(supplier, d.sku[k]!)) ?? []) {
            const own = moves[place]!;
            const day = numberOf(dayOf(d.at[k]!, zone));
            if (!own.length) own.push({ day: from, cost: d.costBefore[k]!, stock: d.stockBefore[k]! });
            const move = { day: Math.max(day, from), cost: d.cost[k]!, stock: d.stock[k]! };
            if (own.at(-1)!.day === move.day) own[own.length - 1] = move;
            else own.push(move);
          }
    }
  }
  // What did not move on record was all the time as it is now.
  for (const [place, own] of moves.entries()) {
    const { cost, stock } = listings[place]!.item!;
    if (!own.length) own.push({ day: from, cost, stock });
  }
  const places = new Map(listings.map((f, place) => [f.listing.id, place]));
  for (const { at, id } of earlier.times.get('listings') ?? []) {
    const own = moves[places.get(id) ?? -1];
    const day = numberOf(dayOf(at, zone));
    if (!own || own.some((move) => move.day === day) || day <= from) continue;
    const before = own.findLastIndex((move) => move.day < day);
    own.splice(before + 1, 0, { ...own[before]!, day });
  }
  return moves;
}
