import { work } from '../../browser/browser';
import type { ListQuestion } from '../../memory/listing-list';
import { eraseBuyers, ordersOfBuyer } from '../../order-book/erase';
import type { MeantOrders, OrderSort } from '../../order-book/order-book';
import {
  cancelOrder,
  caseSeen,
  editOrder,
  forwardOrder,
  releaseOrder,
  sayMeant,
  setForwarding,
  tellAnyway,
} from '../../orders/actions';
import {
  orderFile,
  parcelOutside,
  placedOutside,
  recallOutside,
  takeTrackingFile,
} from '../../orders/outside-service';
import { readAgain, setAside, unreadRows } from '../../orders/unread';
import { bound } from '../bound';
import { book, builtBook, changing, OF_LISTS, OFTEN, SOON } from '../memory';

/** Questions and acts of Orders. */
export const ordersDesk = {
  orders: async (q: ListQuestion<OrderSort>) => {
    await builtBook();
    return book.search(q, work.clock());
  },
  ordersRange: async (q: ListQuestion<OrderSort>) => {
    await builtBook();
    return book.range(q, work.clock());
  },
  order: async (id: string) => {
    await builtBook();
    return book.full(id);
  },
  /** Forwards what is ready of the orders that are meant. @returns how many left, and why the first other did not */
  forwardMeant: async (what: MeantOrders) => {
    await builtBook();
    let [left, stayed, why] = [0, 0, ''];
    for (const id of book.readyAmong(what, work.clock())) {
      const said = await forwardOrder(work, id);
      if (said.ok) left++;
      else {
        stayed++;
        why ||= said.reason;
      }
    }
    return { left, stayed, why };
  },
  /** How many orders the buyer of one has. */
  countOfBuyer: async (id: string) => (await ordersOfBuyer(work, id)).length,
  /** Erases the buyer of an order, in all orders of that person that are over. */
  eraseBuyer: async (id: string) => eraseBuyers(work, await ordersOfBuyer(work, id)),
  cancelOrder: bound(cancelOrder),
  caseSeen: bound(caseSeen),
  editOrder: bound(editOrder),
  forwardOrder: bound(forwardOrder),
  releaseOrder: bound(releaseOrder),
  sayMeant: bound(sayMeant),
  setForwarding: bound(setForwarding),
  tellAnyway: bound(tellAnyway),
  parcelOutside: bound(parcelOutside),
  placedOutside: bound(placedOutside),
  recallOutside: bound(recallOutside),
  readAgain: bound(readAgain),
  setAside: bound(setAside),
  unreadRows: bound(unreadRows),
  takeTrackingFile: bound(takeTrackingFile),
  orderFile: bound(orderFile),
};

export const ordersFeeds = {
  /** Grows with each change to orders. */
  ordersVersion: changing(OF_LISTS, { calm: SOON, often: OFTEN }, async () => {
    await builtBook();
    await book.catchUp();
    return book.version;
  }),
};
