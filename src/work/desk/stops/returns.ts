import { type RatedBy, ratesIn, returnInFull, returnsIn, type WhichReturns } from '../../order-book/returns';
import {
  answerReturn,
  claimReturn,
  closeReturn,
  noteReturn,
  openReturn,
  sendParcelAgain,
  setReturnRules,
} from '../../orders/returns';
import { bound } from '../bound';
import { assortment, book, built, builtBook } from '../memory';

const DAY = 86_400_000;

/** Questions and acts of Returns. */
export const returnsDesk = {
  returns: async (q: { readonly which: WhichReturns; readonly offset: number; readonly limit: number }) => {
    await builtBook();
    return returnsIn(book, q);
  },
  returnInFull: async (key: string) => {
    await builtBook();
    return returnInFull(book, key);
  },
  /** Rates of return among the orders of some days, such as `2026-11-01`, both ends included. */
  returnRates: async (by: RatedBy, from: string, to: string) => {
    await Promise.all([built(), builtBook()]);
    const nameOf = (id: string) => book.shop.connections.get(id)?.name ?? id;
    return ratesIn(book, assortment, by, Date.parse(from) / DAY, Date.parse(to) / DAY, nameOf);
  },
  openReturn: bound(openReturn),
  answerReturn: bound(answerReturn),
  claimReturn: bound(claimReturn),
  noteReturn: bound(noteReturn),
  closeReturn: bound(closeReturn),
  sendParcelAgain: bound(sendParcelAgain),
  setReturnRules: bound(setReturnRules),
};
