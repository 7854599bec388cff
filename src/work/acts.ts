import { work } from './browser';
import { acceptSite, optIn, renameConnection } from './connections/connections';
import { listingFile } from './connections/listing-file';
import { dispatchFile, keepFileColumns, takeAnswerFile, takeSalesFile } from './connections/market-files';
import { buyersOfOrders, saveBuyers, saveFees, saveKeptOff, saveSupplierCosts } from './connections/terms';
import type { Work } from './context';
import {
  approve,
  leaveOut,
  movePublishing,
  publish,
  saveRules,
  sendChanges,
  setOwnPrice,
  settleSteps,
  stopPublishing,
  takeLeaps,
  undo,
} from './listings/bench';
import { applyCells, shareText } from './listings/bulk-edit';
import { saveCategories } from './listings/categories';
import { setDriftRule, settleDrift } from './listings/drift';
import { takeSheet } from './listings/keyword-sheet';
import { removeListings } from './listings/link';
import { addPictures, describePicture, ownPictureFile } from './listings/pictures';
import { savePresets } from './listings/presets';
import { duplicateProduct, listOn } from './listings/take';
import { dropTemplate, saveTemplate } from './listings/templates';
import {
  cancelOrder,
  caseSeen,
  editOrder,
  forwardOrder,
  releaseOrder,
  sayMeant,
  setForwarding,
  tellAnyway,
} from './orders/actions';
import {
  orderFile,
  parcelOutside,
  placedOutside,
  recallOutside,
  takeTrackingFile,
} from './orders/outside-service';
import { readAgain, setAside, unreadRows } from './orders/unread';
import { takeAlert } from './shop/alerts';
import { feeCheck } from './shop/fee-check';
import { savePlans } from './shop/plans';
import { dropRate, readRatesFile, saveRate, saveRates } from './shop/rates';
import { saveSettings } from './shop/settings';

type Bound<F> = F extends (work: Work, ...args: infer Args) => infer Answer
  ? (...args: Args) => Answer
  : never;

const bound = <F extends (work: Work, ...args: never[]) => unknown>(act: F): Bound<F> =>
  ((...args: never[]) => act(work, ...args)) as Bound<F>;

/** What a person does to the shop, carried out where the shop is in memory. */
export const acts = {
  addPictures: bound(addPictures),
  dispatchFile: bound(dispatchFile),
  listingFile: bound(listingFile),
  renameConnection: bound(renameConnection),
  keepFileColumns: bound(keepFileColumns),
  takeAnswerFile: bound(takeAnswerFile),
  takeSalesFile: bound(takeSalesFile),
  takeTrackingFile: bound(takeTrackingFile),
  orderFile: bound(orderFile),
  acceptSite: bound(acceptSite),
  applyCells: bound(applyCells),
  approve: bound(approve),
  cancelOrder: bound(cancelOrder),
  caseSeen: bound(caseSeen),
  dropRate: bound(dropRate),
  describePicture: bound(describePicture),
  dropTemplate: bound(dropTemplate),
  ownPictureFile: bound(ownPictureFile),
  duplicateProduct: bound(duplicateProduct),
  editOrder: bound(editOrder),
  forwardOrder: bound(forwardOrder),
  leaveOut: bound(leaveOut),
  listOn: bound(listOn),
  optIn: bound(optIn),
  parcelOutside: bound(parcelOutside),
  placedOutside: bound(placedOutside),
  publish: bound(publish),
  readRatesFile: bound(readRatesFile),
  recallOutside: bound(recallOutside),
  readAgain: bound(readAgain),
  releaseOrder: bound(releaseOrder),
  setAside: bound(setAside),
  unreadRows: bound(unreadRows),
  removeListings: bound(removeListings),
  takeAlert: bound(takeAlert),
  buyersOfOrders: bound(buyersOfOrders),
  saveBuyers: bound(saveBuyers),
  saveKeptOff: bound(saveKeptOff),
  saveFees: bound(saveFees),
  saveSupplierCosts: bound(saveSupplierCosts),
  feeCheck: bound(feeCheck),
  saveCategories: bound(saveCategories),
  savePresets: bound(savePresets),
  savePlans: bound(savePlans),
  saveRate: bound(saveRate),
  saveRates: bound(saveRates),
  saveRules: bound(saveRules),
  saveSettings: bound(saveSettings),
  saveTemplate: bound(saveTemplate),
  sendChanges: bound(sendChanges),
  setDriftRule: bound(setDriftRule),
  setForwarding: bound(setForwarding),
  setOwnPrice: bound(setOwnPrice),
  settleDrift: bound(settleDrift),
  stopPublishing: bound(stopPublishing),
  movePublishing: bound(movePublishing),
  takeLeaps: bound(takeLeaps),
  takeSheet: bound(takeSheet),
  sayMeant: bound(sayMeant),
  tellAnyway: bound(tellAnyway),
  undo: bound(undo),
  settleSteps: bound(settleSteps),
  shareText: bound(shareText),
};
