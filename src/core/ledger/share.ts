import { shareOut } from '../money';
import type { Account } from './ledger';

/** Parts of an account besides the profit, which is what is left of them. */
const SHARED = ['revenue', 'goods', 'shipping', 'fee', 'payment', 'tax'] as const;

/**
 * An account shared out over lines by what was paid for each, without losing a minor unit: the shares of each part, and of
 * the profit, add up to the account's. Where nothing was paid for any the first line has all of it.
 * @example shareAccount({ ...NOTHING, revenue: 100, profit: 100 }, [1, 1, 1]).map((a) => a.profit) // [34, 33, 33]
 */
export function shareAccount(account: Account, paid: readonly number[]): Account[] {
  if (paid.length === 1) return [account];
  const weights = paid.some((n) => n > 0) ? paid : paid.map((_, k) => (k === 0 ? 1 : 0));
  const shares = SHARED.map((part) => {
    const minor = account[part];
    // Shared out towards nothing on both sides.
    return minor < 0 ? shareOut(-minor, weights).map((n) => -n) : shareOut(minor, weights);
  });
  return paid.map((_, k) => {
    const own = Object.fromEntries(SHARED.map((part, i) => [part, shares[i]![k]! + 0])) as Omit<
      Account,
      'profit'
    >;
    const { revenue, goods, shipping, fee, payment, tax } = own;
    return { ...own, profit: revenue - goods - shipping - fee - payment - tax };
  });
}
