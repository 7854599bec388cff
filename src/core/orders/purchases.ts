import { isActive, type OrderLine, type Purchase } from './order';

/**
 * The reference of the next purchase of an order from a supplier: the order's id, and from the second on a number. What
 * was refused or withdrawn was never bought, so that the next try is the same purchase with the same key; the same
 * order in a copy of the shop of any age comes to the same reference.
 * @example nextReference('pennywharf:PW-20001', 'hull', []) → pennywharf:PW-20001
 */
export function nextReference(order: string, supplier: string, purchases: readonly Purchase[]): string {
  const bought = purchases.filter(
    (p) => p.supplier === supplier && (isActive(p) || p.state === 'cancelled'),
  ).length;
  return bought ? `${order}#${bought + 1}` : order;
}

/** The order that a reference belongs to. */
export const orderOf = (reference: string): string => reference.replace(/#\d+$/, '');

/** Purchases with one of the same reference replaced, or with a new one behind. One reference belongs to one supplier. */
export function withPurchase(purchases: readonly Purchase[], made: Purchase): Purchase[] {
  const same = (p: Purchase) => p.reference === made.reference && p.supplier === made.supplier;
  return purchases.some(same) ? purchases.map((p) => (same(p) ? made : p)) : [...purchases, made];
}

/** Lines by the supplier that each is bought of. @param supplierOf null where a line has none */
export function bySupplier(
  lines: readonly OrderLine[],
  supplierOf: (line: OrderLine) => string | null,
): Map<string, OrderLine[]> {
  const groups = new Map<string, OrderLine[]>();
  for (const line of lines) {
    const supplier = supplierOf(line);
    if (supplier === null) continue;
    const own = groups.get(supplier);
    if (own) own.push(line);
    else groups.set(supplier, [line]);
  }
  return groups;
}
