import { groupKey, groupsIn } from '../../core/groups';
import type { Condition } from '../../core/query';
import type { FeedRow, PlanRow } from '../../store';
import type { Shop } from '../quoting/worth';

/** What goes by a group. */
export interface GroupUse {
  readonly is: 'plan' | 'preset' | 'kept off' | 'feed' | 'group';
  readonly name: string;
  /** The marketplace of a preset, a feed, or of what is kept off. */
  readonly on: string | null;
}

const names = (condition: Condition, key: string): boolean =>
  groupsIn(condition).some((name) => groupKey(name) === key);

/** What goes by a group of this name, straight away. */
export function usesOf(
  shop: Pick<Shop, 'plans' | 'connections' | 'groups'>,
  feeds: readonly Pick<FeedRow, 'name' | 'group' | 'market'>[],
  { id, name }: { readonly id: string; readonly name: string },
): GroupUse[] {
  const key = groupKey(name);
  const uses: GroupUse[] = [];
  const say = (is: GroupUse['is'], of: string, on: string | null = null) => uses.push({ is, name: of, on });
  for (const plan of shop.plans) if (names(plan.filter, key)) say('plan', plan.name);
  for (const c of shop.connections.values()) {
    if (c.role !== 'marketplace') continue;
    for (const preset of c.presets ?? []) if (names(preset.filter, key)) say('preset', preset.name, c.name);
    if (c.keptOff?.some((one) => names(one, key))) say('kept off', c.name, c.name);
  }
  for (const feed of feeds)
    if (feed.group === id) say('feed', feed.name, shop.connections.get(feed.market)?.name ?? null);
  for (const group of shop.groups ?? [])
    if (group.id !== id && names(group.filter, key)) say('group', group.name);
  return uses;
}

/** Whether some price plan or goods that are kept off go by groups. */
export const pricesGoByGroups = (shop: Pick<Shop, 'plans' | 'connections'>): boolean =>
  shop.plans.some((plan: PlanRow) => groupsIn(plan.filter).length > 0) ||
  [...shop.connections.values()].some(
    (c) => c.role === 'marketplace' && c.keptOff?.some((one) => groupsIn(one).length > 0),
  );
