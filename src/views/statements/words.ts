import type { LineKind, StatedGroup } from '../../core/statements';
import type { LooseLine } from '../../work/model';

/** What an amount of a statement is for, as it is shown. */
export const KIND: Readonly<Record<LineKind, string>> = {
  sale: 'Sales',
  'buyer shipping': 'Shipping paid by buyers',
  refund: 'Refunds',
  'sale fee': 'Sale fees',
  'listing fee': 'Listing fees',
  advertising: 'Advertising',
  'payment fee': 'Payment fees',
  fees: 'Fees together',
  goods: 'Goods',
  shipping: 'Shipping',
  tax: 'Tax',
  return: 'Returns',
  'in all': 'Orders in all',
  charge: 'Charges of no order',
  payout: 'Payments',
};

export const GROUP: Readonly<Record<StatedGroup, string>> = {
  sales: 'sales',
  refunds: 'refunds',
  fees: 'fees',
  'payment fees': 'payment fees',
  goods: 'goods',
  shipping: 'shipping',
  tax: 'tax',
  returns: 'returns',
};

export const WHY: Readonly<Record<LooseLine['why'], string>> = {
  charge: 'Belongs to no order',
  unknown: 'The order is not known here',
  twice: 'Stated before: not counted again',
  currency: 'In another currency than its order',
};
