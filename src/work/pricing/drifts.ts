import { cushionBy, type Drift, driftOf, feesBy, handlingBy, type Pair } from '../../core/drift';
import { formatMoney, formatRate } from '../../core/money';
import type { RowChange } from '../../store';
import type { Work } from '../context/work';
import { saveMarketRules, saveRules } from '../listings/rules';
import type { OrderBook } from '../order-book/order-book';
import { accountAt, dayFromNumber, IS } from '../order-book/order-columns';
import type { Said } from '../orders/actions';
import { currencyOf } from '../statements/places';
import type { TermsDraft } from './draft';

export type DriftKind = 'fees' | 'shipping' | 'goods';

/** An estimate that is not what comes of it, with its evidence and what would correct it. Amounts in the books. */
export interface DriftFound {
  readonly key: string;
  readonly kind: DriftKind;
  /** The connection. */
  readonly of: string;
  readonly name: string;
  readonly drift: Drift;
  /** The first day of the weeks in which it has held. */
  readonly since: string;
  /** When it was corrected last: only orders of later count. Null for never. */
  readonly correctedAt: number | null;
  /** Orders that are farthest off. */
  readonly examples: readonly {
    readonly order: string;
    readonly number: string;
    readonly expected: number;
    readonly actual: number;
  }[];
  /** What would be changed; null where nothing of the shop's terms is to blame. */
  readonly correction: { readonly says: string; readonly draft: TermsDraft } | null;
}

/** Days of orders that are looked at. */
const DAYS = 120;
const DAY = 86_400_000;
const EXAMPLES = 5;

interface Collected {
  readonly kind: DriftKind;
  readonly of: string;
  readonly pairs: (Pair & { readonly place: number })[];
  /** What buyers paid, in the books. */
  paid: number;
}

/**
 * Fees, shipping and goods of settled orders beside what was expected of them, for each marketplace and supplier; what
 * drifts for sure first. Orders with a return are left out, and those of before the last correction. Cost: one pass over
 * the orders.
 */
export function driftsIn(book: OrderBook): DriftFound[] {
  const c = book.all;
  const { settings, connections } = book.shop;
  const first = Math.floor(book.work.clock() / DAY) - DAYS;
  const corrected = settings.corrected ?? {};
  const found = new Map<string, Collected>();
  const put = (
    kind: DriftKind,
    of: string,
    place: number,
    expected: number,
    actual: number,
    paid: number,
  ) => {
    const key = `${kind}:${of}`;
    const at = corrected[key];
    if (at !== undefined && c.paidAt[place]! < at) return;
    const own = found.get(key) ?? { kind, of, pairs: [], paid: 0 };
    own.pairs.push({ expected, actual, day: c.day[place]!, place });
    own.paid += paid;
    found.set(key, own);
  };
  for (let place = 0; place < book.idAt.length; place++) {
    if (!book.idAt[place] || c.day[place]! < first || c.returns[place]?.length) continue;
    if (!(c.flags[place]! & IS.counted) || c.flags[place]! & IS.cancelled) continue;
    const [expected, actual] = [accountAt(c.expected, place), accountAt(c.actual, place)];
    // What was cancelled in part is expected otherwise than it was.
    if (!expected || !actual || expected.revenue !== actual.revenue) continue;
    put(
      'fees',
      c.marketplace[place]!,
      place,
      expected.fee + expected.payment,
      actual.fee + actual.payment,
      actual.revenue,
    );
    const [one, ...others] = c.sold[place] ?? [];
    if (!one?.supplier || others.some((s) => s.supplier !== one.supplier)) continue;
    put('shipping', one.supplier, place, expected.shipping, actual.shipping, actual.revenue);
    put('goods', one.supplier, place, expected.goods, actual.goods, actual.revenue);
  }
  const all = [...found].flatMap(([key, own]): DriftFound[] => {
    const drift = driftOf(own.pairs);
    const connection = connections.get(own.of);
    if (!drift || !connection) return [];
    const farthest = [...own.pairs]
      .sort((a, b) => Math.abs(b.actual - b.expected) - Math.abs(a.actual - a.expected))
      .slice(0, EXAMPLES);
    return [
      {
        ...{ key, kind: own.kind, of: own.of, name: connection.name, drift },
        since: dayFromNumber(drift.since),
        correctedAt: corrected[key] ?? null,
        examples: farthest.map(({ place, expected, actual }) => {
          const order = book.idAt[place]!;
          return { order, number: order.slice(order.indexOf(':') + 1), expected, actual };
        }),
        correction: drift.sure ? correctionFor(book, own, drift) : null,
      },
    ];
  });
  const worth = ({ drift }: DriftFound) => Math.abs(drift.actual - drift.expected);
  return all.sort((a, b) => Number(b.drift.sure) - Number(a.drift.sure) || worth(b) - worth(a));
}

/** What of the shop's terms would have expected what came. */
function correctionFor(book: OrderBook, own: Collected, drift: Drift): DriftFound['correction'] {
  const { settings, connections, rates } = book.shop;
  const c = connections.get(own.of)!;
  if (own.kind === 'fees' && c.role === 'marketplace') {
    const fees = feesBy(drift, own.paid, c.site.fees.rules);
    if (!fees) return null;
    const site = { ...c.site, fees: { ...c.site.fees, rules: fees.rules } };
    return {
      says: `${fees.by > 0 ? '+' : '−'}${formatRate(Math.abs(fees.by))} on the sale fee of ${c.name}`,
      draft: { connection: { id: c.id, terms: { site } } },
    };
  }
  if (own.kind === 'shipping' && c.role === 'supplier') {
    const books = (drift.actual - drift.expected) / drift.orders;
    const rate = c.currency === rates.books ? 1 : (rates.by.get(c.currency)?.value ?? 0) / 100_000_000;
    const handling = rate > 0 ? handlingBy(books / rate, c.costs ?? null) : null;
    if (!handling) return null;
    const { by } = handling;
    return {
      says: `${formatMoney({ minor: Math.abs(by), currency: c.currency })} ${by > 0 ? 'more' : 'less'} for each order to ${c.name}`,
      draft: { connection: { id: c.id, terms: { costs: handling.costs } } },
    };
  }
  if (own.kind === 'goods' && currencyOf(c) !== settings.currency) {
    const cushion = cushionBy(drift, settings.cushion);
    if (cushion === null) return null;
    return {
      says: `a cushion of ${formatRate(cushion)} on exchange rates instead of ${formatRate(settings.cushion)}`,
      draft: { settings: { cushion } },
    };
  }
  return null;
}

/**
 * Corrects an estimate, as one named change that prices follow and that can be undone; from then on only later orders are
 * counted for it.
 * @param says what was shown and agreed to: where it is another by now, nothing is changed
 */
export async function correctDrift(
  book: OrderBook,
  work: Work,
  key: string,
  says: string,
): Promise<Said & { readonly listings?: number }> {
  const found = driftsIn(book).find((d) => d.key === key);
  if (found?.correction?.says !== says)
    return { ok: false, reason: 'It is another by now. Look at it again before you correct it.' };
  const { connection, settings } = found.correction.draft;
  const noted = { ...book.shop.settings.corrected, [key]: work.clock() };
  const name = `Corrected: ${says}`;
  const settingsRow: RowChange = { table: 'settings', id: 'shop', set: { ...settings, corrected: noted } };
  if (connection && 'site' in connection.terms && connection.terms.site) {
    const c = book.shop.connections.get(connection.id);
    if (c?.role !== 'marketplace') return { ok: false, reason: 'This marketplace is not there any more.' };
    const { site } = connection.terms;
    const set = c.service ? { fees: { of: 'seller', table: site.fees } as const } : { site };
    const { prices } = await saveMarketRules(work, c.id, set, [settingsRow], name);
    return { ok: true, listings: prices };
  }
  const rows: RowChange[] = [settingsRow];
  if (connection) rows.unshift({ table: 'connections', id: connection.id, set: connection.terms });
  return { ok: true, listings: await saveRules(work, rows, name) };
}
