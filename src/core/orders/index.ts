export type { Address } from './address';
export { type Buyer, type BuyerFile, erased, withAddress, withText } from './buyer';
export {
  type AskedBack,
  type Cancellation,
  type CancelRequest,
  type Case,
  cancellationOf,
  holdsBack,
  isAsking,
  isRecalling,
  isReprinting,
  isRequest,
  isUnseen,
  type Misprint,
  outstanding,
  photosOf,
  type TrackingCase,
  type Unclear,
  unseenOf,
} from './cases';
export {
  type AddressLimits,
  type AddressProblem,
  addressProblem,
  CHECKS,
  type Check,
  type CheckInput,
  type CheckKind,
  checkOrder,
  type DeliveryNotice,
  FIRM,
  holdsOf,
} from './check';
export type { Effect, Go, OrderEvent, Surroundings } from './events';
export type { OrderFact } from './facts';
export { byLine, countUnits, type LineUnits, unitsOf, without } from './line-units';
export { couldBeMeant, isAskingWhich } from './meant';
export {
  type AcceptedPurchase,
  activeOf,
  awaitedParcels,
  boughtFor,
  type Charge,
  type ChosenSource,
  chargeOf,
  type Due,
  isAccepted,
  isActive,
  isCalledOff,
  isCancelled,
  isPending,
  type Lane,
  livingIn,
  type MakerStage,
  numberOf,
  type OpenLine,
  type OrderLine,
  type OrderState,
  OWN_KINDS,
  type OwnKind,
  openLines,
  type Parcel,
  type Purchase,
  type PurchaseLine,
  packedIn,
  parcelsOf,
  placesOf,
  type SourceShare,
  soldIn,
} from './order';
export { mendedAddress } from './postal';
export { isApproved, NO_PROOF, type Proof } from './proof';
export { isFor, nextReference, orderOf, withPurchase } from './purchases';
export {
  type Claim,
  type ClaimState,
  GOODS_PLACES,
  type GoodsPlace,
  isOpenReturn,
  isReturn,
  RETURN_KINDS,
  type Return,
  type ReturnAnswer,
  type ReturnKind,
  type ReturnState,
  type ReturnStep,
  returnDue,
  returnedUnits,
  returnStep,
} from './return';
export { paidIn, soldFor } from './returning';
export {
  isLate,
  isOpen,
  lateFrom,
  MARKS,
  type Mark,
  marksOf,
  mayDo,
  type Standing,
  standingOf,
} from './standing';
export { afterStatement, type Count, type Statement, unpackedIn } from './statement';
export { type Step, step } from './step';
export {
  addressProblemInWords,
  caseInWords,
  checkInWords,
  factsInWords,
  type Namer,
  unitsInWords,
} from './words';
