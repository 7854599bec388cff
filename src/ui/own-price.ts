'use client';
import { formatMoney } from '../core/money';
import { theShop } from '../work/desk/client';
import { ask, say } from './said';

/**
 * Offers a listing at an own price, or at its plan's again for null. One that breaks a guard, or is far from the usual, is
 * asked about first.
 */
export async function offerAt(
  listing: { readonly id: string; readonly sku: string },
  currency: string,
  price: number | null,
): Promise<void> {
  const offer = async (agreed: boolean) => {
    await theShop().setOwnPrice(listing.id, price, agreed);
    await say(
      price === null
        ? `${listing.sku} follows its plan again.`
        : `${listing.sku} is offered at ${formatMoney({ minor: price, currency })}.`,
      { undo: true },
    );
  };
  const asks = price === null ? null : await theShop().ownPriceAsks(listing.id, price);
  if (!asks) return offer(false);
  ask(`${listing.sku}: ${asks}`, `Offer it at ${formatMoney({ minor: price!, currency })} all the same`, () =>
    offer(true),
  );
}
