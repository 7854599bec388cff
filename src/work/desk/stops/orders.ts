import { CHECKS } from '../../../core/orders';
import { work } from '../../browser/browser';
import type { ListQuestion } from '../../memory/listing-list';
import { eraseBuyers, ordersOfBuyer } from '../../order-book/erase';
import type { MeantOrders, OrderSort } from '../../order-book/order-book';
import { goodsIn, type OrderGoods } from '../../order-book/order-goods';
import { forgetOrderView, saveOrderView } from '../../order-book/views';
import {
  answerRequest,
  cancelledSeen,
  cancelOrder,
  caseSeen,
  chooseLineSource,
  chooseService,
  editOrder,
  forwardOrder,
  keepBack,
  noteOrder,
  releaseOrder,
  reportMisprint,
  sayMeant,
  setOrderAside,
  splitLine,
  tellAnyway,
  tellParcelsNow,
} from '../../orders/actions';
import { comingPurchases, releaseAhead, sourcesAhead } from '../../orders/ahead';
import { keepSender, readMails, takeMail } from '../../orders/mails';
import { previewMessage, saveMessages } from '../../orders/messages';
import {
  orderFile,
  parcelOutside,
  placedOutside,
  recallOutside,
  takeTrackingFile,
} from '../../orders/outside-service';
import { enterOrder, enterOrdersFile, sendAgain } from '../../orders/own-orders';
import { printsToPlace } from '../../orders/purchase-prints';
import { rulesAhead, setOrderRules } from '../../orders/rules';
import { packingSlips, slipsOf } from '../../orders/slips';
import { readAgain, setAside, unreadRows } from '../../orders/unread';
import { bound } from '../bound';
import { assortment, book, built, builtBook, changing, OF_LISTS, OFTEN, SOON } from '../memory';

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
  /** How the goods of some orders look, by id. */
  goodsOfOrders: async (ids: readonly string[]): Promise<ReadonlyMap<string, OrderGoods>> => {
    await Promise.all([built(), builtBook()]);
    const orders = await book.some(ids);
    return new Map(orders.map((order) => [order.id, goodsIn(assortment, order)]));
  },
  /** How many orders each of some searches finds. */
  orderCounts: async (lines: readonly string[]) => {
    await builtBook();
    return book.counts(lines, work.clock());
  },
  saveOrderView: bound(saveOrderView),
  forgetOrderView: bound(forgetOrderView),
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
  answerRequest: bound(answerRequest),
  caseSeen: bound(caseSeen),
  editOrder: bound(editOrder),
  forwardOrder: bound(forwardOrder),
  releaseOrder: bound(releaseOrder),
  sayMeant: bound(sayMeant),
  chooseLineSource: bound(chooseLineSource),
  chooseService: bound(chooseService),
  splitLine: bound(splitLine),
  keepBack: bound(keepBack),
  noteOrder: bound(noteOrder),
  printsToPlace: bound(printsToPlace),
  reportMisprint: bound(reportMisprint),
  setOrderAside: bound(setOrderAside),
  /** Tells marketplaces now of the parcels of the orders that are meant. */
  tellMeantNow: async (what: MeantOrders) => {
    await builtBook();
    return tellParcelsNow(work, book.meant(what, work.clock()));
  },
  comingPurchases: bound(comingPurchases),
  enterOrder: bound(enterOrder),
  enterOrdersFile: bound(enterOrdersFile),
  sendAgain: bound(sendAgain),
  readMails: bound(readMails),
  slipsOf: bound(slipsOf),
  /** Packing slips of the orders that are meant. */
  packingSlips: async (what: MeantOrders, goesOn: (done: number) => boolean | Promise<boolean>) => {
    await builtBook();
    return packingSlips(work, book.meant(what, work.clock()), goesOn);
  },
  previewMessage: bound(previewMessage),
  saveMessages: bound(saveMessages),
  takeMail: bound(takeMail),
  keepSender: bound(keepSender),
  sourcesAhead: bound(sourcesAhead),
  rulesAhead: bound(rulesAhead),
  setOrderRules: bound(setOrderRules),
  /** What releasing the orders that are meant would do. */
  releaseAhead: async (what: MeantOrders) => {
    await builtBook();
    return releaseAhead(work, book.meant(what, work.clock()));
  },
  /** Lets every check that may pass do so in the held ones of the orders that are meant, and buys them. */
  releaseMeant: async (what: MeantOrders) => {
    await builtBook();
    let released = 0;
    for (const id of book.meant(what, work.clock())) {
      const said = await releaseOrder(work, id, CHECKS, true);
      if (said.ok) released++;
    }
    return released;
  },
  /** Puts away the news of the cancelled ones of the orders that are meant. */
  cancelledSeenOf: async (what: MeantOrders) => {
    await builtBook();
    return cancelledSeen(work, book.meant(what, work.clock()));
  },
  /** Sets the orders that are meant aside, or takes them up again. */
  asideMeant: async (what: MeantOrders, aside: boolean) => {
    await builtBook();
    let moved = 0;
    for (const id of book.meant(what, work.clock())) if ((await setOrderAside(work, id, aside)).ok) moved++;
    return moved;
  },
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
