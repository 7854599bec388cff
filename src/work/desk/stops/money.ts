import { ordersOf, sumsOf } from '../../order-book/sums';
import { book, builtBook } from '../memory';

/** Questions of Money. */
export const moneyDesk = {
  sums: async (from: string, to: string) => {
    await builtBook();
    return sumsOf(book, from, to);
  },
  ordersOf: async (day: string, limit: number) => {
    await builtBook();
    return ordersOf(book, day, limit);
  },
};
