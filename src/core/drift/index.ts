export { cushionBy, feesBy, handlingBy } from './corrections';
export { type Drift, driftOf, FEWEST, type Pair, TOLERANCE } from './drift';
