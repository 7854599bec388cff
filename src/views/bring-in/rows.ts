import type { LinkProposal } from '../../work/model';
import type { FullListing } from '../../work/shop/full-listing';

/** A listing that was brought in, with what was found for it. */
export interface BroughtRow extends FullListing {
  readonly proposal: LinkProposal | undefined;
}

export const SHOWS = ['sure', 'doubtful', 'none', 'linked'] as const;
export type Show = (typeof SHOWS)[number];

export const showOf = ({ source, proposal }: BroughtRow): Show =>
  source ? 'linked' : proposal?.sure ? 'sure' : proposal?.candidates.length ? 'doubtful' : 'none';
