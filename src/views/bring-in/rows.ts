import type { LinkProposal } from '../../work/model';
import type { FullListing } from '../../work/quoting/full-listing';

/** A listing that was brought in, with what was found for it. */
export interface BroughtRow extends FullListing {
  readonly proposal: LinkProposal | undefined;
}

export const SHOWS = ['sure', 'doubtful', 'none', 'linked'] as const;
export type Show = (typeof SHOWS)[number];

export const showOf = ({ source, proposal }: BroughtRow): Show =>
  source ? 'linked' : proposal?.sure ? 'sure' : proposal?.candidates.length ? 'doubtful' : 'none';

export type Groups = Readonly<Record<Show, readonly BroughtRow[]>>;

/** Listings by how surely their supplier item was found, the surest of each first. */
export function groupsOf(read: readonly BroughtRow[]): Groups {
  const groups: Record<Show, BroughtRow[]> = { sure: [], doubtful: [], none: [], linked: [] };
  for (const row of read) groups[showOf(row)].push(row);
  const score = (r: BroughtRow) => r.proposal?.candidates[0]?.score ?? 0;
  for (const rows of Object.values(groups))
    rows.sort((a, b) => score(b) - score(a) || (a.listing.sku < b.listing.sku ? -1 : 1));
  return groups;
}

/** The rows of the search, or the rows that are not linked yet where there is none. */
export function showIn(groups: Groups, asked: string): Show {
  return (
    SHOWS.find((s) => s === asked) ??
    (groups.sure.length ? 'sure' : groups.doubtful.length ? 'doubtful' : 'linked')
  );
}
