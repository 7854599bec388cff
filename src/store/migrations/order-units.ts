import type {
  Address,
  Case,
  LineUnits,
  OrderLine,
  Parcel,
  Purchase,
  PurchaseLine,
  Statement,
} from '../../core/orders';
import type { Order, UnclaimedRow } from '../orders';
import type { OutboxRow } from '../outbox';

/** A line, a purchase and an order as they were kept while what is the buyer's stood in them. */
type TextLine = Omit<OrderLine, 'personalisation'> & { readonly personalisation: string | null };
type TextPurchaseLine = Omit<PurchaseLine, 'personalisation'> & { readonly personalisation: string | null };
type WithTexts<P> = P extends unknown
  ? Omit<P, 'lines'> & { readonly lines: readonly TextPurchaseLine[] }
  : never;
type TextPurchase = WithTexts<Purchase>;
export interface OrderWithTexts extends Omit<Order, 'lines' | 'purchases' | 'address' | 'country' | 'slip'> {
  readonly lines: readonly TextLine[];
  readonly purchases: readonly TextPurchase[];
  readonly buyer: { readonly name: string; readonly email: string };
  readonly address: Address;
  readonly slip: string | null;
}

/** An order as it was kept before its units had places of their own: lines were bought, sent and cancelled as a whole. */
interface WholeLines extends Omit<OrderWithTexts, 'lines' | 'purchases' | 'cases'> {
  readonly lines: readonly Omit<TextLine, 'cancelled'>[];
  readonly notice: string | null;
  readonly cancelling: {
    readonly reason: string;
    readonly at: number;
    readonly lines: readonly string[];
  } | null;
  readonly purchases: readonly WholePurchase[];
}

interface WholePurchase
  extends Pick<Purchase, 'reference' | 'supplier' | 'lane' | 'at' | 'currency' | 'expected'> {
  readonly state: Purchase['state'] | 'cancelled';
  readonly lines: readonly {
    readonly line: string;
    readonly item: string;
    readonly quantity: number;
    readonly personalisation: string | null;
    readonly cancelledAt: number | null;
  }[];
  readonly number: string | null;
  readonly acceptedAt: number | null;
  readonly charged: { readonly goods: number; readonly shipping: number } | null;
  readonly parcels: readonly (Omit<Parcel, 'inside'> & { readonly lines: readonly string[] | null })[];
  readonly recall: {
    readonly by: 'marketplace' | 'seller';
    readonly reason: string;
    readonly at: number;
    readonly lines: readonly string[];
    readonly state: 'asked' | 'agreed' | 'refused';
  } | null;
}

const isOfWholeLines = (order: OrderWithTexts | WholeLines): order is WholeLines => !('cases' in order);

/** An order with its units told apart; one that has them already stays as it is. */
export function withUnits(order: OrderWithTexts | WholeLines): OrderWithTexts {
  if (!isOfWholeLines(order)) return order;
  const { notice, cancelling, purchases, lines, ...rest } = order;
  const quantity = new Map(lines.map((l) => [l.id, l.quantity]));
  const whole = (ids: readonly string[]): LineUnits[] =>
    ids.map((line) => ({ line, units: quantity.get(line) ?? 1 }));
  const cases: Case[] = purchases.flatMap(({ recall, supplier, reference }, k): Case[] => {
    if (!recall) return [];
    const units = whole(recall.lines);
    const seenAt = recall.state !== 'asked' && notice === null ? recall.at : null;
    return [
      {
        ...{ id: `asked back:${supplier}:${reference}:${k + 1}`, at: recall.at, seenAt },
        ...{ kind: 'asked back', by: recall.by, reason: recall.reason, supplier, reference, units },
        back: recall.state === 'agreed' ? units : [],
        late: recall.state === 'refused' ? units : [],
        why: recall.state === 'refused' ? { by: 'supplier', says: '' } : null,
      },
    ];
  });
  if (cancelling)
    cases.push({
      ...{ id: 'cancellation:1', at: cancelling.at, seenAt: null, kind: 'cancellation' },
      ...{ reason: cancelling.reason, totals: whole(cancelling.lines), cancelled: null },
    });
  if (notice !== null && !cases.some((c) => c.kind === 'asked back' && (c.back.length || c.late.length)))
    cases.push({ id: 'note:1', at: order.paidAt, seenAt: null, kind: 'note', says: notice });
  return {
    ...rest,
    lines: lines.map((l) => ({ ...l, cancelled: l.cancelledAt === null ? 0 : l.quantity })),
    purchases: purchases.map((p) => purchaseWithUnits(p, quantity)),
    cases,
  };
}

function purchaseWithUnits(p: WholePurchase, quantity: ReadonlyMap<string, number>): TextPurchase {
  const lines = p.lines.map(({ line, item, quantity: pieces, personalisation, cancelledAt }) => {
    const sold = quantity.get(line) ?? pieces;
    const units = pieces % sold === 0 ? sold : pieces;
    const calledOff = cancelledAt !== null || p.state === 'cancelled' ? units : 0;
    return { line, item, units, pack: pieces / units, personalisation, calledOff };
  });
  const { reference, supplier, lane, at, currency, expected } = p;
  const base = { reference, supplier, lane, currency, expected, at };
  if (p.state !== 'accepted' && p.state !== 'cancelled')
    return { ...base, state: p.state, lines: lines.map((l) => ({ ...l, calledOff: 0 })) };
  const named = new Set(p.parcels.flatMap((one) => one.lines ?? []));
  const inside = (ids: readonly string[] | null): LineUnits[] =>
    lines.flatMap((l) =>
      (ids ? ids.includes(l.line) : !named.has(l.line)) && l.calledOff === 0
        ? [{ line: l.line, units: l.units }]
        : [],
    );
  return {
    ...base,
    state: 'accepted',
    lines,
    number: p.number ?? reference,
    acceptedAt: p.acceptedAt ?? at,
    charged: p.charged,
    parcels: p.parcels.map(({ lines: ids, carrier, tracking, shippedAt, deliveredAt, toldAt }) => ({
      ...{ carrier, tracking, shippedAt, deliveredAt },
      inside: inside(ids),
      toldAt,
    })),
    revision: null,
  };
}

interface WholeCount {
  readonly sku: string;
  readonly quantity: number;
}

/** A statement as it was kept before suppliers named lines. */
interface OldStatement extends Omit<Statement, 'lines' | 'parcels' | 'cancelled' | 'charge' | 'revision'> {
  readonly lines: readonly WholeCount[];
  readonly cancelled: readonly WholeCount[];
  readonly goods: number;
  readonly shipping: number;
  readonly parcels: readonly (Omit<Statement['parcels'][number], 'lines'> & {
    readonly lines: readonly WholeCount[] | null;
  })[];
}

/** What a supplier said of an order that is not known here, in the form of now. */
export function statedByLine(row: UnclaimedRow): UnclaimedRow {
  const said = row.said as OldStatement | Statement;
  if (!('goods' in said)) return row;
  const { goods, shipping, ...rest } = said;
  const counts = (some: readonly WholeCount[]) => some.map((c) => ({ line: null, ...c }));
  const stated: Statement = {
    ...rest,
    revision: null,
    charge: { goods, shipping },
    lines: counts(said.lines),
    cancelled: counts(said.cancelled),
    parcels: said.parcels.map((p) => ({ ...p, lines: p.lines && counts(p.lines) })),
  };
  return { ...row, said: stated };
}

/** What is told of an order, with its units. @param order as it is now; undefined where it is not there any more */
export function toldByUnits(row: OutboxRow, order: OrderWithTexts | undefined): OutboxRow {
  const quantityOf = (id: string) => order?.lines.find((l) => l.id === id)?.quantity ?? 1;
  const whole = (ids: readonly string[]) => ids.map((line) => ({ line, units: quantityOf(line) }));
  const old = (row.body as { lines?: readonly string[] | null }).lines;
  if (row.kind === 'dispatch' && !('inside' in row.body)) {
    const body = row.body as OutboxRow<'dispatch'>['body'];
    return { ...row, body: { ...body, inside: whole(old ?? order?.lines.map((l) => l.id) ?? []) } };
  }
  if (row.kind === 'cancel' && !('totals' in row.body)) {
    const body = row.body as OutboxRow<'cancel'>['body'];
    return { ...row, body: { ...body, totals: old ? whole(old) : null } };
  }
  if (row.kind === 'take back' && row.body.lines?.some((l) => l.line === undefined)) {
    const lines = row.body.lines.map((l) => {
      const own = order?.purchases
        .find((p) => p.supplier === row.connection && p.reference === row.body.reference)
        ?.lines.find((one) => one.item === l.sku);
      return { ...l, line: own?.line ?? l.sku };
    });
    return { ...row, body: { ...row.body, lines } };
  }
  return row;
}
