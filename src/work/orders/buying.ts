import { fold } from '../../core/copy';
import { fieldsOf, type Readers } from '../../core/fields';
import { soldIn } from '../../core/orders';
import { type Condition, compile, isEverything } from '../../core/query';
import type { Order } from '../../store';
import { nameIn, type Shop } from '../quoting/worth';

/** What the buyer paid for what is still sold, with shipping, in the order's currency. */
export const paidOf = (order: Order): number =>
  order.lines.reduce((sum, l) => sum + l.unitPrice * soldIn(l), 0) + order.shipping;

/** An order about to be bought, as the conditions of rules look at it. */
interface Buying {
  readonly order: Order;
  readonly suppliers: readonly string[];
  readonly profit: number | null;
  readonly shop: Shop;
}

const READERS: Readers<'buying', Buying> = {
  is: ({ order, suppliers }, flag) => {
    switch (flag) {
      case 'personalised':
        return order.lines.some((l) => l.personalisation !== null);
      case 'noted':
        return order.buyerNote !== undefined;
      case 'split':
        return suppliers.length > 1;
    }
  },
  profit: ({ profit }) => profit,
  paid: ({ order }) => paidOf(order),
  units: ({ order }) => order.lines.reduce((n, l) => n + soldIn(l), 0),
  on: ({ order, shop }) => nameIn(shop)(order.marketplace),
  country: ({ order }) => order.country,
  supplier: ({ suppliers, shop }) => suppliers.map(nameIn(shop)).join(', '),
  sku: ({ order }) => order.lines.map((l) => l.sku).join(', '),
};

/** What rules for orders can be about. */
export const BUYING_FIELDS = fieldsOf('buying', READERS, ({ order, shop }, field) =>
  field === 'paid' ? order.currency : shop.settings.currency,
);

/** Whether an order is of a condition. */
export function fitter(buying: Buying): (when: Condition) => boolean {
  const words = fold(buying.order.lines.map((l) => `${l.title} ${l.sku}`).join(' '));
  return (when) => isEverything(when) || compile(when, BUYING_FIELDS, () => words).test(buying);
}
