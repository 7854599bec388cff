export {
  type FeeBand,
  type Fees,
  type FeeTable,
  feesFor,
  marketplaceFee,
  paymentFee,
  profitAt,
  type ShippingBand,
  type Sum,
  shippingFor,
  sumAt,
  taxInside,
} from './costs';
export { type Ending, type PricePlan, STARTING_PLAN, type Target } from './plan';
export { parseShipping, shippingInWords } from './shipping';
export { breakEven, type PriceAnswer, type Priced, type PriceStep, solvePrice, solveTarget } from './solve';
export { endingInWords, planInWords, refusalInWords, stepInWords, targetInWords } from './words';
