export { cleanTracking, type FoundTracking, trackingsIn } from './numbers';
export { carrierByShape, type NumberShape, shapeProblem } from './shapes';
export {
  type Carrier,
  carrierFor,
  isS10,
  isSscc,
  s10CheckDigit,
  type TrackingProblem,
  trackingProblem,
  trackingProblemInWords,
} from './tracking';
