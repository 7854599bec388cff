export { type Loss, type LossPart, lossOf, rateAmong } from './loss';
export { FAULTS, type Fault, type Reason, reasonById, reasonFor, USUAL_REASONS } from './reasons';
export { isByItself, type Proposal, proposalFor, type ReturnRules, USUAL_RETURN_RULES } from './rules';
