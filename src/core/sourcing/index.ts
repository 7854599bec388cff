export { type Against, type Candidate, rankCandidates, type Strategy, shareUnits } from './candidates';
export { chooseSource, type SourceOffer, splitUnits } from './choose';
export { itemKey, Promised } from './promised';
