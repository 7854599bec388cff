import { activeOf, isAccepted, livingIn, type OrderState, type Purchase } from '../orders';
import type { Instant } from '../units';

/** Names an item of a supplier among all items. */
export const itemKey = (supplier: string, item: string): string => `${supplier}:${item}`;

/** What an order has of one purchase at a supplier. */
interface OnItsWay {
  readonly supplier: string;
  /** Null while the supplier has not accepted it. */
  readonly acceptedAt: Instant | null;
  readonly money: number;
  readonly pieces: readonly (readonly [key: string, n: number])[];
}

type Buying = Pick<OrderState, 'purchases'>;

/** By order, which never changes: of thousands that are open, only those that moved are looked at again. */
const known = new WeakMap<Buying, readonly OnItsWay[]>();

function onItsWay(order: Buying): readonly OnItsWay[] {
  let found = known.get(order);
  if (!found) {
    found = activeOf(order).map(ofPurchase);
    known.set(order, found);
  }
  return found;
}

function ofPurchase(p: Purchase): OnItsWay {
  const accepted = isAccepted(p);
  return {
    supplier: p.supplier,
    acceptedAt: accepted ? p.acceptedAt : null,
    money: accepted ? 0 : p.expected.goods + p.expected.shipping,
    pieces: p.lines.flatMap((l) => {
      const n = livingIn(p, l) * l.pack;
      return n ? [[itemKey(p.supplier, l.item), n]] : [];
    }),
  };
}

/**
 * What is on its way to suppliers already and not yet in what they say of stock and balance: pieces by item, money by
 * supplier. The one count that quotes and orders share; it grows as orders are decided one after the other.
 */
export class Promised {
  private readonly money = new Map<string, number>();
  readonly pieces = new Map<string, number>();

  /**
   * @param readAt when a supplier's stock was read last: what it accepted before is not on it any more
   * @param balances what is prepaid at suppliers, as they said last
   */
  constructor(
    open: Iterable<Buying>,
    readAt: (supplier: string) => Instant,
    private readonly balances: ReadonlyMap<string, number> = new Map(),
  ) {
    for (const order of open)
      for (const one of onItsWay(order))
        this.add(one, one.acceptedAt === null || one.acceptedAt >= readAt(one.supplier));
  }

  addPurchase(p: Purchase): void {
    this.add(ofPurchase(p), true);
  }

  private add({ supplier, money, pieces }: OnItsWay, onStock: boolean): void {
    if (money) this.money.set(supplier, this.moneyTo(supplier) + money);
    if (onStock) for (const [key, n] of pieces) this.pieces.set(key, this.piecesOf(key) + n);
  }

  addPieces(supplier: string, item: string, n: number): void {
    const key = itemKey(supplier, item);
    this.pieces.set(key, this.piecesOf(key) + n);
  }

  moneyTo(supplier: string): number {
    return this.money.get(supplier) ?? 0;
  }

  /** What is left of the balance at a supplier for what is bought next; null where it is paid otherwise. */
  balanceAt(supplier: string): number | null {
    const balance = this.balances.get(supplier);
    return balance === undefined ? null : balance - this.moneyTo(supplier);
  }

  /** @param item by its {@link itemKey} */
  piecesOf(item: string): number {
    return this.pieces.get(item) ?? 0;
  }
}
