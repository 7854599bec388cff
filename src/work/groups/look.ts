import { KINDS } from '../../core/fields';
import {
  circleInWords,
  circleOf,
  type GroupOf,
  groupKey,
  groupsIn,
  measured,
  memberTest,
  TREE_LIMITS,
} from '../../core/groups';
import { lineOf, type Problem, problemsOf } from '../../core/query';
import type { Instant } from '../../core/units';
import type { GroupRow } from '../../store';
import type { Assortment } from '../memory/assortment';
import { listingFields } from '../memory/listing-fields';
import { type GoodsPicture, pictureOf } from '../memory/listing-list';
import { productTitle } from '../quoting/copy';

/** A group as it is worked on. */
export interface GroupDraft extends GroupOf {
  /** Null for a new one. */
  readonly id: string | null;
}

/** A product of a group. */
export interface GroupProduct {
  readonly id: string;
  readonly title: string;
  readonly sku: string;
  readonly picture: GoodsPicture;
  /** Listings of it that are in the group. */
  readonly listings: number;
  /** It was picked by hand, or left out so. */
  readonly byHand: 'picked' | 'left' | null;
}

/** What a group holds, ended listings left out. */
export interface GroupHeld {
  readonly products: number;
  readonly listings: number;
  readonly some: readonly GroupProduct[];
  /** Why it holds nothing: what of it is not understood. */
  readonly problems: readonly Problem[];
}

/** Groups with one of them as it is written now, or with a new one. */
export const withDraft = (groups: readonly GroupRow[], draft: GroupDraft): GroupRow[] => {
  const own: GroupRow = { ...draft, id: draft.id ?? '', at: 0 };
  return draft.id === null ? [...groups, own] : groups.map((g) => (g.id === draft.id ? own : g));
};

/** What of a draft is not understood: pieces of its condition, groups that are none, a circle. */
export function draftProblems(draft: GroupDraft, groups: readonly GroupRow[]): Problem[] {
  const others = groups.filter((g) => g.id !== draft.id);
  const known = new Set(others.map((g) => groupKey(g.name)));
  const problems = problemsOf(draft.filter, KINDS.listing).slice();
  for (const name of groupsIn(draft.filter))
    if (!known.has(groupKey(name)) && groupKey(name) !== groupKey(draft.name))
      problems.push({ raw: `group:${name}`, reason: `There is no group “${name}”.` });
  const circle = draft.name.trim() ? circleOf(draft, others) : null;
  if (circle) problems.push({ raw: `group:${circle[1]}`, reason: `${circleInWords(circle)}: a circle.` });
  const { parts, depth } = measured(draft.filter);
  if (parts > TREE_LIMITS.parts || depth > TREE_LIMITS.depth)
    problems.push({
      raw: `${parts} parts, ${depth} deep`,
      reason: `A group has at most ${TREE_LIMITS.parts} parts, ${TREE_LIMITS.depth} deep.`,
    });
  return problems;
}

/** Products that are shown of a group at most. */
const SHOWN = 60;

/** The places of the listings in a group as it is written now, in their order; ended ones left out. */
export function* placesIn(assortment: Assortment, draft: GroupOf, now: Instant): Generator<number> {
  const others = (assortment.shop.groups ?? []).filter((g) => groupKey(g.name) !== groupKey(draft.name));
  const { columns, rows } = assortment;
  const test = memberTest<number>(
    draft,
    listingFields(assortment, now, others),
    (place) => columns.wordsOf(place, rows[place]!),
    (place) => rows[place]!.product.id,
  );
  for (const [place, { listing }] of assortment.all())
    if (listing.state !== 'ended' && test(place)) yield place;
}

/** Looks at what a group would hold. Cost: as a search. */
export function lookAtGroup(assortment: Assortment, draft: GroupDraft, now: Instant): GroupHeld {
  const problems = draftProblems(draft, assortment.shop.groups ?? []);
  if (problems.length) return { products: 0, listings: 0, some: [], problems };
  const counts = new Map<string, number>();
  const first = new Map<string, number>();
  let listings = 0;
  for (const place of placesIn(assortment, draft, now)) {
    const { id } = assortment.rows[place]!.product;
    listings++;
    counts.set(id, (counts.get(id) ?? 0) + 1);
    if (!first.has(id)) first.set(id, place);
  }
  const picked = new Set(draft.picked);
  // What was picked by hand stands first: it is what one looks for.
  const ids = [...first.keys()].sort((a, b) => Number(picked.has(b)) - Number(picked.has(a)));
  const some = ids
    .slice(0, SHOWN)
    .map((id) =>
      productAt(assortment, first.get(id)!, counts.get(id)!, picked.has(id) ? ('picked' as const) : null),
    );
  return { products: counts.size, listings, some, problems: [] };
}

function productAt(
  assortment: Assortment,
  place: number,
  listings: number,
  byHand: GroupProduct['byHand'],
): GroupProduct {
  const full = assortment.rows[place]!;
  return {
    id: full.product.id,
    title: productTitle(full.product),
    sku: full.product.group ?? full.listing.sku,
    picture: pictureOf(full, assortment.shop),
    listings,
    byHand,
  };
}

/** Products by their ids, as those that are left out by hand are told. One that is gone is not among them. */
export function productsOf(assortment: Assortment, ids: readonly string[]): GroupProduct[] {
  return ids.slice(0, SHOWN).flatMap((id) => {
    const [place] = assortment.ofProducts([id]);
    return place === undefined || !assortment.rows[place] ? [] : [productAt(assortment, place, 0, 'left')];
  });
}

/** A group in a list. */
export interface GroupLine extends GroupRow {
  readonly line: string;
  readonly products: number;
  readonly listings: number;
  readonly problems: readonly Problem[];
}

/** All groups with what they hold. */
export const groupLines = (assortment: Assortment, now: Instant): GroupLine[] =>
  (assortment.shop.groups ?? []).map((group) => {
    const { products, listings, problems } = lookAtGroup(assortment, group, now);
    return { ...group, line: lineOf(group.filter, KINDS.listing), products, listings, problems };
  });
