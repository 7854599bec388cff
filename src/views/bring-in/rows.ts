import type { LinkProposal, Listing, Product } from '../../store';

/** A listing that was brought in, with what was found for it. */
export interface BroughtRow {
  readonly listing: Listing;
  readonly product: Product;
  readonly proposal: LinkProposal | undefined;
}

export const SHOWS = ['sure', 'doubtful', 'none', 'linked'] as const;
export type Show = (typeof SHOWS)[number];

export const showOf = ({ listing, proposal }: BroughtRow): Show =>
  listing.item ? 'linked' : proposal?.sure ? 'sure' : proposal?.candidates.length ? 'doubtful' : 'none';
