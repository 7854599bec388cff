export { type Against, type Candidate, rankCandidates, type Strategy, shareUnits } from './candidates';
export { chooseSource, type SourceOffer, splitUnits } from './choose';
export {
  LEAST_PARCELS,
  overdueAfter,
  type ServiceWish,
  type ShippingService,
  serviceFor,
  type Transit,
  transitOf,
} from './delivery';
export { itemKey, Promised } from './promised';
export { type PrintSite, type SiteChoice, sitesFor } from './sites';
