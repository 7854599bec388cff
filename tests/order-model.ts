import type { Market } from '../stand-ins/marketplace/market';
import type { Warehouse } from '../stand-ins/supplier/warehouse';

/** What may and must be true of one line, by the books of the outside alone. */
export interface LineModel {
  readonly order: string;
  readonly line: string;
  readonly sold: number;
  /** Units whose sale the marketplace cancelled. */
  readonly cancelled: number;
  /** Units that suppliers were sent for and did not cancel, and those of them in parcels. */
  readonly bought: number;
  readonly sent: number;
  /** Units that the marketplace was told to be in parcels. */
  readonly told: number;
}

const sum = <T>(all: readonly T[], of: (one: T) => number): number => all.reduce((n, one) => n + of(one), 0);

/** The order that a reference was made for. */
const orderOf = (reference: string): string => reference.replace(/#\d+$/, '');

interface Count {
  readonly line?: string;
  readonly quantity: number;
}
const ofLine = (counts: readonly Count[], line: string): number =>
  sum(counts, (c) => (c.line === line ? c.quantity : 0));

type Bought = Warehouse['purchases'][number];

/** Units of a line in a purchase's parcels; one that names nothing holds all that was left of it. */
function sentOf(p: Bought, line: string): number {
  const named = sum(p.parcels, (one) => ofLine(one.lines ?? [], line));
  const whole = p.parcels.some((one) => !one.lines);
  return whole ? ofLine(p.lines, line) - ofLine(p.cancelled, line) : named;
}

/**
 * The outside as it stands, unit by unit: what each marketplace sold, cancelled and was told, what suppliers have. It
 * knows nothing of how Sampan keeps orders. Goods come one piece to a unit.
 */
export function modelOf(
  markets: readonly Market[],
  houses: Readonly<Record<string, Warehouse>>,
): LineModel[] {
  const byOrder = new Map<string, Bought[]>();
  for (const house of Object.values(houses))
    for (const p of house.purchases) {
      const id = orderOf(p.reference);
      byOrder.set(id, [...(byOrder.get(id) ?? []), p]);
    }
  return markets.flatMap((market) =>
    market.orders.flatMap((sale) => {
      const order = `${market.site}:${sale.number}`;
      const purchases = byOrder.get(order) ?? [];
      return sale.lines.map((l) => ({
        order,
        line: l.id,
        sold: l.quantity,
        cancelled: l.cancelled ?? 0,
        bought: sum(purchases, (p) => ofLine(p.lines, l.id) - ofLine(p.cancelled, l.id)),
        sent: sum(purchases, (p) => sentOf(p, l.id)),
        told: sum(sale.dispatches ?? [], (d) =>
          sum(d.lines ?? [], (one) => (one.id === l.id ? one.quantity : 0)),
        ),
      }));
    }),
  );
}

/** What must never be, at any moment: each in words. */
export function neverIn(m: LineModel): string[] {
  const wrongs: string[] = [];
  const never = (is: boolean, what: string) => {
    if (is) wrongs.push(`${m.line}: ${what} (${JSON.stringify(m)})`);
  };
  never(m.bought > m.sold, 'more units are bought than were sold');
  never(m.sent > m.bought, 'more units are sent than are bought');
  never(m.told > m.sent, 'the marketplace was told of units that were not sent');
  never(m.told > m.sold, 'the marketplace was told of more units than it sold');
  return wrongs;
}

/** What must be once everybody was heard. @param knownToCome units of cancelled sales that a person was told of */
export function atRest(m: LineModel, knownToCome: number): string[] {
  const wrongs: string[] = [];
  const must = (is: boolean, what: string) => {
    if (!is) wrongs.push(`${m.line}: ${what} (${JSON.stringify({ ...m, knownToCome })})`);
  };
  const wanted = m.sold - m.cancelled;
  must(m.bought >= wanted, 'a unit that is sold was not bought');
  must(m.told >= wanted, 'the marketplace was not told of a unit that was sent');
  must(m.bought - wanted <= knownToCome, 'a unit that nobody wants stays bought, and nobody was told');
  return wrongs;
}
