import { type BreakdownQuestion, breakdownOf, ordersBehind } from '../../order-book/breakdown';
import { ledgerAccounts, ledgerFile, setAccountCodes } from '../../order-book/ledger-file';
import { sumsOf } from '../../order-book/sums';
import { bound } from '../bound';
import { assortment, book, built, builtBook } from '../memory';

/** Questions of Money. */
export const moneyDesk = {
  sums: async (from: string, to: string) => {
    await builtBook();
    return sumsOf(book, from, to);
  },
  /** What the orders of some days brought, broken down. */
  breakdown: async (q: BreakdownQuestion) => {
    await Promise.all([built(), builtBook()]);
    return breakdownOf(book, assortment, q);
  },
  ledgerFile: bound(ledgerFile),
  ledgerAccounts: bound(ledgerAccounts),
  setAccountCodes: bound(setAccountCodes),
  /** The orders behind one row of a breakdown. */
  ordersBehind: async (q: BreakdownQuestion, id: string, limit: number) => {
    await Promise.all([built(), builtBook()]);
    return ordersBehind(book, assortment, q, id, limit);
  },
};
