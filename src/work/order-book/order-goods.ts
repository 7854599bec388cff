import { optionsInWords } from '../../core/catalogue';
import type { Order } from '../../store';
import type { Assortment } from '../memory/assortment';
import { type GoodsPicture, pictureOf } from '../memory/listing-list';
import { listingOf } from '../quoting/promised';

/** How the goods of an order look. */
export interface OrderGoods {
  readonly picture: GoodsPicture;
  /** The variant's options, in words, by line; '' where it has none or is not ours. */
  readonly options: readonly string[];
}

/** What is shown of the goods of an order beside their titles: its first picture, and the options of each line. */
export function goodsIn(assortment: Assortment, order: Pick<Order, 'marketplace' | 'lines'>): OrderGoods {
  const linked = order.lines.map((line) => assortment.get(listingOf(order, line)));
  const first = linked.find((full) => full !== null);
  return {
    picture: first ? pictureOf(first, assortment.shop) : { supplier: '', path: undefined },
    options: linked.map((full) => (full ? optionsInWords(full.variant.options) : '')),
  };
}
