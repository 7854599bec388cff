export { chooseSource, type SourceOffer, splitUnits } from './choose';
export { itemKey, Promised } from './promised';
