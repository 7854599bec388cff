export { linkAll, type Stall } from './find';
export type { Candidate, LinkBy, Proposal, Reason, Wanted } from './link';
export { meaningOf, valueMeaning } from './words';
