import { isActive, isCalledOff, type Purchase } from './order';

/**
 * The reference of the next purchase of an order from a supplier: the order's id, and from the second on a number. What
 * was refused or withdrawn was never bought, so that the next try is the same purchase with the same key, though others
 * were bought meanwhile; the same order in a copy of the shop of any age comes to the same reference.
 * @example nextReference('pennywharf:PW-20001', 'hull', []) → pennywharf:PW-20001
 */
export function nextReference(order: string, supplier: string, purchases: readonly Purchase[]): string {
  const taken = new Set(
    purchases.flatMap((p) =>
      p.supplier === supplier && (isActive(p) || isCalledOff(p)) ? [p.reference] : [],
    ),
  );
  for (let n = 1; ; n++) {
    const reference = n === 1 ? order : `${order}#${n}`;
    if (!taken.has(reference)) return reference;
  }
}

/** The order that a reference belongs to. */
export const orderOf = (reference: string): string => reference.replace(/#\d+$/, '');

/** Whether a purchase is the one of a reference. One reference belongs to one supplier. */
export const isFor = (p: Purchase, supplier: string, reference: string): boolean =>
  p.reference === reference && p.supplier === supplier;

/** Purchases with one of the same reference replaced, or with a new one behind. */
export function withPurchase(purchases: readonly Purchase[], made: Purchase): Purchase[] {
  const same = (p: Purchase) => isFor(p, made.supplier, made.reference);
  return purchases.some(same) ? purchases.map((p) => (same(p) ? made : p)) : [...purchases, made];
}
