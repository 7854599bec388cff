import { activeOf, isAccepted, livingIn, type OrderState, type Purchase } from '../orders';
import type { Instant } from '../units';

/** Names an item of a supplier among all items. */
export const itemKey = (supplier: string, item: string): string => `${supplier}:${item}`;

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
    open: Iterable<Pick<OrderState, 'purchases'>>,
    readAt: (supplier: string) => Instant,
    private readonly balances: ReadonlyMap<string, number> = new Map(),
  ) {
    for (const order of open)
      for (const p of activeOf(order))
        this.addPurchase(p, !isAccepted(p) || p.acceptedAt >= readAt(p.supplier));
  }

  addPurchase(p: Purchase, onStock = true): void {
    if (!isAccepted(p))
      this.money.set(p.supplier, this.moneyTo(p.supplier) + p.expected.goods + p.expected.shipping);
    if (onStock) for (const l of p.lines) this.addPieces(p.supplier, l.item, livingIn(p, l) * l.pack);
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
