import type { Buyer } from '../../core/orders';
import type { Order } from '../../work/model';
import type { ShopTerms } from '../../work/quoting/worth';

/** An order with the texts of its buyer. */
export type ToldOrder = Order & { readonly texts: readonly string[] };

export const buyerName = (buyer: Buyer): string => (buyer.erasedAt === null ? buyer.name : 'Erased');

/** The town that an order goes to. */
export const townOf = ({ address }: Pick<Order, 'address'>, buyer: Buyer): string =>
  buyer.addresses[address]?.town ?? '';

/** A text of the buyer's, as it is quoted. */
export const textOf = ({ texts }: Pick<ToldOrder, 'texts'>, place: number): string =>
  texts[place] ? `“${texts[place]}”` : 'with words that were erased';

/** The message on the packing slip. */
export const slipOf = ({ slip, texts }: Pick<ToldOrder, 'slip' | 'texts'>, shop: ShopTerms): string =>
  slip === null ? shop.settings.slip : (texts[slip] ?? '');

/** What is written to whom it is given; '' where it is no present. */
export const giftOf = ({ gift, texts }: Pick<ToldOrder, 'gift' | 'texts'>): string =>
  gift === undefined ? '' : (texts[gift] ?? '');
