import { GROUP_LIMITS, groupKey, groupsIn, isCondition, renamed } from '../../core/groups';
import { problemInWords } from '../../core/query';
import { countOf } from '../../core/units';
import { applyChange, type GroupRow, type RowChange } from '../../store';
import { nowOf, type Work } from '../context/work';
import { toldDiffers } from '../editing/presets';
import { queueChanges } from '../listings/publish';
import { repriceAfter } from '../listings/rules';
import { type Assortment, caughtUp } from '../memory/assortment';
import { goodsProblems } from '../quoting/goods';
import { isOnBench } from '../quoting/listing-standing';
import { follows } from '../quoting/offer';
import { marketOf, type Shop } from '../quoting/worth';
import { draftProblems, type GroupDraft, withDraft } from './look';
import { pricesGoByGroups, usesOf } from './uses';

export type SavedGroup =
  | { readonly ok: true; readonly id: string; readonly repriced: number; readonly told: number }
  | { readonly ok: false; readonly reason: string };

const no = (reason: string): SavedGroup => ({ ok: false, reason });

/** Why a group cannot be kept as it is written; null where it can. */
function refusal(draft: GroupDraft, shop: Shop): string | null {
  const name = draft.name.trim();
  const groups = shop.groups ?? [];
  if (!name) return 'Give the group a name.';
  if ([...name].length > GROUP_LIMITS.name) return `A name has at most ${GROUP_LIMITS.name} characters.`;
  if (/["()]/.test(name)) return 'A name has no quotation marks and no brackets: it is searched by.';
  if (groups.some((g) => g.id !== draft.id && groupKey(g.name) === groupKey(name)))
    return `There is a group “${name}” already.`;
  if (draft.id === null && groups.length >= GROUP_LIMITS.groups)
    return `A shop has at most ${GROUP_LIMITS.groups} groups.`;
  if (draft.picked.length + draft.left.length > GROUP_LIMITS.byHand)
    return `At most ${GROUP_LIMITS.byHand} products are picked or left out by hand.`;
  if (!isCondition(draft.filter)) return 'The condition of the group cannot be read.';
  const [problem] = draftProblems({ ...draft, name }, groups);
  if (problem) return problemInWords(problem);
  return null;
}

/** A shop with a group under another name wherever it is asked for: the rows that change. */
function renaming(shop: Shop, from: string, to: string): RowChange[] {
  if (from === to) return [];
  const has = (condition: GroupRow['filter']) =>
    groupsIn(condition).some((n) => groupKey(n) === groupKey(from));
  const rows: RowChange[] = [];
  for (const { id, filter } of shop.plans)
    if (has(filter)) rows.push({ table: 'plans', id, set: { filter: renamed(filter, from, to) } });
  for (const { id, name, filter } of shop.groups ?? [])
    if (name !== from && has(filter))
      rows.push({ table: 'groups', id, set: { filter: renamed(filter, from, to) } });
  for (const c of shop.connections.values()) {
    if (c.role !== 'marketplace') continue;
    const { presets, keptOff } = c;
    const set = {
      ...(presets?.some((p) => has(p.filter)) && {
        presets: presets.map((p) => ({ ...p, filter: renamed(p.filter, from, to) })),
      }),
      ...(keptOff?.some(has) && { keptOff: keptOff.map((one) => renamed(one, from, to)) }),
    };
    if (Object.keys(set).length) rows.push({ table: 'connections', id: c.id, set });
  }
  return rows;
}

/** Why what goes by a group could not go by it as it would be; null where all can. */
function brokenUse(shop: Shop, before: GroupRow, draft: GroupDraft, to: string): string | null {
  const after: Shop = { ...shop, groups: withDraft(shop.groups ?? [], { ...draft, name: to }) };
  const now = (condition: GroupRow['filter']) => goodsProblems(renamed(condition, before.name, to), after)[0];
  for (const plan of shop.plans) {
    const problem = goodsProblems(plan.filter, shop).length ? null : now(plan.filter);
    if (problem) return `Price plan “${plan.name}” goes by it. ${problem.reason}`;
  }
  for (const c of shop.connections.values()) {
    if (c.role !== 'marketplace') continue;
    for (const preset of c.presets ?? []) {
      const problem = now(preset.filter);
      if (problem) return `Preset “${preset.name}” for ${c.name} goes by it. ${problem.reason}`;
    }
    for (const one of c.keptOff ?? []) {
      const problem = now(one);
      if (problem) return `What is not sold on ${c.name} goes by it. ${problem.reason}`;
    }
  }
  return null;
}

/** The listings of which their marketplace is told something else in one shop than in another. */
function toldIn(assortment: Assortment, before: Shop, after: Shop): { onSale: string[]; approved: string[] } {
  const onSale: string[] = [];
  const approved: string[] = [];
  for (const [, full] of assortment.all()) {
    const { id, marketplace, approvedAt } = full.listing;
    const [was, is] = [marketOf(before, marketplace), marketOf(after, marketplace)];
    if (!was || !is || !(was.presets ?? []).some((p) => groupsIn(p.filter).length)) continue;
    if (!toldDiffers(full, [was, before], [is, after])) continue;
    if (follows(full.listing)) onSale.push(id);
    else if (isOnBench(full.listing) && approvedAt !== null) approved.push(id);
  }
  return { onSale, approved };
}

/** Keeps a group, new or changed, as one change; prices and texts that go by it follow, and its name wherever it is used. */
export async function saveGroup(work: Work, draft: GroupDraft): Promise<SavedGroup> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async (): Promise<SavedGroup> => {
    const assortment = await caughtUp(work);
    const before = assortment.shop;
    const wrong = refusal(draft, before);
    if (wrong !== null) return no(wrong);
    const name = draft.name.trim();
    const known = draft.id === null ? null : (before.groups?.find((g) => g.id === draft.id) ?? null);
    if (draft.id !== null && !known) return no('This group is not there any more.');
    const broken = known && brokenUse(before, known, draft, name);
    if (broken) return no(broken);
    const id = draft.id ?? work.newId();
    const set = {
      ...{ name, filter: draft.filter, at: work.clock() },
      picked: [...new Set(draft.picked)],
      left: [...new Set(draft.left)],
    };
    const says = known ? `Group “${name}” changed` : `Group “${name}” made`;
    const row: RowChange = known
      ? { table: 'groups', id, set, says }
      : { table: 'groups', add: { id, ...set } satisfies GroupRow, says };
    return {
      ok: true,
      id,
      ...(await follow(work, [row, ...(known ? renaming(before, known.name, name) : [])], says)),
    };
  });
}

/** Writes a change of groups, and lets prices and texts follow. Runs inside the caller's transaction. */
async function follow(work: Work, rows: readonly RowChange[], says: string) {
  const { db } = work;
  const before = (await caughtUp(work)).shop;
  await applyChange(db, { by: 'person', name: says, undoable: true }, rows, nowOf(work));
  const assortment = await caughtUp(work);
  const { onSale, approved } = toldIn(assortment, before, assortment.shop);
  const fallen = approved.map(
    (id): RowChange => ({ table: 'listings', id, set: { approvedAt: null }, says }),
  );
  if (fallen.length)
    await applyChange(
      db,
      { by: 'rule', name: `${countOf(fallen.length, 'approval')} fell away: ${says}` },
      fallen,
      nowOf(work),
    );
  const repriced = pricesGoByGroups(assortment.shop) ? await repriceAfter(work, null, says) : 0;
  const told = onSale.length ? (await queueChanges(work, onSale)).sent : 0;
  return { repriced, told };
}

/** Takes a group away; refused while something goes by it. */
export async function dropGroup(
  work: Work,
  id: string,
): Promise<{ readonly ok: true } | { readonly ok: false; readonly reason: string }> {
  const { db } = work;
  return db.transaction('rw', db.shopTables, async () => {
    const { shop } = await caughtUp(work);
    const group = shop.groups?.find((g) => g.id === id);
    if (!group) return { ok: false, reason: 'This group is not there any more.' };
    const uses = usesOf(shop, await db.feeds.toArray(), group);
    if (uses.length)
      return {
        ok: false,
        reason: `“${group.name}” is used by ${uses.map((u) => `${u.is === 'kept off' ? 'what is not sold on' : u.is} “${u.name}”`).join(', ')}. Take it out there first.`,
      };
    await applyChange(
      db,
      { by: 'person', name: `Group “${group.name}” removed`, undoable: true },
      [{ table: 'groups', remove: id }],
      nowOf(work),
    );
    return { ok: true };
  });
}

/** Picks the products of some listings into a group by hand, or leaves them out, as one change. */
export async function pickListings(
  work: Work,
  id: string,
  listings: readonly string[],
  into: 'picked' | 'left',
): Promise<SavedGroup> {
  const assortment = await caughtUp(work);
  const group = assortment.shop.groups?.find((g) => g.id === id);
  if (!group) return no('This group is not there any more.');
  const products = new Set(listings.flatMap((one) => assortment.get(one)?.product.id ?? []));
  const other = into === 'picked' ? 'left' : 'picked';
  return saveGroup(work, {
    ...group,
    [into]: [...new Set([...group[into], ...products])],
    [other]: group[other].filter((one) => !products.has(one)),
  });
}
